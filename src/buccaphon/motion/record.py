"""The bake as a record: what every frame shows, at the scene's rate, ready to be written."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from buccaphon.arrays import Doubles, Floats
from buccaphon.audio.steering import DrivenLevels
from buccaphon.motion.channels import Channel, Channels, Origin
from buccaphon.motion.curve import Curve
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.grid import Grid
from buccaphon.score.records import Word
from buccaphon.texts import N_
from buccaphon.timing import FrameRate

JAW = "jaw"
APERTURE = "aperture"  # the gap between the lips
WEIGHT = "weight:"  # and the mouth's name: how much of it shows
LOUDNESS_CURVES = (
    Channel("loudness", N_("Loudness"), Origin.LOUDNESS),
    Channel("loudness:mapped", N_("Loudness before the threshold"), Origin.LOUDNESS),
    Channel("loudness:raw", N_("Loudness as measured"), Origin.LOUDNESS),
)


@dataclass(frozen=True, eq=False)
class Bake:
    """What every frame shows. Frames count from 0 here; `start_frame` is added where they are read out.

    first: how many frames of the recording come before frame 0. grid: where drawings may change, of the whole recording.
    said: the words of the recording. driven: its loudness, of the whole recording; None where nobody asked for it. levels:
    the same on the frames, where it is of several recordings.
    """

    rate: FrameRate
    start_frame: int
    chart: Chart
    grid: Grid
    exposures: tuple[Exposure, ...]
    channels: Channels
    said: tuple[Word, ...] = ()
    first: int = 0
    driven: DrivenLevels | None = None
    levels: Channels | None = None

    @property
    def frames(self) -> int:
        return len(self.channels.kept[0])

    @property
    def jaw(self) -> Floats:
        """(frames,) 0..1."""
        return self.channels.curve(JAW)

    @property
    def weights(self) -> Floats:
        """(frames, mouths) 0..1, summing to 1 on every frame."""
        return self.channels.columns([f"{WEIGHT}{name}" for name in self.chart.names])

    @cached_property
    def loudness(self) -> Channels:
        """How loud it is on every frame: as it drives, before the threshold, and as it was measured."""
        driven = self.driven
        if self.levels is not None:
            return self.levels.part(self.first, self.first + self.frames) if self.first else self.levels
        if driven is None:
            return Channels((), ())
        end = self.first + self.frames
        curves = (driven.gated, driven.mapped_frames, driven.raw_frames)
        held = (np.pad(curve[self.first : end], (0, max(end - max(len(curve), self.first), 0))) for curve in curves)
        return Channels.of_arrays(LOUDNESS_CURVES, (curve[: self.frames] for curve in held))

    def find(self, ident: str) -> tuple[Channel, Curve] | None:
        """A channel with its curve, also one of loudness; None when there is none of that id."""
        return self.channels.find(ident) or self.loudness.find(ident)

    @property
    def phones(self) -> tuple[str, ...]:
        """(frames,) the sound in the middle of each frame in IPA, '' in pauses."""
        return self._heard[0]

    @property
    def words(self) -> tuple[str, ...]:
        """(frames,) the word in the middle of each frame, '' in pauses."""
        return self._heard[1]

    @cached_property
    def _heard(self) -> tuple[tuple[str, ...], tuple[str, ...]]:
        return _what_is_heard(self.said, frame_middles(self.first, self.first + self.frames, self.rate))


def trim(bake: Bake, first: int, end: int) -> Bake:
    """The frames from `first` up to `end` alone, with their numbers and seconds unchanged."""
    shown = [replace(e, start=max(e.start, first) - first, end=min(e.end, end) - first) for e in bake.exposures]
    return replace(
        bake,
        start_frame=bake.start_frame + first,
        exposures=tuple(e for e in shown if e.end > e.start),
        channels=bake.channels.part(first, end),
        first=bake.first + first,
    )


def lasting(bake: Bake, frames: int) -> Bake:
    """The first frames of it, or all of them with the last one held until there are so many."""
    if not bake.exposures or frames <= bake.frames:
        return trim(bake, 0, frames) if frames < bake.frames else bake
    last = replace(bake.exposures[-1], end=frames)
    return replace(bake, exposures=(*bake.exposures[:-1], last), channels=bake.channels.held(frames - bake.frames))


def frame_middles(first: int, end: int, rate: FrameRate) -> Doubles:
    """(end - first,) seconds of the middles of the frames from `first` up to `end`."""
    middles: Doubles = (np.arange(first, end) + 0.5) * rate.value.denominator / rate.value.numerator
    return middles


def _what_is_heard(words: Sequence[Word], middles: Doubles) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The phone and the word at each moment, '' in pauses."""
    phones = [(phone.start, phone.end, phone.symbol, word.text) for word in words for phone in word.phones]
    at = np.searchsorted([start for start, *_ in phones], middles, side="right") - 1
    heard = [
        phones[index][2:] if index >= 0 and middle < phones[index][1] else ("", "")
        for index, middle in zip(at.tolist(), middles.tolist(), strict=True)
    ]
    return tuple(symbol for symbol, _ in heard), tuple(text for _, text in heard)
