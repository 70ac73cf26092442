"""Choosing the mouth of every frame: a dynamic programme whose costs say what animators do.

A frame costs what is seen wrongly (how far the mouth on show is from the one that answers to the sound, vowels weighing
more than consonants), every change costs, and a mouth that is left after a single exposure costs more. Closures and
bites are not a matter of cost: each is given an exposure of its own before the rest is settled.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure, runs
from buccaphon.mouths.pose import Pose
from buccaphon.score.records import Score, Word
from buccaphon.speech.phones import PAUSE, is_vowel
from buccaphon.timing import FrameRate, Span

Doubles = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int_]

_VOWEL, _STRESSED, _CONSONANT, _SILENCE = 1.0, 1.35, 0.55, 1.6
_CHANGE = 0.2
_POP = 0.45
_READABLE = 0.06  # seconds; an exposure at least this long is no pop
_COST_RATE = 24.0  # costs are counted per 1/24 s, so that every rate weighs sound against change alike
_LONG_PAUSE = 0.22  # seconds; shorter pauses hold the last mouth
_FORBIDDEN = 1e6

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


@dataclass(frozen=True, slots=True)
class ChoiceSettings:
    """hold: frames for which every drawing stays at least (2 is 'on twos'). lead: seconds that mouths come before the
    sound. painted: mouths set by hand."""

    hold: int = 1
    lead: float = 1 / 24
    painted: tuple[Painted, ...] = ()


class _Sound(NamedTuple):
    symbol: str
    start: float
    end: float
    stressed: bool
    resting: bool = False  # a pause long enough to close the mouth, or at either end


@dataclass(frozen=True, slots=True)
class Passage:
    """What is said between two long pauses: mouths, jaw and weights of its frames depend on nothing outside.

    cells [first, end), each as many frames as a drawing is held. begin, until: seconds from the end of the last word before
    it to the start of the first one after it.
    """

    first: int
    end: int
    words: tuple[Word, ...]
    begin: float
    until: float


def choose_exposures(score: Score, chart: Chart, rate: FrameRate, settings: ChoiceSettings) -> tuple[Exposure, ...]:
    """The held mouths of a whole recording, from frame 0 to the frame that covers its end, without gaps.

    Every sound whose mouth is a contact is seen for at least one exposure, unless a painted mouth covers its place or the
    recording has fewer exposures than contacts.
    """
    path: list[int] = []
    painted = painted_cells(chart, rate, settings, score.duration)
    for passage in passages(score, rate, settings):
        inside = {cell: mouth for cell, mouth in painted.items() if passage.first <= cell < passage.end}
        path += choose_mouths(passage, chart, rate, settings, inside)
    names = [chart.names[mouth] for mouth in path for _ in range(settings.hold)]
    return runs(names[: rate.covering(score.duration)])


def passages(score: Score, rate: FrameRate, settings: ChoiceSettings) -> list[Passage]:
    """Part a recording in the middle of its long pauses, where the mouth is at rest whatever comes before and after."""
    cells = -(-rate.covering(score.duration) // settings.hold)
    return parted(Passage(0, cells, score.words, 0.0, score.duration + settings.lead), rate, settings)


def parted(whole: Passage, rate: FrameRate, settings: ChoiceSettings) -> list[Passage]:
    """A passage in the parts that the long pauses inside it make."""
    hold, lead, words = settings.hold, settings.lead, whole.words
    found: list[Passage] = []
    first, number, begin = whole.first, 0, whole.begin
    starts, ends = [word.phones[0].start for word in words], [word.phones[-1].end for word in words]
    gaps = np.subtract(starts[1:], ends[:-1])
    for after in (np.flatnonzero(gaps >= _LONG_PAUSE) + 1).tolist():
        start, end = ends[after - 1], starts[after]
        full = -(-rate.nearest(start - lead) // hold) + 1, rate.nearest(end - lead) // hold - 1
        middle = sum(full) // 2
        if full[1] - full[0] >= 2 and first < middle < whole.end:
            found.append(Passage(first, middle, words[number:after], begin, end))
            first, number, begin = middle, after, start
    found.append(Passage(first, whole.end, words[number:], begin, whole.until))
    return found


def painted_cells(chart: Chart, rate: FrameRate, settings: ChoiceSettings, duration: float) -> dict[int, int]:
    """The mouth of every cell that is painted by hand in a recording of so many seconds."""
    painted: dict[int, int] = {}
    cells = -(-rate.covering(duration) // settings.hold)
    for paint in settings.painted:
        first = rate.nearest(paint.span.start) // settings.hold
        last = max(-(-rate.nearest(paint.span.end) // settings.hold), first + 1)
        mouth = chart.standing_for(paint.mouth, paint.pose, paint.contact)
        painted.update(dict.fromkeys(range(max(first, 0), min(last, cells)), mouth))
    return painted


def choose_mouths(
    passage: Passage, chart: Chart, rate: FrameRate, settings: ChoiceSettings, painted: dict[int, int]
) -> list[int]:
    """The mouth of each cell of a passage. painted: cells, counted from the start of the recording, with their mouths."""
    cells = np.arange(passage.first, passage.end + 1) * settings.hold
    edges = cells * rate.value.denominator / rate.value.numerator
    sounds = _timeline(passage, settings.lead)
    costs = _frame_costs(sounds, chart, edges)
    forced = _contact_cells(sounds, chart, edges)
    forced.update({cell - passage.first: mouth for cell, mouth in painted.items()})
    for cell, mouth in forced.items():
        costs[cell, np.arange(len(chart.mouths)) != mouth] += _FORBIDDEN
    pop = 0.0 if edges[1] - edges[0] >= _READABLE else _POP
    return _cheapest_in_parts(costs, forced, pop)


def loudness_exposures(
    opening: npt.NDArray[np.float32], chart: Chart, hold: int, painted: Sequence[tuple[int, int, str]] = ()
) -> tuple[Exposure, ...]:
    """Mouths from loudness alone: the chart's mouths on a line from shut to open, each frame the one nearest its jaw.

    opening: (frames,) 0..1. painted: (first frame, end frame, mouth).
    """
    order = np.array([i for i, mouth in enumerate(chart.mouths) if not mouth.contact or i == 0])
    poses = [chart.mouths[i].pose for i in order]
    jaws, odd = np.array([pose.jaw for pose in poses]), np.array([pose.spread + pose.round for pose in poses])
    cells = -(-len(opening) // hold)
    loud = np.pad(opening, (0, cells * hold - len(opening))).reshape(cells, hold).max(1, initial=0.0)
    # among mouths that open equally wide take the plainest
    best = (np.abs(jaws - loud[:, None] * jaws.max()) + 0.3 * odd).argmin(1)
    chosen = np.where(loud == 0, 0, order[best])
    names = [chart.names[mouth] for mouth in np.repeat(chosen, hold)[: len(opening)].tolist()]
    for first, end, mouth in painted:
        names[first:end] = [mouth] * len(names[first:end])
    return runs(names)


def _timeline(passage: Passage, lead: float) -> list[_Sound]:
    """All sounds and pauses in order, `lead` seconds early, glides parted. It begins and ends at rest."""
    found: list[_Sound] = []
    at = max(passage.begin - lead, 0.0)
    for phone in (phone for word in passage.words for phone in word.phones):
        start, end = phone.start - lead, phone.end - lead
        if start > at:
            found.append(_Sound(PAUSE, at, start, False, not found or start - at >= _LONG_PAUSE))
        for part, share in _GLIDES.get(phone.symbol, ((phone.symbol, 1.0),)):
            middle = min(start + share * (phone.end - phone.start), end)
            found.append(_Sound(part, start, middle, phone.stress == 1))
            start = middle
        at = end
    if at < passage.until - lead:
        found.append(_Sound(PAUSE, at, passage.until - lead, False, True))
    return found


def _frame_costs(sounds: Sequence[_Sound], chart: Chart, edges: Doubles) -> Doubles:
    """(cells, mouths): what each mouth would cost on each exposure by what is heard meanwhile."""
    cells = len(edges) - 1
    starts, ends = np.array([sound.start for sound in sounds]), np.array([sound.end for sound in sounds])
    weights = np.array([_weight(s.symbol, s.stressed, s.resting) for s in sounds]) * _COST_RATE
    answers = np.array([chart.answer(sound.symbol) for sound in sounds])
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


def _contact_cells(sounds: Sequence[_Sound], chart: Chart, edges: Doubles) -> dict[int, int]:
    """A cell for each contact, {cell: mouth}: near its middle, in order, no two different contacts in one cell."""
    wanted: list[tuple[float, int]] = []
    previous: _Sound | None = None
    for sound in sounds:
        mouth = chart.answer(sound.symbol)
        if sound.symbol != PAUSE and chart.mouths[mouth].contact:
            together = previous is not None and wanted and wanted[-1][1] == mouth and previous.end == sound.start
            if not (together and previous is not None and chart.answer(previous.symbol) == mouth):
                wanted.append(((sound.start + sound.end) / 2, mouth))
        previous = sound
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


def _cheapest_in_parts(costs: Doubles, forced: dict[int, int], pop_cost: float) -> list[int]:
    """As `_cheapest`, part by part: at a forced cell, whose leaving is no pop, it does not matter what came before. Parts
    are kept, so that an edit chooses anew only between the two contacts around it."""
    ends = sorted({0, len(costs) - 1, *forced})
    path: list[int] = []
    for first, last in pairwise(ends) if len(ends) > 1 else [(0, 0)]:
        rims = tuple((cell - first, forced[cell]) for cell in (first, last) if cell in forced)
        part = costs[first : last + 1]
        path[first:] = _kept_path(part.tobytes(), costs.shape[1], rims, pop_cost, first == 0)
    return path


@lru_cache(maxsize=8192)
def _kept_path(
    costs: bytes, mouths: int, forced: tuple[tuple[int, int], ...], pop_cost: float, begins: bool
) -> tuple[int, ...]:
    rows = np.frombuffer(costs).reshape(-1, mouths).copy()
    if not begins:  # the first cell was counted with the part before
        rows[0, np.arange(mouths) != forced[0][1]] += _FORBIDDEN
    return tuple(_cheapest(rows, dict(forced), pop_cost).tolist())


def _cheapest(costs: Doubles, forced: dict[int, int], pop_cost: float) -> Ints:
    """The cheapest sequence of mouths. Two states a mouth: just shown (fresh), and shown before (held).

    costs: (cells, mouths). forced: cells with a mouth of their own, whose going after one cell is no pop. A fresh mouth
    comes from whichever mouth is cheapest to leave, or the second cheapest if it is that one itself; only these two are
    remembered for each cell.
    """
    cells, mouths = costs.shape
    fresh, held = costs[0].copy(), np.full(mouths, np.inf)
    fresh[1:] += _CHANGE  # a recording begins at rest unless something speaks at once
    stayed = np.zeros((cells, mouths), np.bool_)  # whether a held mouth was held before
    cheapest = np.zeros((cells, 2), np.int_)  # the two mouths to leave
    was_held = np.zeros((cells, 2), np.bool_)  # whether they had been held
    for cell in range(1, cells):
        popping = fresh + pop_cost
        if cell - 1 in forced:
            popping[forced[cell - 1]] -= pop_cost
        leaving = np.minimum(popping, held)
        first = int(leaving.argmin())
        best = leaving[first]
        leaving[first] = np.inf
        second = int(leaving.argmin())
        cheapest[cell] = first, second
        was_held[cell] = held[first] <= popping[first], held[second] <= popping[second]
        stayed[cell] = held <= fresh
        here = costs[cell]
        held = np.minimum(fresh, held) + here
        fresh = here + (best + _CHANGE)
        fresh[first] = here[first] + leaving[second] + _CHANGE
    path = np.zeros(cells, np.int_)
    is_held = bool(held.min() <= fresh.min())
    mouth = int(held.argmin() if is_held else fresh.argmin())
    for cell in range(cells - 1, -1, -1):
        path[cell] = mouth
        if is_held:
            is_held = bool(stayed[cell, mouth])
        else:
            which = int(cheapest[cell, 0] == mouth)
            mouth, is_held = int(cheapest[cell, which]), bool(was_held[cell, which])
    return path
