"""Everything that a project file keeps, as frozen records."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields, replace
from fractions import Fraction
from functools import lru_cache
from typing import Any

from buccaphon.formats.listing import DEFAULT_LIST, ExportList
from buccaphon.kits.kit import Kit
from buccaphon.motion.followers import Follower
from buccaphon.motion.hand import HandCurve
from buccaphon.motion.mixes import Mix
from buccaphon.motion.steps import AnyStep
from buccaphon.mouths.chart import Chart, ChartDocument
from buccaphon.mouths.chart_file import find_chart, shipped_charts
from buccaphon.mouths.laying import Blank, Painted
from buccaphon.mouths.settings import DEFAULT_SETTINGS, MouthSettings, SettingsTrack
from buccaphon.project.standing import Standing
from buccaphon.project.take import BoundaryPin, Take
from buccaphon.score.records import Score
from buccaphon.setting import setting
from buccaphon.speech.languages import ENGLISH
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon
from buccaphon.texts import N_
from buccaphon.timing import FrameRate

DEFAULT_RATE = FrameRate(Fraction(24))
DEFAULT_CHART = "Ten"

# What values can be, for whoever sets them and for the file.
FIRST_FRAMES = (-100_000, 1_000_000)  # numbers of a scene's first frame
LONGEST_SCENE = 500_000  # frames
MOST_LINES, MOST_ROLES = 1000, 60  # of a scene


@dataclass(frozen=True, slots=True)
class Role:
    """Somebody whose mouth moves. name: as scripts and files call it; the first one needs none. chart: the name of the one in
    use, of the scene's own or of those that ship. kit: the name of the character, '' for Marigold drawn by poses.
    mouth_settings: of all its lines. mixes: channels of the user's own. followers: channels that others drive. steps: the
    clean-up, in its order. unknown: as of a take."""

    name: str = ""
    chart: str = DEFAULT_CHART
    kit: str = ""
    mouth_settings: MouthSettings = DEFAULT_SETTINGS
    mixes: tuple[Mix, ...] = ()
    followers: tuple[Follower, ...] = ()
    steps: tuple[AnyStep, ...] = ()
    unknown: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Line:
    """Words with their recordings. takes: the recordings; `shown` is the one that is seen, heard and drives the mouth.
    role: the name of the role that says what the script gives to nobody else. heard_only: it moves no mouth: music, a bang.
    muted: not heard in the scene. on_show: the role whose mouth is seen, where several speak; None for `role`.
    key: tells it from the other lines of the scene while it is open. unknown: as of a take."""

    takes: tuple[Take, ...] = ()
    shown: int = 0
    script: str = ""
    language: str = ENGLISH
    name: str = setting("", N_("Name"), N_("What the line is called"), is_text=True, change=N_("Rename the line"))
    role: str = ""
    heard_only: bool = setting(
        False,
        N_("Heard only"),
        N_("It moves no mouth and is not aligned: music, a bang, a sound effect"),
        words=N_("music effect bang sting background"),
    )
    muted: bool = setting(False, N_("Mute the line"), N_("Leave it out when the scene is played"))
    on_show: str | None = None
    key: int = field(default=0, compare=False)
    unknown: dict[str, Any] = field(default_factory=dict)

    @property
    def take(self) -> Take | None:
        """The take that is shown."""
        return self.takes[self.shown] if self.takes else None

    @property
    def title(self) -> str:
        return self.name or (self.take.title if self.take else "")

    @property
    def role_on_show(self) -> str:
        return self.role if self.on_show is None else self.on_show

    def showing(self, role: str) -> Line:
        """The line with another role's mouth on show, and what a hand did for it."""
        if role == self.role_on_show:
            return self
        takes = tuple(take.turned(self.role_on_show, role) for take in self.takes)
        return replace(self, takes=takes, on_show=None if role == self.role else role)


@dataclass(frozen=True, slots=True)
class State:
    """A scene. lines: in the order in which people list them; there is always one. open_line: the number of the one that is
    open, from 0. roles: there is always one, too. lexicon: pronunciations of this scene. charts: the user's own, whole or
    half done. kits: the characters. exports: what is written for the host. standing: how far somebody has come. unknown: as
    of a take. What a line, or the role whose mouth is on show, has, the state gives by the same name."""

    lines: tuple[Line, ...] = (Line(),)
    open_line: int = 0
    roles: tuple[Role, ...] = (Role(),)
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
    charts: tuple[ChartDocument, ...] = ()
    kits: tuple[Kit, ...] = ()
    exports: ExportList = DEFAULT_LIST
    standing: Standing = Standing.TO_DO
    unknown: dict[str, Any] = field(default_factory=dict)

    # --- the line that is open, and the role whose mouth is on show ------------------------------------------------------

    @property
    def line(self) -> Line:
        return self.lines[self.open_line]

    @property
    def role(self) -> Role:
        return self.role_named(self.line.role_on_show)

    def role_named(self, name: str) -> Role:
        """The role of a name; the first one where there is none of it."""
        return next((role for role in self.roles if role.name == name), self.roles[0])

    @property
    def takes(self) -> tuple[Take, ...]:
        return self.line.takes

    @property
    def shown(self) -> int:
        return self.line.shown

    @property
    def script(self) -> str:
        return self.line.script

    @property
    def language(self) -> str:
        return self.line.language

    @property
    def chart(self) -> str:
        return self.role.chart

    @property
    def kit(self) -> str:
        return self.role.kit

    @property
    def mouth_settings(self) -> MouthSettings:
        return self.role.mouth_settings

    @property
    def mixes(self) -> tuple[Mix, ...]:
        return self.role.mixes

    @property
    def followers(self) -> tuple[Follower, ...]:
        return self.role.followers

    @property
    def steps(self) -> tuple[AnyStep, ...]:
        return self.role.steps

    def with_line(self, **changes: Any) -> State:
        """The state with entries of the open line changed."""
        return self.with_lines(
            *self.lines[: self.open_line], replace(self.line, **changes), *self.lines[self.open_line + 1 :]
        )

    def with_lines(self, *lines: Line, open_line: int | None = None) -> State:
        return replace(self, lines=lines, open_line=self.open_line if open_line is None else open_line)

    def with_role(self, **changes: Any) -> State:
        """The state with entries of the role on show changed."""
        here = self.role
        return replace(self, roles=tuple(replace(role, **changes) if role is here else role for role in self.roles))

    def at_line(self, number: int, role: str | None = None) -> State:
        """The same scene with another line open, and the mouth of a role on show there."""
        found = self if number == self.open_line else replace(self, open_line=number)
        if role is None or role == found.line.role_on_show:
            return found
        line = found.line.showing(role)
        return found.with_lines(*found.lines[:number], line, *found.lines[number + 1 :])

    @property
    def at_rest(self) -> State:
        """The same scene with its first line open and each line showing the role that it is of: two scenes that differ only
        in what is looked at are equal so."""
        if self.open_line == 0 and all(line.on_show is None for line in self.lines):
            return self
        return replace(self, lines=tuple(line.showing(line.role) for line in self.lines), open_line=0)

    def number_of(self, key: int) -> int | None:
        """The number of the line of a key; None once it is gone."""
        return next((number for number, line in enumerate(self.lines) if line.key == key), None)

    @property
    def is_empty(self) -> bool:
        """Whether there is no recording in any line."""
        return not any(line.takes for line in self.lines)

    @property
    def take(self) -> Take | None:
        """The take of the open line that is shown."""
        return self.line.take

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

    def with_each_take(self, change: Callable[[Take], Take]) -> State:
        """The state with all takes of all lines changed."""
        lines = (replace(line, takes=tuple(change(take) for take in line.takes)) for line in self.lines)
        return self.with_lines(*lines)

    def with_takes(self, *takes: Take, shown: int | None = None) -> State:
        return self.with_line(takes=takes, shown=self.shown if shown is None else shown)


def one_line(
    takes: tuple[Take, ...] = (), script: str = "", *, shown: int = 0, language: str = ENGLISH, **entries: Any
) -> State:
    """A scene of one line that one role says. entries: others of its role and of the scene."""
    of_role = {name: value for name, value in entries.items() if name in _ENTRIES_OF_ROLE}
    of_scene = {name: value for name, value in entries.items() if name not in of_role}
    return State((Line(takes, shown, script, language),), roles=(Role(**of_role),), **of_scene)


_ENTRIES_OF_ROLE = frozenset(each.name for each in fields(Role))


@lru_cache(maxsize=16)
def chart_of(name: str, own: tuple[ChartDocument, ...]) -> Chart:
    """The chart of a name: among one's own, which may be half done, or those that ship. Raises ChartError."""
    for document in own:
        if document.name == name:
            return document.as_far_as_it_goes(shipped_charts()[DEFAULT_CHART])
    return find_chart(name)
