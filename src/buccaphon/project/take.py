"""A take: one recording of a line, with all that was found and mended on it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS, LoudnessSettings
from buccaphon.audio.recording import Channel, Listen
from buccaphon.motion.hand import HandCurve
from buccaphon.mouths.laying import Blank, Painted
from buccaphon.mouths.settings import SettingsChange, SettingsRange
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Note, Score
from buccaphon.setting import setting
from buccaphon.texts import N_, _
from buccaphon.timing import FURTHEST, Span

MOST_CHANNELS = 8
_SECONDS: dict[str, Any] = {"unit": "s", "decimals": 3, "step": 0.04}


@dataclass(frozen=True, slots=True)
class BoundaryPin:
    """A boundary put in its place by hand."""

    boundary: Boundary
    seconds: float


@dataclass(frozen=True, slots=True)
class PinWithoutWord:
    """A boundary put in its place by hand whose word is no longer in the script. word: as it was typed."""

    word: str
    seconds: float


_UNPLACED = {"mouth": N_("mouth"), "note": N_("note"), "range": N_("range"), "curve": N_("curve")}


@dataclass(frozen=True, slots=True)
class UnplacedCorrection:
    """A correction from another take that could not be placed in this one. kind: mouth, note, range or curve. what: the
    mouth, the text or the channel. span: where it was, in seconds of that take. word: what was said there. painted, curve,
    change: what is placed, except for a note."""

    kind: str
    what: str
    span: Span
    word: str = ""
    painted: Painted | None = None
    curve: HandCurve | None = None
    change: SettingsChange | None = None

    @property
    def label(self) -> str:
        """What it is, for a list."""
        what = self.change.says if self.change else self.what
        return f"{_(_UNPLACED.get(self.kind, self.kind))}: {what}"


@dataclass(frozen=True, slots=True)
class IgnoredIssue:
    """A finding of the checks that somebody said to leave. kind: of the finding, as its title."""

    kind: str
    span: Span


@dataclass(frozen=True, slots=True)
class HandWork:
    """What a hand did to the mouths of one role, where several speak in a recording. Its entries are those of a take."""

    role: str
    painted: tuple[Painted, ...] = ()
    blanks: tuple[Blank, ...] = ()
    mouth_ranges: tuple[SettingsRange, ...] = ()
    ignored: tuple[IgnoredIssue, ...] = ()
    curves: tuple[HandCurve, ...] = ()
    unplaced: tuple[UnplacedCorrection, ...] = ()


_OF_A_ROLE = ("painted", "blanks", "mouth_ranges", "ignored", "curves", "unplaced")


@dataclass(frozen=True, slots=True)
class Take:
    """One recording of the line, and all that was found and mended on it. Times are seconds of the file.

    digest: SHA-256 of the file, to find it again; '' when not known yet. channel: which of its channels is listened to.
    offset: where its first used moment lies on the scene's timeline, in seconds. trim_in, trim_out: the part that is used;
    None is the end. not_speech: music, horns, other voices: left out of loudness and alignment. score: None until aligned.
    aligned_script: the text that the score was made from. pins, painted: corrections by hand. blanks: stretches with
    no automatic mouths. without_word: pins whose word was removed. mouth_ranges: ranges with mouth settings of their own, in
    order, not overlapping. ignored: issues not to be listed again. loudness_settings: from loudness to motion. curves: drawn
    by hand, one per channel. unplaced: corrections from another take that could not be placed in this one.
    others: what a hand did for roles whose mouths are not on show; what it did for the one on show stands in the take.
    unknown: entries of the project file that this version does not know, kept for the version that does."""

    path: Path
    name: str = setting("", N_("Name"), N_("What the take is called"), is_text=True, change=N_("Rename the take"))
    digest: str = ""
    channel: Channel = setting(
        Listen.MIX,
        N_("Channel"),
        N_("Which channel of the recording is heard and aligned"),
        choices=((Listen.MIX, N_("All channels")), (Listen.LOUDEST, N_("Loudest channel"))),
        change=N_("Change the channel"),
        words=N_("left right stereo mono mix"),
    )
    muted: bool = setting(False, N_("Mute"), N_("Play silently"))
    offset: float = setting(
        0.0,
        N_("Begins at"),
        N_("When the used part begins in the scene"),
        change=N_("Move the take"),
        words=N_("offset delay slip"),
        least=-FURTHEST,
        most=FURTHEST,
        **_SECONDS,
    )
    trim_in: float = setting(
        0.0,
        N_("Use from"),
        N_("Everything before this is ignored; the file is not changed"),
        change=N_("Trim the take"),
        words=N_("trim cut in point start"),
        least=0.0,
        most=FURTHEST,
        **_SECONDS,
    )
    trim_out: float | None = setting(
        None,
        N_("Use until"),
        N_("Everything after this is ignored; the file is not changed"),
        change=N_("Trim the take"),
        words=N_("trim cut out point end"),
        least=0.0,
        most=FURTHEST,
        none=N_("the end"),
        **_SECONDS,
    )
    not_speech: tuple[Span, ...] = ()
    score: Score | None = None
    aligned_script: str = ""
    pins: tuple[BoundaryPin, ...] = ()
    painted: tuple[Painted, ...] = ()
    blanks: tuple[Blank, ...] = ()
    without_word: tuple[PinWithoutWord, ...] = ()
    notes: tuple[Note, ...] = ()
    mouth_ranges: tuple[SettingsRange, ...] = ()
    ignored: tuple[IgnoredIssue, ...] = ()
    loudness_settings: LoudnessSettings = DEFAULT_LOUDNESS
    curves: tuple[HandCurve, ...] = ()
    unplaced: tuple[UnplacedCorrection, ...] = ()
    others: tuple[HandWork, ...] = ()
    unknown: dict[str, Any] = field(default_factory=dict)

    @property
    def title(self) -> str:
        return self.name or self.path.stem.replace("_", " ")

    def used(self, duration: float) -> Span:
        """The part between the trims, for a file of that duration."""
        end = duration if self.trim_out is None else min(self.trim_out, duration)
        return Span(min(self.trim_in, end), end)

    def turned(self, before: str, role: str) -> Take:
        """The take with what a hand did for another role on top. before: the role whose work is on top now."""
        if before == role:
            return self
        done = {name: getattr(self, name) for name in _OF_A_ROLE}
        kept = (HandWork(before, **done),) if any(done.values()) else ()
        wanted = next((work for work in self.others if work.role == role), HandWork(role))
        others = (*(work for work in self.others if work.role not in (before, role)), *kept)
        in_order = tuple(sorted(others, key=lambda work: work.role))
        return replace(self, others=in_order, **{name: getattr(wanted, name) for name in _OF_A_ROLE})
