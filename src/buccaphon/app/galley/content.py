"""All that one strip shows, looked up for the stretch of time that it covers."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from buccaphon.app.galley.layout import MARGIN, Layout, Strip
from buccaphon.app.session.characters import CharacterLoader
from buccaphon.arrays import Doubles
from buccaphon.audio.pauses import LEAST_PAUSE
from buccaphon.checks.issue import Issue
from buccaphon.motion.record import Bake
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.laying import Painted
from buccaphon.mouths.settings import SettingsRange
from buccaphon.painting.theme import Theme
from buccaphon.project.derived import Derived
from buccaphon.project.state import State
from buccaphon.score.edits import boundary_time
from buccaphon.score.records import Word
from buccaphon.timing import Span


@dataclass(frozen=True)
class StripContent:
    """All that a strip shows, or a stretch of it. missing: numbers of the words that seem not to be in the sound. part: the
    stretch that is looked up; None for all of the strip. beside: other mouths to be shown beside those of now. issues: what
    the checks found, in order of time. chosen_point: a point of a curve that is chosen: the channel, and its seconds."""

    state: State
    bake: Bake
    derived: Derived
    theme: Theme
    characters: CharacterLoader
    layout: Layout
    strip: Strip
    missing: frozenset[int] = frozenset()
    part: Span | None = None
    beside: tuple[Exposure, ...] = ()
    issues: tuple[Issue, ...] = ()
    chosen_point: tuple[str, float] | None = None

    @property
    def near(self) -> Span:
        """The stretch of time that is looked up."""
        return self.part or Span(self.strip.start, self.strip.end)

    def x(self, seconds: Any) -> Any:
        """Of a moment, or an array of them. In the strip's own picture, which begins MARGIN pixels before the strip."""
        return MARGIN + (seconds - self.strip.start) * self.layout.scale

    @property
    def right(self) -> float:
        return float(self.x(self.strip.end))

    def words(self) -> list[tuple[int, Word]]:
        """The words that are at least partly in the stretch, with their numbers."""
        if self.state.score is None:
            return []
        words = self.state.score.words
        near = self.near
        first = bisect_right(words, near.start, key=lambda word: word.end)
        last = bisect_left(words, near.end, key=lambda word: word.start)
        return [(number, words[number]) for number in range(first, last)]

    def pauses(self) -> Sequence[Span]:
        """The pauses around the words of the stretch, or those in the sound while there are no words yet."""
        score, near = self.state.score, self.near
        if score is None:
            pauses = self.derived.pauses
            first = bisect_right(pauses, near.start, key=lambda span: span.end)
            return pauses[first : bisect_left(pauses, near.end, key=lambda span: span.start)]
        first = bisect_right(score.words, near.start, key=lambda word: word.end)
        end = bisect_left(score.words, near.end, key=lambda word: word.start)
        ends = (0.0 if first == 0 else score.words[first - 1].end, *(word.end for word in score.words[first:end]))
        starts = (
            *(word.start for word in score.words[first:end]),
            *(word.start for word in score.words[end : end + 1]),
        )
        gaps = zip(ends, (*starts, score.duration)[: len(ends)], strict=True)
        return [Span(*gap) for gap in gaps if gap[1] - gap[0] >= LEAST_PAUSE]

    def pinned(self) -> set[float]:
        """The moments in the stretch at which a boundary was put by hand."""
        score = self.state.score
        if score is None:
            return set()
        moments = (boundary_time(score, pin.boundary) for pin in self.state.pins)
        return {moment for moment in moments if self.near.start <= moment <= self.near.end}

    def painted(self) -> list[Painted]:
        """What is painted by hand in the stretch."""
        near = self.near
        return [paint for paint in self.state.painted if paint.span.overlap(near) > 0]

    def exposures(self, among: Sequence[Exposure] | None = None) -> list[Exposure]:
        """The mouths of the stretch. among: other ones than those of now."""
        first, last = self.frames()
        exposures = self.bake.exposures if among is None else among
        begin = bisect_right(exposures, first, key=lambda exposure: exposure.end)
        end = bisect_left(exposures, last, key=lambda exposure: exposure.start)
        return list(exposures[begin:end])

    def issues_here(self) -> tuple[Issue, ...]:
        """The marks that begin in this strip."""
        strip = self.strip
        first, end = (
            bisect_left(self.issues, edge, key=lambda issue: issue.span.start) for edge in (strip.start, strip.end)
        )
        return self.issues[first:end]

    def ranges_here(self) -> tuple[SettingsRange, ...]:
        """The ranges with settings of their own that are at least partly in this strip."""
        strip = Span(self.strip.start, self.strip.end)
        parts = self.state.take.mouth_ranges if self.state.take else ()
        return tuple(part for part in parts if part.span.overlap(strip) > 0)

    def frames(self) -> tuple[int, int]:
        """From the first frame of the stretch up to the one after its last."""
        rate, near = self.bake.rate, self.near
        return rate.containing(near.start), min(rate.covering(near.end), self.bake.frames)

    def columns(self) -> tuple[int, int]:
        """From the first column of the stretch up to the one after its last, counted from the strip's start."""
        first, end = self.x(self.near.start) - MARGIN, self.x(self.near.end) - MARGIN
        return max(int(first), 0), min(int(end) + 1, int(self.right - MARGIN))

    def frames_of_columns(self) -> Doubles:
        """The frame that each column of the stretch lies on, counted from the middle of frame 0."""
        x = np.arange(*self.columns()) + 0.5
        seconds = self.strip.start + x / self.layout.scale
        return np.asarray(seconds * float(self.bake.rate.value) - 0.5, np.float64)
