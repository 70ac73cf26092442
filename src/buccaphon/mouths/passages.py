"""Passages: what is said between two long pauses. Mouths, jaw and weights of its frames depend on nothing outside."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from buccaphon.mouths.grid import Grid
from buccaphon.score.records import Score, Word
from buccaphon.timing import FrameRate

LONG_PAUSE = 0.22  # seconds; shorter pauses hold the last mouth


@dataclass(frozen=True, slots=True)
class Passage:
    """cells [first, end) of the grid. begin, until: seconds from the end of the last word before it to the start of the first
    one after it."""

    first: int
    end: int
    words: tuple[Word, ...]
    begin: float
    until: float


def part_into_passages(score: Score, rate: FrameRate, grid: Grid, lead: float) -> list[Passage]:
    """Part a recording in the middle of its long pauses, where the mouth is at rest whatever comes before and after.

    lead: seconds that mouths come before the sound.
    """
    return part_passage(Passage(0, grid.cells, score.words, 0.0, score.duration + lead), rate, grid, lead)


def part_passage(whole: Passage, rate: FrameRate, grid: Grid, lead: float) -> list[Passage]:
    """A passage in the parts that the long pauses inside it make."""
    words = whole.words
    found: list[Passage] = []
    first, number, begin = whole.first, 0, whole.begin
    starts, ends = [word.phones[0].start for word in words], [word.phones[-1].end for word in words]
    gaps = np.subtract(starts[1:], ends[:-1])
    for after in (np.flatnonzero(gaps >= LONG_PAUSE) + 1).tolist():
        start, end = ends[after - 1], starts[after]
        full = grid.edge_from(rate.nearest(start - lead)) + 1, grid.cell_at(rate.nearest(end - lead)) - 1
        middle = sum(full) // 2
        if full[1] - full[0] >= 2 and first < middle < whole.end:
            found.append(Passage(first, middle, words[number:after], begin, end))
            first, number, begin = middle, after, start
    found.append(Passage(first, whole.end, words[number:], begin, whole.until))
    return found
