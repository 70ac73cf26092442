"""The delivery: all that a file for a host can be made of. The window, the command line and a batch make the same one."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import islice
from pathlib import Path

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.audio.recording import Recording
from buccaphon.formats.pictures import Pictures
from buccaphon.kits.kit import Kit, files_of
from buccaphon.kits.limits import MOST_ENTRIES
from buccaphon.kits.names.table import NO_NAMES, NamesTable
from buccaphon.motion.channels import Channel, Channels
from buccaphon.motion.pose_channels import POSE_CHANNELS
from buccaphon.motion.record import WEIGHT, Bake
from buccaphon.score.records import Note, Score


@dataclass(frozen=True, slots=True)
class Source:
    """The recording behind it. file: on the disk. take: what it is called there. offset: where its first used moment lies on
    the scene's timeline, in seconds."""

    file: Path
    take: str
    offset: float = 0.0


@dataclass(frozen=True, slots=True)
class Voice:
    """One of several roles, with all that can be written of it alone."""

    name: str
    of: Delivery

    @property
    def score(self) -> Score:
        return self.of.score or Score((), 0.0)


@dataclass(frozen=True, slots=True)
class Clip:
    """A line of a scene of several. name: of the line. role: who says it; '' where it is heard only. at, frames: which of the
    delivery's frames it covers, from 0. first: how many frames of its recording come before those. samples, rate: of its
    recording. is_heard: whether it is not muted."""

    name: str
    source: Source
    role: str
    at: int
    frames: int
    first: int
    samples: int
    rate: float
    is_heard: bool = True


@dataclass(frozen=True, eq=False)
class Delivery:
    """title: of the project or recording. score: its words; None while there are none. bake: of the part that is used; None
    where only times are wanted. names: what the host calls its mouths and channels. kit: the character. source, sound: what
    was recorded. pictures: paints its frames. place: where its files go, without their endings. voices: where several roles
    speak, each of them. lines: of a scene that has several."""

    title: str
    score: Score | None = None
    bake: Bake | None = None
    notes: tuple[Note, ...] = ()
    names: NamesTable = NO_NAMES
    kit: Kit | None = None
    source: Source | None = None
    sound: Recording | None = None
    pictures: Pictures | None = None
    place: Path = Path("delivery")
    voices: tuple[Voice, ...] = ()
    lines: tuple[Clip, ...] = ()

    @property
    def recorded(self) -> Source | tuple[Clip, ...] | None:
        """What was recorded, in one file or in the lines of a scene."""
        return self.source or self.lines or None

    @property
    def sources(self) -> tuple[Path, ...]:
        """The files that all of it is made from: the recording, and those of the character."""
        found = [self.source.file] if self.source is not None else []
        found += [line.source.file for line in self.lines]
        for file in files_of(self.kit) if self.kit is not None else ():
            found.append(file.path)
            if file.path.is_dir():
                found += islice(file.path.iterdir(), MOST_ENTRIES)
        return tuple(found)

    def called(self, mouth: str) -> str:
        """What a mouth that is on show is called in the host: its first name there."""
        return self.names.names_of(mouth)[0]

    def number_of(self, mouth: str) -> int:
        """The number of a mouth in the host's order, from 0 or from 1 as it counts."""
        assert self.bake is not None
        return self.names.number_of(mouth, self.bake.chart.names)

    def channels(self) -> Channels:
        """The bake's channels under the host's names: one with several names has a channel for each, those that share one add
        up in it. A channel of one's own goes by its own name, in the place of what the host calls so."""
        assert self.bake is not None
        found: dict[str, tuple[Channel, Floats]] = {}
        for channel, own in zip(self.bake.channels.of, self.bake.channels.curves, strict=True):
            is_mouth, is_pose = channel.id.startswith(WEIGHT), channel.id in POSE_CHANNELS
            if not is_mouth and not is_pose:
                found[channel.id] = (channel, own)
                continue
            for name in self.names.names_of(channel.id.removeprefix(WEIGHT) if is_mouth else channel.id):
                ident = f"{WEIGHT}{name}" if is_mouth else name
                both = np.minimum(found[ident][1] + own, channel.high).astype(np.float32) if ident in found else own
                found[ident] = (replace(channel, id=ident), both)
        return Channels.of_arrays((channel for channel, _ in found.values()), (curve for _, curve in found.values()))

    def find(self, ident: str) -> tuple[Channel, Floats] | None:
        """A channel by the host's name, or by ours where the host has none of that name."""
        assert self.bake is not None
        found = self.channels().find(ident) or self.bake.channels.find(ident)
        return (found[0], found[1].whole) if found is not None else None

    def own_channels(self) -> Channels:
        """Those of one's own alone: mixes and followers."""
        assert self.bake is not None
        of = self.bake.channels.of
        mine = [
            n for n, channel in enumerate(of) if not channel.id.startswith(WEIGHT) and channel.id not in POSE_CHANNELS
        ]
        return Channels(tuple(of[n] for n in mine), tuple(self.bake.channels.kept[n] for n in mine))
