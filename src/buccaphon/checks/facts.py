"""What the checks look at, looked up once."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from buccaphon.arrays import Doubles
from buccaphon.motion.record import Bake
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.settings import SettingsTrack
from buccaphon.project.speakers import own_words
from buccaphon.project.state import State
from buccaphon.score.records import Phone, Score
from buccaphon.timing import FrameRate, Span

_GAP = 0.02  # seconds


@dataclass(frozen=True, slots=True)
class Shown:
    """A held mouth in seconds. index: its number in the chart. painted: whether a hand put it there, at least in part."""

    index: int
    start: float
    end: float
    painted: bool

    @property
    def length(self) -> float:
        return self.end - self.start

    @property
    def span(self) -> Span:
        return Span(self.start, self.end)


@dataclass(frozen=True, eq=False)
class Facts:
    """state, bake: of the shown take, whole. used: the part of the recording that counts. missing: numbers of the words that
    were not found. heard: of those in doubt that somebody has listened to. chosen: the held mouths before anything
    by hand was laid over them."""

    state: State
    bake: Bake
    used: Span
    missing: frozenset[int] = frozenset()
    heard: frozenset[int] = frozenset()
    chosen: tuple[Exposure, ...] = ()

    @cached_property
    def chart(self) -> Chart:
        return self.bake.chart

    @property
    def rate(self) -> FrameRate:
        return self.bake.rate

    @cached_property
    def settings_track(self) -> SettingsTrack:
        return self.state.settings_track

    @property
    def score(self) -> Score | None:
        return self.state.score

    @cached_property
    def frame(self) -> float:
        """Seconds of one."""
        return self.rate.seconds(1)

    def exposure(self, seconds: float) -> float:
        """How long an exposure at a moment is, in seconds."""
        return self.frame * self.settings_track.at(seconds).hold

    @cached_property
    def shown(self) -> list[Shown]:
        """All held mouths, in order."""
        numbers = {name: number for number, name in enumerate(self.chart.names)}
        painted = sorted((paint.span.start, paint.span.end) for paint in self.state.painted)
        starts, stops = [start for start, _ in painted], [stop for _, stop in painted]
        least = self.rate.seconds(0.49)  # what laps over by less is only rounding
        found = []
        for exposure in self.bake.exposures:
            start, end = self.rate.seconds(exposure.start), self.rate.seconds(exposure.end)
            # none laps over another: the first that ends later may begin too late, and then so do all after it
            later = bisect_right(stops, start + least)
            by_hand = later < len(starts) and starts[later] < end - least
            found.append(Shown(numbers[exposure.mouth], start, end, by_hand))
        return found

    def shown_in(self, span: Span) -> Sequence[Shown]:
        """The held mouths that are seen in a stretch."""
        first = bisect_right(self.shown, span.start, key=lambda each: each.end)
        return self.shown[first : bisect_left(self.shown, span.end, key=lambda each: each.start)]

    def covered(self, index: int, span: Span) -> Span | None:
        """Where in a stretch a mouth was chosen that paint lies on: all of its exposure, to be given back."""
        begin = bisect_right(self.chosen, span.start / self.frame, key=lambda each: each.end)
        for each in self.chosen[begin:]:
            there = Span(self.rate.seconds(each.start), self.rate.seconds(each.end))
            if there.start >= span.end:
                break
            if each.mouth == self.named(index) and there.overlap(span) > 0 and self.is_painted(there):
                return there
        return None

    def is_painted(self, span: Span) -> bool:
        """Whether a hand put something on a stretch."""
        return any(paint.span.overlap(span) > 0 for paint in self.state.painted)

    def is_blank(self, span: Span) -> bool:
        """Whether nothing is chosen in all of a stretch."""
        return any(blank.span.start <= span.start and blank.span.end >= span.end for blank in self.state.blanks)

    @cached_property
    def phones(self) -> list[Phone]:
        return list(own_words(self.state, self.score).phones()) if self.score else []

    def phones_in(self, span: Span) -> Sequence[Phone]:
        """The sounds that are heard in a stretch."""
        first = bisect_right(self.phones, span.start, key=lambda phone: phone.end)
        return self.phones[first : bisect_left(self.phones, span.end, key=lambda phone: phone.start)]

    @cached_property
    def silences(self) -> list[Span]:
        """Where nothing is said, between the words and around them."""
        starts = [*(phone.start for phone in self.phones), self.rate.seconds(self.bake.frames)]
        ends = [0.0, *(phone.end for phone in self.phones)]
        return [Span(end, start) for end, start in zip(ends, starts, strict=True) if start - end > _GAP]

    @cached_property
    def changes(self) -> Doubles:
        """(changes,) seconds at which another mouth begins."""
        return np.array([each.start for each in self.shown[1:]])

    def named(self, index: int) -> str:
        return self.chart.names[index]

    def word_at(self, seconds: float) -> str:
        """The word that is said at a moment, in quotes; '' when none is."""
        number = self.score.word_at(seconds) if self.score else None
        return f"“{self.score.words[number].text}”" if self.score is not None and number is not None else ""
