"""Between two cores: the cheapest row of mouths that each stay for a shortest time, by a semi-Markov dynamic programme.

Time runs in ticks of 1/72 s, which divides the frames of 24 frames a second and their twos and threes. All parts go in step.
(Segmental dynamic programming: Ostendorf, Digalakis and Kimball, "From HMMs to segment models", 1996.)
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from operator import add
from typing import NamedTuple

import numpy as np

from buccaphon.arrays import Bools, Doubles

TICK = 1 / 72  # seconds
_SHORT = 24  # ticks
_FEW = 10  # parts that go in step whatever their lengths
_LITTLE = 80  # ticks that are gone through by hand


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


Known = tuple[bytes, Row]
"""What each mouth cost at the ticks of a part, and the row chosen by that."""

Memory = Mapping[Part, Known]


def known_or_cheapest(asked: Sequence[tuple[Part, Costs]], before: Memory) -> list[Known]:
    """The cheapest row of each part. before: of parts asked for earlier, on the same exposures."""
    costs = [of.per_tick[part.first - of.first : part.end - of.first].tobytes() for part, of in asked]
    found = {n: known for n, (part, _) in enumerate(asked) if (known := before.get(part)) and known[0] == costs[n]}
    new = [n for n in range(len(asked)) if n not in found]
    made = cheapest_rows([asked[n] for n in new])
    found |= {n: (costs[n], row) for n, row in zip(new, made, strict=True)}
    return [found[n] for n in range(len(asked))]


def cheapest_rows(asked: Sequence[tuple[Part, Costs]]) -> list[Row]:
    """The cheapest rows of some parts, with the costs of their passages; those of about one length in step."""
    alike: dict[tuple[int, int], list[int]] = {}
    rows: list[Row] = [()] * len(asked)
    for number, (part, _) in enumerate(asked):
        if part.end > part.first:
            size = _size_class(part.end - part.first) if len(asked) > _FEW else 0
            alike.setdefault((part.shortest, size), []).append(number)
        elif part.left != part.right:
            rows[number] = ((part.right, part.first),)
    for (shortest, _), numbers in alike.items():
        together = [asked[number] for number in numbers]
        little = sum(part.end - part.first for part, _ in together) <= _LITTLE
        found = map(row_by_hand, *zip(*together, strict=True)) if little else rows_together(together, shortest)
        for number, row in zip(numbers, found, strict=True):
            rows[number] = row
    return rows


def row_by_hand(part: Part, costs: Costs) -> Row:
    """The cheapest row of one part, tick by tick; for few ticks this is quicker than arrays."""
    length, shortest, right = part.end - part.first, part.shortest, part.right
    ticks = slice(part.first - costs.first, part.end - costs.first)
    mouths, shut = range(len(costs.shut)), costs.shut.nonzero()[0].tolist()
    spent = [0.0 for _ in mouths]
    rows = [spent]
    for tick in costs.per_tick[ticks].tolist():
        spent = list(map(add, spent, tick))
        rows.append(spent)
    may_cut = [True] * length if costs.may_cut is None else costs.may_cut[ticks].tolist()
    since = [[math.inf for _ in mouths]]  # the least that entered before a tick
    entering, leaving, begun = list[list[float]](), list[list[float]](), list[float]()
    for at, (spent, may) in enumerate(zip(rows, [*may_cut, True], strict=True)):
        before = since[max(at - shortest + 1, 0)]
        held = [min(before[mouth], 0.0) if mouth == part.left else before[mouth] for mouth in mouths]
        left = list(map(add, held, spent))
        leaving.append(left)
        least, next_least = sorted(left)[:2]
        costs_now = [
            ((least if cost > least else next_least) + part.change if may else math.inf) - paid
            for cost, paid in zip(left, spent, strict=True)
        ]
        begun.append(costs_now[right])
        for mouth in shut:
            costs_now[mouth] = math.inf
        entering.append(costs_now)
        since.append(list(map(min, since[-1], costs_now)))

    def entered(until: int, mouth: int) -> int:
        column = [costs_then[mouth] for costs_then in entering[:until]]
        return column.index(min(column))

    return _row(part, begun, leaving.__getitem__, lambda tick, mouth: since[tick][mouth], entered)


def _size_class(ticks: int) -> int:
    """Parts of one class are at most about half as long again as each other."""
    return ticks // 3 if ticks < _SHORT else _SHORT + int(2 * math.log2(ticks))


def rows_together(asked: Sequence[tuple[Part, Costs]], shortest: int) -> list[Row]:
    """The cheapest rows of parts with the same shortest time. All arrays are (ticks + 1, mouths, parts).

    What a mouth costs from the start of the part up to a tick is taken off everywhere, so that what is held costs nothing.
    What begins at a tick can be left no sooner than the shortest time later: so many ticks are done at once.
    """
    parts = [part for part, _ in asked]
    spent, may_cut = _spent(asked)
    change = np.array([part.change for part in parts])
    shut = asked[0][1].shut
    held = np.full(spent.shape, np.inf)  # of a mouth that may be left, less what it has cost since the start
    held[:, [part.left for part in parts], np.arange(len(parts))] = 0.0
    begun, entering = np.empty_like(spent), np.empty_like(spent)
    since = np.full((len(spent) + 1, *spent.shape[1:]), np.inf)  # the least that entered before a tick
    for low in range(0, len(spent), shortest):
        now = slice(low, low + shortest)
        costs = _begin(held[now] + spent[now], change, None if may_cut is None else may_cut[now])
        costs -= spent[now]
        begun[now] = costs
        costs[:, shut] = np.inf
        entering[now] = costs
        least = np.minimum.accumulate(costs, axis=0)
        np.minimum(least, since[low], out=since[low + 1 : low + shortest + 1])
        later = held[low + shortest : low + 2 * shortest]
        np.minimum(later, since[low + 1 : low + 1 + len(later)], out=later)
    held += spent
    tables = [(begun[:, :, n], entering[:, :, n], since[:, :, n], held[:, :, n]) for n in range(len(parts))]
    return [_row_of(part, *table) for part, table in zip(parts, tables, strict=True)]


def _row_of(part: Part, begun: Doubles, entering: Doubles, since: Doubles, leaving: Doubles) -> Row:
    """All are (ticks + 1, mouths) of this part, `since` one tick more."""
    return _row(
        part,
        begun[: part.end - part.first + 1, part.right].tolist(),
        lambda tick: leaving[tick].tolist(),
        lambda tick, mouth: float(since[tick, mouth]),
        lambda tick, mouth: int(entering[:tick, mouth].argmin()),
    )


def _spent(asked: Sequence[tuple[Part, Costs]]) -> tuple[Doubles, Bools | None]:
    """What each mouth has cost from a part's start up to each tick, and (ticks + 1, parts) where a mouth may begin; None for
    anywhere."""
    longest = max(part.end - part.first for part, _ in asked)
    spent = np.zeros((longest + 1, len(asked[0][1].shut), len(asked)))
    may_cut = None if all(of.may_cut is None for _, of in asked) else np.ones((longest + 1, len(asked)), np.bool_)
    for number, (part, of) in enumerate(asked):
        begin, end = part.first - of.first, part.end - of.first
        spent[1 : end - begin + 1, :, number] = of.per_tick[begin:end]
        if may_cut is not None and of.may_cut is not None:
            may_cut[: end - begin, number] = of.may_cut[begin:end]  # with its end the core begins, which it always may
    return np.cumsum(spent, axis=0, out=spent), may_cut


def _begin(leaving: Doubles, change: Doubles, may_cut: Bools | None) -> Doubles:
    """What it costs to begin each mouth at each tick, after the cheapest other one. leaving: of each mouth that is left
    then."""
    if leaving.shape[2] <= _FEW:
        least, next_least = np.partition(leaving, 1, axis=1)[:, :2].swapaxes(0, 1)
    else:  # the same, and quicker for many
        least, next_least = _two_least(leaving)
    begun: Doubles = np.where(leaving > least[:, None], least[:, None], next_least[:, None])
    begun += change
    if may_cut is not None:
        np.copyto(begun, np.inf, where=~may_cut[:, None])
    return begun


def _two_least(leaving: Doubles) -> tuple[Doubles, Doubles]:
    least = leaving[:, 0].copy()
    next_least = np.full_like(least, np.inf)
    for mouth in range(1, leaving.shape[1]):
        np.minimum(next_least, np.maximum(least, leaving[:, mouth]), out=next_least)
        np.minimum(least, leaving[:, mouth], out=least)
    return least, next_least


def _row(
    part: Part,
    begun: list[float],
    left: Callable[[int], list[float]],
    least_since: Callable[[int, int], float],
    entered: Callable[[int, int], int],
) -> Row:
    """The row of a part, found from its end to its start. begun: what it costs to begin the right core's mouth at each tick.
    left(tick): what it costs to leave each mouth then. least_since(tick, mouth), entered(tick, mouth): the least that entered
    the mouth before then, and when."""
    mouth = part.right
    begin = begun.index(min(begun))
    if mouth == part.left and begun[begin] >= 0.0:
        return ()
    row = [(mouth, part.first + begin)]
    while True:
        others = left(begin)
        others[mouth] = math.inf
        mouth = others.index(min(others))
        until = begin - part.shortest + 1
        if mouth == part.left and (until <= 0 or least_since(until, mouth) >= 0.0):
            return tuple(reversed(row))
        begin = entered(until, mouth)
        row.append((mouth, part.first + begin))
