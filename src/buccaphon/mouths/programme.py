"""Between two cores: the cheapest row of mouths that each stay for a shortest time, by a semi-Markov dynamic programme.

Time runs in ticks of 1/72 s, which divides the frames of 24 frames a second and their twos and threes. All parts go in step.
(Segmental dynamic programming: Ostendorf, Digalakis and Kimball, "From HMMs to segment models", 1996.)
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import accumulate
from typing import NamedTuple

import numpy as np

from buccaphon.arrays import Bools, Doubles, Ints

TICK = 1 / 72  # seconds


def tick_of(seconds: float) -> int:
    """The tick nearest to a moment."""
    return int(seconds / TICK + 0.5)


class Part(NamedTuple):
    """Ticks from `first` up to `end` of the recording between two cores with the mouths `left` and `right`. shortest: ticks
    that a mouth stays at least. change: what it costs to change."""

    first: int
    end: int
    left: int
    right: int
    shortest: int
    change: float


Row = tuple[tuple[int, int], ...]
"""The mouths of a part, each with the tick at which it begins; the last may be the right core's, begun early."""


@dataclass(frozen=True, slots=True, eq=False)
class Costs:
    """per_tick: (ticks, mouths) seconds and visible distance. may_cut: (ticks + 1,) where a mouth may begin; None for
    anywhere. first: tick of the recording that the first row is of. shut: (mouths,) contacts, which begin nowhere but as the
    right core."""

    per_tick: Doubles
    may_cut: Bools | None
    first: int
    shut: Bools


Known = tuple[Part, bytes]
"""A part, and what each mouth cost at its ticks."""

Memory = Mapping[Known, Row]


@dataclass(slots=True, eq=False)
class Asking:
    """Parts of some passages with their costs; what was asked before, on the same exposures, is taken over."""

    before: Memory

    def rows(self, asked: Sequence[tuple[Part, Costs]]) -> list[tuple[Known, Row]]:
        """The cheapest row of each part."""
        keys = [
            (part, costs.per_tick[part.first - costs.first : part.end - costs.first].tobytes()) for part, costs in asked
        ]
        new = [number for number, key in enumerate(keys) if key not in self.before]
        made = dict(zip(new, cheapest_rows([asked[number] for number in new]), strict=True))
        return [(key, made[number] if number in made else self.before[key]) for number, key in enumerate(keys)]


@dataclass(slots=True, eq=False)
class _Step:
    """Of a tick. entered: (parts, mouths) what a mouth costs that begins here, less its cost from the start. best, second:
    the mouth to come from, and for that one itself the next best. since: (parts, mouths) when what may be left here began."""

    entered: Doubles
    best: Ints
    second: Ints
    since: Ints


def cheapest_rows(asked: Sequence[tuple[Part, Costs]]) -> list[Row]:
    """The cheapest rows of some parts, with the costs of their passages."""
    if not asked:
        return []
    order = sorted(range(len(asked)), key=lambda number: asked[number][0].first - asked[number][0].end)
    parts = [asked[number][0] for number in order]
    passages = list({id(costs): costs for _, costs in asked}.values())
    rims = dict(zip(map(id, passages), accumulate((len(of.per_tick) for of in passages), initial=0), strict=False))
    starts = [rims[id(asked[number][1])] - asked[number][1].first + asked[number][0].first for number in order]
    per_tick = np.concatenate([of.per_tick for of in passages])
    everywhere = all(of.may_cut is None for of in passages)
    may_cut = None if everywhere else np.concatenate([_cuts(of) for of in passages])
    found = _solve(parts, np.array(starts), per_tick, may_cut, passages[0].shut)
    rows: list[Row] = [()] * len(asked)
    for number, row in zip(order, found, strict=True):
        rows[number] = row
    return rows


def _cuts(costs: Costs) -> Bools:
    """(ticks,) where a mouth may begin."""
    return np.ones(len(costs.per_tick), np.bool_) if costs.may_cut is None else costs.may_cut[:-1]


def _solve(parts: Sequence[Part], starts: Ints, per_tick: Doubles, may_cut: Bools | None, shut: Bools) -> list[Row]:
    """parts: the longest first. starts: the row of `per_tick` with which each begins. may_cut: (ticks,) of the same."""
    left, right, shortest = (
        np.array([getattr(part, name) for part in parts]) for name in ("left", "right", "shortest")
    )
    change = np.array([part.change for part in parts])
    lengths = [part.end - part.first for part in parts]
    count, mouths = len(parts), len(shut)
    rows = np.arange(count)
    cost = np.zeros((count, mouths))  # of each mouth, from the start of its part
    held = np.full(
        (count, mouths), np.inf
    )  # the least cost of a mouth that may be left now, less its cost from the start
    held[rows, left] = 0.0
    since = np.full((count, mouths), -1)
    early, early_at = np.full(count, np.inf), np.full(count, -1)
    steps: list[_Step] = []
    closing = np.bincount(lengths).tolist()
    lengths_apart = np.unique(shortest).tolist()
    found: list[Row] = [()] * count
    active = count
    for tick, ending in enumerate(closing):
        if tick:
            cost[:active] += per_tick[starts[:active] + (tick - 1)]
        _take_up(held[:active], since[:active], steps, tick, shortest[:active], lengths_apart)
        here, at, goal = cost[:active], rows[:active], right[:active]
        leave = held[:active] + here
        first = leave.argmin(1)
        entered = (leave[at, first] + change[:active])[:, None] - here
        leave[at, first] = np.inf
        second = leave.argmin(1)
        entered[at, first] = leave[at, second] + change[:active] - here[at, first]
        if may_cut is not None:  # at its end the core begins, which may always be
            ends = np.arange(active) >= active - ending
            entered[~(may_cut[np.minimum(starts[:active] + tick, len(may_cut) - 1)] | ends)] = np.inf
        turn = entered[at, goal]
        sooner = turn < early[:active]
        np.copyto(early[:active], turn, where=sooner)
        np.copyto(early_at[:active], tick, where=sooner)
        entered[:, shut] = np.inf
        steps.append(_Step(entered, first, second, since[:active].copy()))
        for place in range(active - ending, active):
            stays = held[place, right[place]] <= early[place]
            found[place] = _back(
                place, parts[place], int(since[place, right[place]] if stays else early_at[place]), steps
            )
        active -= ending
    return found


def _take_up(held: Doubles, since: Ints, steps: Sequence[_Step], tick: int, shortest: Ints, lengths: list[int]) -> None:
    """What has been shown for its shortest time now may be left from now on. lengths: all that `shortest` has."""
    for length in lengths:
        if tick < length:
            break
        entered = steps[tick - length].entered[: len(held)]
        better = entered < held
        if len(lengths) > 1:
            better &= (shortest == length)[:, None]
        np.copyto(held, entered, where=better)
        np.copyto(since, tick - length, where=better)


def _back(place: int, part: Part, at: int, steps: Sequence[_Step]) -> Row:
    """The row of a part from its end to its start. at: the tick at which its last mouth began; -1 for before the part."""
    mouth = part.right
    row: list[tuple[int, int]] = []
    while at >= 0:
        row.append((mouth, part.first + at))
        step = steps[at]
        best = int(step.best[place])
        mouth = int(step.second[place]) if best == mouth else best
        at = int(step.since[place, mouth])
    row.reverse()
    return tuple(row)
