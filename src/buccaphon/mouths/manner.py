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

USUAL_LEAD = 1 / 24  # seconds; with it each sound is made as early as it was found to be
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
class Manner:
    """hold: frames that every drawing stays at least. lead: seconds that mouths come before the sound. shortest: seconds that
    a mouth is seen at least, but for a contact. most_changes: of the mouth a second of speech. pause: seconds; shorter pauses
    hold the last mouth. settle: seconds of a mouth between on the way to rest, 0 for none. detail: 0 shows what reads, 1
    every sound. swallow: whether quick sounds of the tongue may be left out. opening: how wide the mouth opens, 1 as usual.
    by_loudness: how much wider where it is louder, 0 for form alone, 1 for .04 a dB. by_stress: how much wider stressed
    vowels open, and weak ones less: 0 for alike, 1 for a tenth."""

    hold: int = 1
    lead: float = USUAL_LEAD
    shortest: float = 1 / 12
    most_changes: float = 8.0
    pause: float = 0.2
    settle: float = 1 / 12
    detail: float = 0.0
    swallow: bool = True
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

USUAL_MANNER = Manner()
_OF_POSE = ("opening", "by_loudness", "by_stress")  # what no mouth is chosen by


@dataclass(frozen=True, slots=True)
class MannerChange:
    """What differs from another manner; None is the same."""

    hold: int | None = None
    lead: float | None = None
    shortest: float | None = None
    most_changes: float | None = None
    pause: float | None = None
    settle: float | None = None
    detail: float | None = None
    swallow: bool | None = None
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
            parts.append(f"seen {1000 * told['shortest']:.0f} ms at least")
        if "most_changes" in told:
            parts.append(f"at most {told['most_changes']:g} changes a second")
        if "pause" in told:
            parts.append(f"held over pauses under {1000 * told['pause']:.0f} ms")
        if "settle" in told:
            parts.append(f"settles over {1000 * told['settle']:.0f} ms" if told["settle"] else "does not settle")
        if "detail" in told:
            parts.append(f"{told['detail']:.0%} of every sound" if told["detail"] else "what reads")
        if "swallow" in told:
            parts.append("quick tongue sounds swallowed" if told["swallow"] else "quick tongue sounds shown")
        if "opening" in told:
            parts.append(f"opens {told['opening']:.0%}")
        if "by_loudness" in told:
            parts.append(
                f"{told['by_loudness']:.0%} by loudness" if told["by_loudness"] else "opens alike, loud or soft"
            )
        if "by_stress" in told:
            parts.append(f"{told['by_stress']:.0%} by stress" if told["by_stress"] else "opens alike, stressed or weak")
        return ", ".join(parts)

    def within_ranges(self) -> MannerChange:
        """Every number brought to the nearest that can be."""
        kept = self.told
        for name, (least, most) in RANGES.items():
            if name in kept:
                kept[name] = min(max(kept[name], least), most)
        return MannerChange(**kept)

    def over(self, other: MannerChange) -> MannerChange:
        """Both, where this one counts first."""
        return MannerChange(**(other.told | self.told))

    def on(self, manner: Manner) -> Manner:
        """A manner with what differs."""
        return replace(manner, **self.told)


@dataclass(frozen=True, slots=True)
class MannerHere:
    """What differs in one stretch of a recording."""

    span: Span
    change: MannerChange


@dataclass(frozen=True)
class Manners:
    """The manner of a whole recording. here: stretches that differ, in order, not overlapping."""

    everywhere: Manner = USUAL_MANNER
    here: tuple[MannerHere, ...] = ()

    @cached_property
    def of_choosing(self) -> Manners:
        """As far as it tells which mouth is chosen: how wide one opens does not."""
        here = (replace(part, change=replace(part.change, **dict.fromkeys(_OF_POSE))) for part in self.here)
        usual = replace(self.everywhere, **{name: getattr(USUAL_MANNER, name) for name in _OF_POSE})
        return Manners(usual, tuple(part for part in here if part.change.told))

    @cached_property
    def _of_stretches(self) -> tuple[tuple[float, float, Manner], ...]:
        return tuple((part.span.start, part.span.end, part.change.on(self.everywhere)) for part in self.here)

    @property
    def all(self) -> tuple[Manner, ...]:
        return (self.everywhere, *(manner for _, _, manner in self._of_stretches))

    def at(self, seconds: float) -> Manner:
        if not self.here:
            return self.everywhere
        for start, end, manner in self._of_stretches:
            if start <= seconds < end:
                return manner
        return self.everywhere

    def along(self, name: str, times: Doubles) -> Doubles:
        """(frames,) a setting that is a number, at some times; at the edges of a stretch it goes over gently."""
        usual = float(getattr(self.everywhere, name))
        values = np.full(len(times), usual)
        for start, end, manner in self._of_stretches:
            more = float(getattr(manner, name)) - usual
            if more:
                values += more * (_risen(times - start) - _risen(times - end))
        return values

    @cached_property
    def longest_pause(self) -> float:
        """Seconds; a longer pause comes to rest wherever it is."""
        return max(manner.pause for manner in self.all)

    @cached_property
    def longest_way_to_rest(self) -> float:
        """Seconds of a pause in which the mouth may still be on its way."""
        return max(manner.settle + manner.seen_at_least for manner in self.all)

    @cached_property
    def most_lead(self) -> float:
        """Seconds that a mouth comes before its sound at most, wherever it is."""
        return max(manner.lead for manner in self.all)

    @cached_property
    def least_lead(self) -> float:
        """And at least."""
        return min(manner.lead for manner in self.all)

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


def _held_ranges(here: Sequence[MannerHere], frames: int, rate: FrameRate) -> list[HeldRange]:
    """Those stretches that are on another hold, in frames."""
    found: list[HeldRange] = []
    for part in here:
        first, end = max(rate.nearest(part.span.start), 0), min(rate.nearest(part.span.end), frames)
        if part.change.hold is not None and end > first:
            found.append(HeldRange(first, end, part.change.hold))
    return found


USUAL_MANNERS = Manners()
