"""Choosing the mouth of every cell of the grid: costs that say what animators do.

A cell costs what is seen wrongly (how far the mouth on show is from the one that answers to the sound, vowels weighing
more than consonants), every change costs, and a mouth that is left after a single cell costs more. Closures and bites are not
a matter of cost: each is given a cell of its own before the rest is settled.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from buccaphon.arrays import Doubles, Ints
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.cheapest import FORBIDDEN, Choice, Part, Question, Rims, choose_cheapest
from buccaphon.mouths.exposures import Exposure, held_on
from buccaphon.mouths.grid import Grid
from buccaphon.mouths.passages import LONG_PAUSE, Passage, part_into_passages
from buccaphon.mouths.pose import Pose
from buccaphon.score.records import Score
from buccaphon.speech.phones import PAUSE, is_vowel
from buccaphon.timing import FrameRate, Span

_VOWEL, _STRESSED, _CONSONANT, _SILENCE = 1.0, 1.35, 0.55, 1.6
_POP = 0.45
_READABLE = 0.06  # seconds; an exposure at least this long is no pop
_COST_RATE = 24.0  # costs are counted per 1/24 s, so that every rate weighs sound against change alike

# Sounds that move from one mouth to another while they last: parts and their shares of the time.
_GLIDES = {
    "aɪ": (("ɑ", 0.6), ("ɪ", 0.4)),
    "aʊ": (("ɑ", 0.6), ("ʊ", 0.4)),
    "ɔɪ": (("ɔ", 0.6), ("ɪ", 0.4)),
    "oʊ": (("oʊ", 0.65), ("ʊ", 0.35)),
}


@dataclass(frozen=True, slots=True)
class Painted:
    """A mouth put there by hand, from `span.start` to `span.end` seconds: it always wins.

    pose, contact: what it looked like in the chart it was painted from, so that another chart can show its nearest; None
    when that is not known.
    """

    span: Span
    mouth: str
    pose: Pose | None = None
    contact: bool = False


class _Sound(NamedTuple):
    symbol: str
    start: float
    end: float
    stressed: bool
    resting: bool = False  # a pause long enough to close the mouth, or at either end


def choose_exposures(
    score: Score, chart: Chart, rate: FrameRate, grid: Grid, lead: float, painted: Mapping[int, int]
) -> tuple[Exposure, ...]:
    """The held mouths of a whole recording, from frame 0 to the frame that covers its end, without gaps.

    lead: seconds that mouths come before the sound. painted: cells with a mouth put there by hand. Every sound whose mouth is
    a contact is seen for at least one cell, unless a painted mouth covers its place or the recording has fewer cells than
    contacts.
    """
    passages = part_into_passages(score, rate, grid, lead)
    choices = choose_mouths(passages, chart, rate, grid, lead, painted)
    path = [mouth for choice in choices for mouth in choice.mouths]
    return held_on(grid.edges, grid.frames, path, chart.names)


def painted_cells(painted: Iterable[Painted], chart: Chart, rate: FrameRate, grid: Grid) -> dict[int, int]:
    """The mouth of every cell that is painted by hand."""
    found: dict[int, int] = {}
    for paint in painted:
        first = grid.cell_at(rate.nearest(paint.span.start))
        last = max(grid.edge_from(rate.nearest(paint.span.end)), first + 1)
        mouth = chart.standing_for(paint.mouth, paint.pose, paint.contact)
        found.update(dict.fromkeys(range(max(first, 0), min(last, grid.cells)), mouth))
    return found


def choose_mouths(
    passages: Sequence[Passage],
    chart: Chart,
    rate: FrameRate,
    grid: Grid,
    lead: float,
    painted: Mapping[int, int],
    known: Mapping[Rims, Part] | None = None,
) -> list[Choice]:
    """The mouth of each cell of some passages. painted: cells of the whole recording with their mouths. known: parts that
    were chosen before."""
    questions = [_question(passage, chart, rate, grid, lead, painted) for passage in passages]
    return choose_cheapest(questions, known or {})


def _question(
    passage: Passage, chart: Chart, rate: FrameRate, grid: Grid, lead: float, painted: Mapping[int, int]
) -> Question:
    edges = grid.seconds(passage.first, passage.end, rate)
    sounds = _timeline(passage, lead)
    answers = np.array([chart.answer(sound.symbol) for sound in sounds])
    costs = _frame_costs(sounds, answers, chart, edges)
    forced = _contact_cells(sounds, answers, chart, edges)
    inside = (cell for cell in painted if passage.first <= cell < passage.end)
    forced.update({cell - passage.first: painted[cell] for cell in inside})
    if forced:
        others = np.full((len(forced), len(chart.mouths)), FORBIDDEN)
        others[np.arange(len(forced)), list(forced.values())] = 0.0
        costs[list(forced)] += others
    pops = np.where(np.diff(edges) >= _READABLE, 0.0, _POP)
    return Question(costs, forced, pops, passage.first)


def _timeline(passage: Passage, lead: float) -> list[_Sound]:
    """All sounds and pauses in order, `lead` seconds early, glides parted. It begins and ends at rest."""
    found: list[_Sound] = []
    at = max(passage.begin - lead, 0.0)
    for phone in (phone for word in passage.words for phone in word.phones):
        start, end = phone.start - lead, phone.end - lead
        if start > at:
            found.append(_Sound(PAUSE, at, start, False, not found or start - at >= LONG_PAUSE))
        for part, share in _GLIDES.get(phone.symbol, ((phone.symbol, 1.0),)):
            middle = min(start + share * (phone.end - phone.start), end)
            found.append(_Sound(part, start, middle, phone.stress == 1))
            start = middle
        at = end
    if at < passage.until - lead:
        found.append(_Sound(PAUSE, at, passage.until - lead, False, True))
    return found


def _frame_costs(sounds: Sequence[_Sound], answers: Ints, chart: Chart, edges: Doubles) -> Doubles:
    """(cells, mouths): what each mouth would cost on each exposure by what is heard meanwhile. answers: (sounds,) the mouth
    of each sound."""
    cells = len(edges) - 1
    starts, ends = np.array([sound.start for sound in sounds]), np.array([sound.end for sound in sounds])
    weights = np.array([_weight(s.symbol, s.stressed, s.resting) for s in sounds]) * _COST_RATE
    first = np.maximum(np.searchsorted(edges, starts, side="right") - 1, 0)
    last = np.minimum(np.searchsorted(edges, ends, side="left"), cells)
    counts = np.maximum(last - first, 0)
    of = np.repeat(np.arange(len(sounds)), counts)  # one entry for each sound and each cell it reaches into
    cell = np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts) + first[of]
    shared = np.minimum(edges[cell + 1], ends[of]) - np.maximum(edges[cell], starts[of])
    costs = np.zeros((cells, len(chart.mouths)))
    np.add.at(costs, cell, (shared * weights[of])[:, None] * chart.distances[answers[of]])
    return costs


@lru_cache(maxsize=2000)
def _weight(symbol: str, stressed: bool, resting: bool) -> float:
    if symbol == PAUSE:
        return _SILENCE if resting else 0.0
    if is_vowel(symbol):
        return _STRESSED if stressed else _VOWEL
    return _CONSONANT


def _contact_cells(sounds: Sequence[_Sound], answers: Ints, chart: Chart, edges: Doubles) -> dict[int, int]:
    """A cell for each contact, {cell: mouth}: near its middle, in order, no two different contacts in one cell."""
    wanted: list[tuple[float, int]] = []
    for number in np.flatnonzero(chart.contacts[answers]).tolist():
        sound, mouth = sounds[number], int(answers[number])
        if sound.symbol == PAUSE:
            continue
        meets = number > 0 and answers[number - 1] == mouth and sounds[number - 1].end == sound.start
        if not (meets and wanted and wanted[-1][1] == mouth):
            wanted.append(((sound.start + sound.end) / 2, mouth))
    if not wanted:
        return {}
    cells = len(edges) - 1
    middles = np.array([middle for middle, _ in wanted])
    places = np.clip(np.searchsorted(edges, middles, side="right") - 1, 0, cells - 1)
    spaced = _strictly_rising(places, cells)
    return {int(cell): mouth for cell, (_, mouth) in zip(spaced, wanted, strict=True)}


def _strictly_rising(places: Ints, limit: int) -> Ints:
    """Whole numbers near the given ones that rise by at least 1 and stay in 0..limit-1, by pooling neighbours that
    collide around their mean (isotonic regression, Barlow et al. 1972). With more places than room the last share one."""
    blocks: list[tuple[float, int]] = []  # mean of place minus rank, size
    for rank, place in enumerate(places):
        mean, size = float(place - rank), 1
        while blocks and blocks[-1][0] > mean:
            before, count = blocks.pop()
            mean, size = (mean * size + before * count) / (size + count), size + count
        blocks.append((mean, size))
    level = np.concatenate([np.full(size, np.floor(mean + 0.5)) for mean, size in blocks])
    highest = max(limit - len(places), 0)
    rising: Ints = np.minimum(np.clip(level, 0, highest).astype(np.int_) + np.arange(len(places)), limit - 1)
    return rising
