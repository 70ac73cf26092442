"""The cheapest sequence of mouths under costs for what is seen wrongly, for changes and for mouths that pop up and go."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from buccaphon.arrays import Doubles, Ints

CHANGE = 0.2
FORBIDDEN = 1e6

Rims = tuple[int, int, bool]
"""First and last cell of a part, counted from the start of the recording, and whether a passage begins with it."""


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """A passage's cells between two forced ones: what they cost, and the mouths that were chosen."""

    costs: Doubles
    path: tuple[int, ...]


def cheapest_in_parts(
    costs: Doubles, forced: Mapping[int, int], pops: Doubles, first_cell: int, known: Mapping[Rims, Part]
) -> tuple[list[int], dict[Rims, Part]]:
    """As `cheapest`, part by part: at a forced cell, whose leaving is no pop, it does not matter what came before.

    first_cell: where in the recording it begins. known: parts of an earlier choice; those that cost the same are taken over,
    so that after an edit only what lies between the two contacts around it is chosen anew. Also returns all parts.
    """
    ends = sorted({0, len(costs) - 1, *forced})
    path: list[int] = []
    parts: dict[Rims, Part] = {}
    for first, last in pairwise(ends) if len(ends) > 1 else [(0, 0)]:
        rims = (first_cell + first, first_cell + last, first == 0)
        rows, before = costs[first : last + 1], known.get(rims)
        if before is None or not np.array_equal(before.costs, rows):
            inside = {cell - first: forced[cell] for cell in (first, last) if cell in forced}
            before = Part(rows, _part_path(rows, inside, pops[first : last + 1], begins=first == 0))
        parts[rims] = before
        path[first:] = before.path
    return path, parts


def _part_path(rows: Doubles, forced: dict[int, int], pops: Doubles, *, begins: bool) -> tuple[int, ...]:
    if not begins:  # the first cell was counted with the part before
        rows = rows.copy()
        rows[0, np.arange(rows.shape[1]) != forced[0]] += FORBIDDEN
    return tuple(cheapest(rows, forced, pops).tolist())


def cheapest(costs: Doubles, forced: Mapping[int, int], pops: Doubles) -> Ints:
    """The cheapest sequence of mouths, (cells,). Two states a mouth: just shown (fresh), and shown before (held).

    costs: (cells, mouths). forced: cells with a mouth of their own, whose going after one cell is no pop. pops: (cells,) what
    it costs to leave a mouth that was shown in that cell only. A fresh mouth comes from whichever mouth is cheapest to leave,
    or the second cheapest if it is that one itself; only these two are remembered for each cell.
    """
    cells, mouths = costs.shape
    fresh, held = costs[0].copy(), np.full(mouths, np.inf)
    fresh[1:] += CHANGE  # a recording begins at rest unless something speaks at once
    stayed = np.zeros((cells, mouths), np.bool_)  # whether a held mouth was held before
    leavers = np.zeros((cells, 2), np.int_)  # the two mouths to leave
    was_held = np.zeros((cells, 2), np.bool_)  # whether they had been held
    for cell, pop in enumerate(pops[: cells - 1].tolist(), 1):
        popping = fresh + pop
        if cell - 1 in forced:
            popping[forced[cell - 1]] -= pop
        leaving = np.minimum(popping, held)
        first = int(leaving.argmin())
        best = leaving[first]
        leaving[first] = np.inf
        second = int(leaving.argmin())
        leavers[cell] = first, second
        was_held[cell] = held[first] <= popping[first], held[second] <= popping[second]
        stayed[cell] = held <= fresh
        here = costs[cell]
        held = np.minimum(fresh, held) + here
        fresh = here + (best + CHANGE)
        fresh[first] = here[first] + leaving[second] + CHANGE
    path = np.zeros(cells, np.int_)
    is_held = bool(held.min() <= fresh.min())
    mouth = int(held.argmin() if is_held else fresh.argmin())
    for cell in range(cells - 1, -1, -1):
        path[cell] = mouth
        if is_held:
            is_held = bool(stayed[cell, mouth])
        else:
            which = int(leavers[cell, 0] == mouth)
            mouth, is_held = int(leavers[cell, which]), bool(was_held[cell, which])
    return path
