"""Everything that a project file keeps, as frozen records."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import lru_cache
from pathlib import Path
from typing import Any

from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS, LoudnessSettings
from buccaphon.audio.recording import Channel, Listen
from buccaphon.formats.listing import DEFAULT_LIST, ExportList
from buccaphon.kits.kit import Kit
from buccaphon.motion.followers import Follower
from buccaphon.motion.hand import HandCurve
from buccaphon.motion.mixes import Mix
from buccaphon.motion.steps import AnyStep
from buccaphon.mouths.chart import Chart, ChartDocument
from buccaphon.mouths.chart_file import find_chart, shipped_charts
from buccaphon.mouths.laying import Blank, Painted
from buccaphon.mouths.settings import DEFAULT_SETTINGS, MouthSettings, SettingsChange, SettingsRange, SettingsTrack
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Note, Score
from buccaphon.setting import setting
from buccaphon.speech.languages import ENGLISH
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon
from buccaphon.texts import N_, _
from buccaphon.timing import FURTHEST, FrameRate, Span

DEFAULT_RATE = FrameRate(Fraction(24))
DEFAULT_CHART = "Ten"

# What values can be, for whoever sets them and for the file.
FIRST_FRAMES = (-100_000, 1_000_000)  # numbers of a scene's first frame
LONGEST_SCENE = 500_000  # frames
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
class Take:
    """One recording of the line, and all that was found and mended on it. Times are seconds of the file.

    digest: SHA-256 of the file, to find it again; '' when not known yet. channel: which of its channels is listened to.
    offset: where its first used moment lies on the scene's timeline, in seconds. trim_in, trim_out: the part that is used;
    None is the end. not_speech: music, horns, other voices: left out of loudness and alignment. score: None until aligned.
    aligned_script: the text that the score was made from. pins, painted: corrections by hand. blanks: stretches with
    no automatic mouths. without_word: pins whose word was removed. mouth_ranges: ranges with mouth settings of their own, in
    order, not overlapping. ignored: issues not to be listed again. loudness_settings: from loudness to motion. curves: drawn
    by hand, one per channel. unplaced: corrections from another take that could not be placed in this one.
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
    unknown: dict[str, Any] = field(default_factory=dict)

    @property
    def title(self) -> str:
        return self.name or self.path.stem.replace("_", " ")

    def used(self, duration: float) -> Span:
        """The part between the trims, for a file of that duration."""
        end = duration if self.trim_out is None else min(self.trim_out, duration)
        return Span(min(self.trim_in, end), end)


@dataclass(frozen=True, slots=True)
class State:
    """takes: the recordings; `shown` is the one that is seen, heard and drives the mouth.

    mouth_settings: of the whole line. lexicon: pronunciations of this project. charts: the user's own, whole or half done;
    chart: the name of the one in use, of these or of those that ship. kits: the characters; kit: the name of the one in the
    mirror, '' for Marigold drawn by poses. mixes: channels of the user's own. followers: channels that others drive. steps:
    the clean-up, in its order. exports: what is written for the host. unknown: as of a take.
    """

    takes: tuple[Take, ...] = ()
    shown: int = 0
    script: str = ""
    language: str = ENGLISH
    lexicon: Lexicon = NO_ENTRIES
    rate: FrameRate = setting(
        DEFAULT_RATE,
        N_("Frame rate"),
        N_("Frame rate of your scene. Changing it never shifts the sound."),
        is_text=True,
        suggestions=("12", "23.976", "24", "25", "29.97", "30", "48", "50", "59.94", "60"),
        unit="fps",
        words=N_("fps frames per second speed"),
    )
    start_frame: int = setting(
        0,
        N_("First frame"),
        N_("The number of the scene's first frame"),
        change=N_("Change the first frame"),
        words=N_("start frame number offset"),
        least=FIRST_FRAMES[0],
        most=FIRST_FRAMES[1],
    )
    length: int | None = setting(
        None,
        N_("Length"),
        N_(
            "Frames of the scene. What lies after the sound holds its last mouth; what lies after the scene is not exported."
        ),
        change=N_("Change the length of the scene"),
        words=N_("duration frames hold at the end last frame longer shorter"),
        least=1,
        most=LONGEST_SCENE,
        none=N_("that of the sound"),
        unit="frames",
    )
    chart: str = DEFAULT_CHART
    charts: tuple[ChartDocument, ...] = ()
    kits: tuple[Kit, ...] = ()
    kit: str = ""
    mouth_settings: MouthSettings = DEFAULT_SETTINGS
    mixes: tuple[Mix, ...] = ()
    followers: tuple[Follower, ...] = ()
    steps: tuple[AnyStep, ...] = ()
    exports: ExportList = DEFAULT_LIST
    unknown: dict[str, Any] = field(default_factory=dict)

    @property
    def take(self) -> Take | None:
        """The take that is shown."""
        return self.takes[self.shown] if self.takes else None

    @property
    def score(self) -> Score | None:
        return self.take.score if self.take else None

    @property
    def pins(self) -> tuple[BoundaryPin, ...]:
        return self.take.pins if self.take else ()

    @property
    def painted(self) -> tuple[Painted, ...]:
        return self.take.painted if self.take else ()

    @property
    def blanks(self) -> tuple[Blank, ...]:
        return self.take.blanks if self.take else ()

    def curve_over(self, channel: str) -> HandCurve | None:
        """What a hand has drawn over a channel of the shown take."""
        curves = self.take.curves if self.take else ()
        return next((curve for curve in curves if curve.channel == channel), None)

    @property
    def settings_track(self) -> SettingsTrack:
        """How mouths are chosen, everywhere and in the stretches of the shown take that differ."""
        return SettingsTrack(self.mouth_settings, self.take.mouth_ranges if self.take else ())

    @property
    def chart_in_use(self) -> Chart:
        """The project's own chart of that name as far as it goes, or one that ships."""
        return chart_of(self.chart, self.charts)

    @property
    def kit_in_use(self) -> Kit | None:
        return next((kit for kit in self.kits if kit.name == self.kit), None)

    @property
    def needs_aligning(self) -> bool:
        return self.take is not None and self.script.strip() != "" and self.script != self.take.aligned_script

    @property
    def was_emptied(self) -> bool:
        """Whether the words are still timed, but gone from the script."""
        return self.take is not None and self.take.aligned_script.strip() != "" and not self.script.strip()

    @property
    def is_in_step(self) -> bool:
        """Whether the script is the one that was aligned, so that a word's number is the same in both."""
        return self.take is not None and not self.needs_aligning and not self.was_emptied

    @property
    def first_number(self) -> int:
        """The scene's number for frame 0 of the shown take's file."""
        shift = self.rate.nearest(self.take.offset - self.take.trim_in) if self.take else 0
        return self.start_frame + shift

    def is_but_timed_anew(self, before: State) -> bool:
        """Whether it differs in nothing but when the words and sounds of its take are said, the same of them put there by
        hand."""
        take, was = self.take, before.take
        if take is None or was is None or [pin.boundary for pin in take.pins] != [pin.boundary for pin in was.pins]:
            return False
        return before == self.with_take(replace(take, score=was.score, pins=was.pins))

    def with_take(self, take: Take) -> State:
        """The state with another take in the place of the shown one."""
        return self.with_takes(*self.takes[: self.shown], take, *self.takes[self.shown + 1 :])

    def with_takes(self, *takes: Take, shown: int | None = None) -> State:
        return replace(self, takes=takes, shown=self.shown if shown is None else shown)


@lru_cache(maxsize=16)
def chart_of(name: str, own: tuple[ChartDocument, ...]) -> Chart:
    """The chart of a name: among one's own, which may be half done, or those that ship. Raises ChartError."""
    for document in own:
        if document.name == name:
            return document.as_far_as_it_goes(shipped_charts()[DEFAULT_CHART])
    return find_chart(name)
