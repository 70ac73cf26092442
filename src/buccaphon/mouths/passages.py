"""Passages: what is said between two long pauses. Mouths, jaw and weights of its frames depend on nothing outside."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from buccaphon.mouths.grid import Grid
from buccaphon.mouths.settings import DEFAULT_LEAD, SettingsTrack
from buccaphon.score.records import Score, Word
from buccaphon.timing import FrameRate

LONG_PAUSE = 0.22  # seconds; passages part in no shorter one
_BEFORE_A_SOUND = 0.12  # seconds in which the mouth may be on its way to the sound


@dataclass(frozen=True, slots=True)
class Passage:
    """cells [first, end) of the grid. begin, until: seconds from the end of the last word before it to the start of the first
    one after it."""

    first: int
    end: int
    words: tuple[Word, ...]
    begin: float
    until: float


def part_into_passages(score: Score, rate: FrameRate, grid: Grid, mouth_settings: SettingsTrack) -> list[Passage]:
    """Part a recording towards the end of its long pauses, where the mouth is at rest whatever comes before and after."""
    return part_passage(Passage(0, grid.cells, score.words, 0.0, score.duration), rate, grid, mouth_settings)


def part_passage(whole: Passage, rate: FrameRate, grid: Grid, mouth_settings: SettingsTrack) -> list[Passage]:
    """A passage in the parts that the long pauses inside it make."""
    words = whole.words
    found: list[Passage] = []
    first, number, begin = whole.first, 0, whole.begin
    starts, ends = [word.phones[0].start for word in words], [word.phones[-1].end for word in words]
    gaps = np.subtract(starts[1:], ends[:-1])
    latest, earliest = DEFAULT_LEAD - mouth_settings.least_lead, mouth_settings.most_lead - DEFAULT_LEAD
    for after in (np.flatnonzero(gaps >= max(LONG_PAUSE, mouth_settings.longest_pause)) + 1).tolist():
        start, end = ends[after - 1], starts[after]
        rests = grid.edge_from(rate.nearest(start + latest))
        cut = grid.cell_at(rate.nearest(end - _BEFORE_A_SOUND - earliest)) - 1
        room = (grid.edges[min(max(cut, 0), grid.cells)] - grid.edges[min(rests, grid.cells)]) / float(rate.value)
        if max(first, 0) < cut < whole.end and room >= mouth_settings.longest_way_to_rest:
            found.append(Passage(first, cut, words[number:after], begin, end))
            first, number, begin = cut, after, start
    found.append(Passage(first, whole.end, words[number:], begin, whole.until))
    return found
