"""How mouths are chosen, in an animator's terms; some stretches may differ from the rest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from functools import cached_property, lru_cache
from typing import Any

import numpy as np

from buccaphon.arrays import Doubles
from buccaphon.errors import RateError
from buccaphon.mouths.grid import Grid, HeldRange
from buccaphon.setting import require_valid_settings, setting, settings_of
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate, Span

DEFAULT_LEAD = 1 / 24  # seconds; with it each sound is made as early as it was found to be
LONGEST_HOLD = 12  # frames
HOLDS = (
    (1, N_("On ones")),
    (2, N_("On twos")),
    (3, N_("On threes")),
    (4, N_("On fours")),
)  # frames, and how it is called
_WIDEST = 2.0  # of twice the default, jaw and lips meet their own limits
_DETAILED_CHANGES = 6.0  # more changes per second where every sound is shown
_EASE = 0.1  # seconds before and after the edge of a range over which its opening is blended in


@dataclass(frozen=True, slots=True)
class MouthSettings:
    """How mouths are chosen. Times are seconds, shares 0..1; `settings_of` has the range of each."""

    hold: int = setting(
        1,
        N_("Hold"),
        N_("Minimum number of frames each drawing is held"),
        least=1,
        most=LONGEST_HOLD,
        choices=HOLDS,
        words=N_("drawings exposure on twos ones"),
    )
    lead: float = setting(
        DEFAULT_LEAD,
        N_("Lead"),
        N_("How many frames mouths come before the sound"),
        least=-1.0,
        most=1.0,
        in_frames=True,
        unit="frames",
        step=0.5,
        decimals=1,
        words=N_("anticipation early offset ahead delay sync"),
    )
    shortest: float = setting(
        1 / 12,
        N_("Shortest"),
        N_("Shortest time a mouth is shown; contacts may be shorter"),
        least=0.0,
        most=1.0,
        in_frames=True,
        unit="frames",
        step=0.5,
        decimals=1,
        words=N_("minimum duration time"),
    )
    most_changes: float = setting(
        8.0,
        N_("Most changes"),
        N_("The eye cannot read more changes than this"),
        least=1.0,
        most=30.0,
        unit=N_("per s"),
        step=0.5,
        decimals=1,
        words=N_("maximum rate busy mouth changes per second"),
    )
    pause: float = setting(
        0.2,
        N_("Hold over pauses"),
        N_("Shorter pauses hold the last mouth"),
        least=0.0,
        most=5.0,
        scale=1000,
        unit="ms",
        step=10,
        words=N_("silence gap rest"),
    )
    settle: float = setting(
        1 / 12,
        N_("Come to rest over"),
        N_("In-between mouth on the way to rest; 0 for none"),
        least=0.0,
        most=1.0,
        in_frames=True,
        unit="frames",
        step=0.5,
        decimals=1,
        words=N_("settle ease close end"),
    )
    opening: float = setting(
        1.0,
        N_("Opening"),
        N_("How wide jaw and lips open in cut-outs and models; drawings and contacts do not change"),
        least=0.0,
        most=_WIDEST,
        scale=100,
        unit="%",
        step=5,
        words=N_("exaggerate jaw strength amount intensity scale"),
    )
    by_loudness: float = setting(
        0.5,
        N_("Wider when louder"),
        N_("How much wider the mouth opens when it is louder; 0 ignores loudness"),
        least=0.0,
        most=_WIDEST,
        scale=100,
        unit="%",
        step=5,
        words=N_("exaggerate amplitude loudness"),
    )
    by_stress: float = setting(
        0.0,
        N_("Wider on stress"),
        N_("How much wider stressed vowels open, and unstressed ones less; 100 % means 10 %"),
        least=0.0,
        most=_WIDEST,
        scale=100,
        unit="%",
        step=5,
        words=N_("emphasis accent"),
    )
    detail: float = setting(
        0.0,
        N_("Detail"),
        N_("How many of the sounds are shown"),
        least=0.0,
        most=1.0,
        scale=100,
        unit="%",
        ends=(N_("Main sounds"), N_("Every sound")),
        words=N_("simplify simple busy quality"),
    )
    skip_quick_sounds: bool = setting(
        True,
        N_("Skip quick tongue sounds"),
        N_("t d n l s z k g between two vowels may be left out"),
        words=N_("swallow consonants reduce"),
    )

    def __post_init__(self) -> None:
        if not 1 <= self.hold <= LONGEST_HOLD:
            raise RateError(
                _("hold of {hold}", hold=self.hold),
                _("a drawing is held for 1 to {most} frames", most=LONGEST_HOLD),
                _("Try 1, 2 or 3"),
            )
        require_valid_settings(self)

    @property
    def seen_at_least(self) -> float:
        """Seconds that a mouth is seen at least: half as long where every sound is shown."""
        return self.shortest * (1 - self.detail / 2)

    @property
    def ceiling(self) -> float:
        """Changes a second of speech: more where every sound is shown."""
        return self.most_changes + _DETAILED_CHANGES * self.detail


DEFAULT_SETTINGS = MouthSettings()
_OF_POSE = ("opening", "by_loudness", "by_stress")  # what no mouth is chosen by


@dataclass(frozen=True, slots=True)
class SettingsChange:
    """What differs from other settings; None is the same."""

    hold: int | None = None
    lead: float | None = None
    shortest: float | None = None
    most_changes: float | None = None
    pause: float | None = None
    settle: float | None = None
    detail: float | None = None
    skip_quick_sounds: bool | None = None
    opening: float | None = None
    by_loudness: float | None = None
    by_stress: float | None = None

    @property
    def told(self) -> dict[str, Any]:
        """The settings that differ, by name."""
        every = {each.name: getattr(self, each.name) for each in fields(self)}
        return {name: value for name, value in every.items() if value is not None}

    @property
    def says(self) -> str:
        """In words: every setting that differs."""
        known = settings_of(MouthSettings)
        told = ((known[name].name, known[name].text(value)) for name, value in self.told.items())
        return ", ".join(f"{name.lower()}: {text[:1].lower()}{text[1:]}" for name, text in told)

    def within_ranges(self) -> SettingsChange:
        """Every number brought to the nearest in its range."""
        known = settings_of(MouthSettings)
        kept: dict[str, Any] = {
            name: known[name].within(value) if known[name].is_number else value for name, value in self.told.items()
        }
        return SettingsChange(**kept)

    def over(self, other: SettingsChange) -> SettingsChange:
        """Both, where this one counts first."""
        return SettingsChange(**(other.told | self.told))

    def on(self, settings: MouthSettings) -> MouthSettings:
        """Settings with what differs."""
        return replace(settings, **self.told)


@dataclass(frozen=True, slots=True)
class SettingsRange:
    """What differs in one stretch of a recording."""

    span: Span
    change: SettingsChange


@dataclass(frozen=True)
class SettingsTrack:
    """The settings of a whole recording. here: ranges that differ, in order, not overlapping."""

    everywhere: MouthSettings = DEFAULT_SETTINGS
    here: tuple[SettingsRange, ...] = ()

    @cached_property
    def of_choosing(self) -> SettingsTrack:
        """As far as it tells which mouth is chosen: how wide one opens does not."""
        here = (replace(part, change=replace(part.change, **dict.fromkeys(_OF_POSE))) for part in self.here)
        usual = replace(self.everywhere, **{name: getattr(DEFAULT_SETTINGS, name) for name in _OF_POSE})
        return SettingsTrack(usual, tuple(part for part in here if part.change.told))

    @cached_property
    def _of_stretches(self) -> tuple[tuple[float, float, MouthSettings], ...]:
        return tuple((part.span.start, part.span.end, part.change.on(self.everywhere)) for part in self.here)

    @property
    def all(self) -> tuple[MouthSettings, ...]:
        return (self.everywhere, *(settings for _, _, settings in self._of_stretches))

    def at(self, seconds: float) -> MouthSettings:
        if not self.here:
            return self.everywhere
        for start, end, settings in self._of_stretches:
            if start <= seconds < end:
                return settings
        return self.everywhere

    def along(self, name: str, times: Doubles) -> Doubles:
        """(frames,) a setting that is a number, at some times; at the edges of a stretch it goes over gently."""
        usual = float(getattr(self.everywhere, name))
        values = np.full(len(times), usual)
        for start, end, settings in self._of_stretches:
            more = float(getattr(settings, name)) - usual
            if more:
                values += more * (_risen(times - start) - _risen(times - end))
        return values

    @cached_property
    def longest_pause(self) -> float:
        """Seconds; a longer pause comes to rest wherever it is."""
        return max(settings.pause for settings in self.all)

    @cached_property
    def longest_way_to_rest(self) -> float:
        """Seconds of a pause in which the mouth may still be on its way."""
        return max(settings.settle + settings.seen_at_least for settings in self.all)

    @cached_property
    def most_lead(self) -> float:
        """Seconds that a mouth comes before its sound at most, wherever it is."""
        return max(settings.lead for settings in self.all)

    @cached_property
    def least_lead(self) -> float:
        """And at least."""
        return min(settings.lead for settings in self.all)

    def grid(self, frames: int, rate: FrameRate) -> Grid:
        """On which frames drawings may change."""
        return _grid_of(frames, self.everywhere.hold, tuple(_held_ranges(self.here, frames, rate)))


@lru_cache(maxsize=8)
def _grid_of(frames: int, hold: int, ranges: tuple[HeldRange, ...]) -> Grid:
    """Made once for all edits of a recording."""
    return Grid.of(frames, hold, ranges)


def _risen(away: Doubles) -> Doubles:
    """0 long before an edge, 1 long after it. away: seconds from it."""
    return np.asarray(0.5 + 0.5 * np.sin(np.pi / 2 * np.clip(away / _EASE, -1, 1)))


def _held_ranges(here: Sequence[SettingsRange], frames: int, rate: FrameRate) -> list[HeldRange]:
    """Those stretches that are on another hold, in frames."""
    found: list[HeldRange] = []
    for part in here:
        first, end = max(rate.nearest(part.span.start), 0), min(rate.nearest(part.span.end), frames)
        if part.change.hold is not None and end > first:
            found.append(HeldRange(first, end, part.change.hold))
    return found


DEFAULT_TRACK = SettingsTrack()
