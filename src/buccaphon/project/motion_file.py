"""Motion settings as a file of their own (`.buccamotion`, one JSON document): how loudness is used, the mixes, the followers
and the clean-up, to be put on another line, begun with by new projects, or named in the table of a batch."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import msgspec

from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS, LoudnessSettings
from buccaphon.errors import BuccaphonError, ChannelError
from buccaphon.files import read_text, write_whole
from buccaphon.motion.followers import Follower
from buccaphon.motion.mixes import Mix, read_mix
from buccaphon.motion.steps import AnyStep
from buccaphon.project.edits import Edit, Touched
from buccaphon.project.file.checking import require_valid
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from buccaphon.texts import N_, _

SUFFIX = ".buccamotion"
FORMAT = "buccaphon motion"
VERSION = 1


class _File(msgspec.Struct, kw_only=True):
    format: str
    version: int
    loudness_settings: LoudnessSettings = DEFAULT_LOUDNESS
    mixes: tuple[str, ...] = ()
    followers: tuple[Follower, ...] = ()
    steps: tuple[AnyStep, ...] = ()


@dataclass(frozen=True, slots=True)
class MotionSettings:
    """How a line moves, whatever is said in it."""

    loudness: LoudnessSettings = DEFAULT_LOUDNESS
    mixes: tuple[Mix, ...] = ()
    followers: tuple[Follower, ...] = ()
    steps: tuple[AnyStep, ...] = ()


@dataclass(frozen=True, slots=True)
class UseMotion(Edit):
    """Move the shown take by these settings, in the place of those that it has."""

    TITLE = N_("Use motion settings")
    TOUCHES = Touched.MOUTHS

    motion: MotionSettings

    def apply(self, state: State) -> State:
        motion = self.motion
        state = state.with_role(mixes=motion.mixes, followers=motion.followers, steps=motion.steps)
        return state.with_take(replace(state.take, loudness_settings=motion.loudness)) if state.take else state


_ANY_LINE = one_line((Take(Path("line.wav")),))


def motion_of(state: State) -> MotionSettings:
    """The settings of the shown take. Floor and ceiling are those of its recording, and stay with it."""
    loudness = state.take.loudness_settings if state.take else DEFAULT_LOUDNESS
    return MotionSettings(replace(loudness, floor=None, ceiling=None), state.mixes, state.followers, state.steps)


def motion_as_text(motion: MotionSettings) -> str:
    """As its file has it."""
    entry = _File(
        format=FORMAT,
        version=VERSION,
        loudness_settings=motion.loudness,
        mixes=tuple(mix.says for mix in motion.mixes),
        followers=motion.followers,
        steps=motion.steps,
    )
    return msgspec.json.format(msgspec.json.encode(entry), indent=1).decode() + "\n"


def parse_motion(text: str, subject: str) -> MotionSettings:
    """What the text of such a file says. subject: what it is called in messages. Raises ChannelError."""
    try:
        data: Any = msgspec.json.decode(text)
    except (msgspec.DecodeError, RecursionError):
        data = None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        reason = _("it is not a file of motion settings, or is incomplete")
        raise ChannelError(subject, reason, _("Open a {suffix} file", suffix=SUFFIX))
    if data.get("version") != VERSION:
        reason = _("its version is {version!r}, known is {known}", version=data.get("version"), known=VERSION)
        raise ChannelError(subject, reason, _("Open it with that version"))
    try:
        entry = msgspec.convert(data, _File)
        mixes = tuple(read_mix(each) for each in entry.mixes)
        motion = MotionSettings(entry.loudness_settings, mixes, entry.followers, entry.steps)
        require_valid(UseMotion(motion).apply(_ANY_LINE))
    except (ValueError, BuccaphonError) as problem:  # also msgspec's ValidationError
        reason = _("an entry is wrong ({reason})", reason=problem)
        raise ChannelError(subject, reason, _("Correct it in a text editor, or save it again")) from None
    return motion


def save_motion(motion: MotionSettings, path: Path) -> None:
    """Write motion settings into a file of their own. Raises TargetError."""
    write_whole(path, motion_as_text(motion).encode())


def open_motion(path: Path) -> MotionSettings:
    """Read motion settings from their file. Raises ChannelError."""
    return parse_motion(read_text(path, ChannelError), str(path))
