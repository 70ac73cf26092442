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
from buccaphon.timing import FrameRate, Span

DEFAULT_LEAD = 1 / 24  # seconds; with it each sound is made as early as it was found to be
LONGEST_HOLD = 12  # frames
_DETAILED_CHANGES = 6.0  # more changes a second where every sound is shown
HOLD_NAMES = {1: "ones", 2: "twos", 3: "threes", 4: "fours"}
LONGEST_LEAD = 1.0  # seconds
LONGEST_SHORTEST = 1.0  # seconds
LONGEST_PAUSE, LONGEST_SETTLE = 5.0, 1.0  # seconds
WIDEST = 2.0  # times the usual
_EASE = 0.1  # seconds before and after the edge of a stretch over which how wide it opens goes over
CHANGES = (1.0, 30.0)  # a second, at least and at most


@dataclass(frozen=True, slots=True)
class MouthSettings:
    """hold: frames that every drawing stays at least. lead: seconds that mouths come before the sound. shortest: seconds that
    a mouth is seen at least, but for a contact. most_changes: of the mouth a second of speech. pause: seconds; shorter pauses
    hold the last mouth. settle: seconds of a mouth between on the way to rest, 0 for none. detail: 0 shows what reads, 1
    every sound. skip_quick_sounds: whether quick sounds of the tongue may be left out. opening: how wide the mouth opens.
    by_loudness: how much wider where it is louder, 0 for form alone, 1 for .04 a dB. by_stress: how much wider stressed
    vowels open, and weak ones less: 0 for alike, 1 for a tenth."""

    hold: int = 1
    lead: float = DEFAULT_LEAD
    shortest: float = 1 / 12
    most_changes: float = 8.0
    pause: float = 0.2
    settle: float = 1 / 12
    detail: float = 0.0
    skip_quick_sounds: bool = True
    opening: float = 1.0
    by_loudness: float = 0.5
    by_stress: float = 0.0

    def __post_init__(self) -> None:
        if not 1 <= self.hold <= LONGEST_HOLD:
            raise RateError(
                f"hold of {self.hold}", f"a drawing is held for 1 to {LONGEST_HOLD} frames", "Try 1, 2 or 3"
            )
        for name, (least, most) in RANGES.items():
            if not least <= getattr(self, name) <= most:  # what is no number is not within either
                raise ValueError(f"{name} is {str(getattr(self, name))[:20]}, but goes from {least:g} to {most:g}")

    @property
    def seen_at_least(self) -> float:
        """Seconds that a mouth is seen at least: half as long where every sound is shown."""
        return self.shortest * (1 - self.detail / 2)

    @property
    def ceiling(self) -> float:
        """Changes a second of speech: more where every sound is shown."""
        return self.most_changes + _DETAILED_CHANGES * self.detail


RANGES: dict[str, tuple[float, float]] = {
    "hold": (1, LONGEST_HOLD),
    "lead": (-LONGEST_LEAD, LONGEST_LEAD),
    "shortest": (0.0, LONGEST_SHORTEST),
    "most_changes": CHANGES,
    "pause": (0.0, LONGEST_PAUSE),
    "settle": (0.0, LONGEST_SETTLE),
    "detail": (0.0, 1.0),
    "opening": (0.0, WIDEST),
    "by_loudness": (0.0, WIDEST),
    "by_stress": (0.0, WIDEST),
}
"""From what to what each number of a manner goes."""

DEFAULT_SETTINGS = MouthSettings()
_OF_POSE = ("opening", "by_loudness", "by_stress")  # what no mouth is chosen by


@dataclass(frozen=True, slots=True)
class SettingsChange:
    """What differs from another manner; None is the same."""

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
        """In words, as an animator would say it."""
        told = self.told
        parts = []
        if "hold" in told:
            parts.append(f"on {HOLD_NAMES.get(told['hold'], str(told['hold']))}")
        if "lead" in told:
            parts.append(f"{1000 * told['lead']:.0f} ms before the sound")
        if "shortest" in told:
            parts.append(f"shown for at least {1000 * told['shortest']:.0f} ms")
        if "most_changes" in told:
            parts.append(f"at most {told['most_changes']:g} changes per second")
        if "pause" in told:
            parts.append(f"held over pauses under {1000 * told['pause']:.0f} ms")
        if "settle" in told:
            parts.append(
                f"settles over {1000 * told['settle']:.0f} ms" if told["settle"] else "no in-between mouth before rest"
            )
        if "detail" in told:
            parts.append(f"{told['detail']:.0%} of every sound" if told["detail"] else "main sounds only")
        if "skip_quick_sounds" in told:
            parts.append("quick tongue sounds skipped" if told["skip_quick_sounds"] else "quick tongue sounds shown")
        if "opening" in told:
            parts.append(f"opens {told['opening']:.0%}")
        if "by_loudness" in told:
            parts.append(
                f"{told['by_loudness']:.0%} by loudness" if told["by_loudness"] else "same opening, loud or soft"
            )
        if "by_stress" in told:
            parts.append(
                f"{told['by_stress']:.0%} by stress" if told["by_stress"] else "same opening, stressed or unstressed"
            )
        return ", ".join(parts)

    def within_ranges(self) -> SettingsChange:
        """Every number brought to the nearest that can be."""
        kept = self.told
        for name, (least, most) in RANGES.items():
            if name in kept:
                kept[name] = min(max(kept[name], least), most)
        return SettingsChange(**kept)

    def over(self, other: SettingsChange) -> SettingsChange:
        """Both, where this one counts first."""
        return SettingsChange(**(other.told | self.told))

    def on(self, settings: MouthSettings) -> MouthSettings:
        """A manner with what differs."""
        return replace(settings, **self.told)


@dataclass(frozen=True, slots=True)
class SettingsRange:
    """What differs in one stretch of a recording."""

    span: Span
    change: SettingsChange


@dataclass(frozen=True)
class SettingsTrack:
    """The manner of a whole recording. here: stretches that differ, in order, not overlapping."""

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
