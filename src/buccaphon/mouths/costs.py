"""The cost of each mouth at each tick, and where a mouth may begin."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import accumulate, pairwise

import numpy as np

from buccaphon.arrays import Bools, Doubles
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.cores import Touch
from buccaphon.mouths.programme import TICK, tick_of
from buccaphon.mouths.segments import COARSE, Exposed
from buccaphon.mouths.units import Unit

_SMOOTH = 0.03  # seconds; weights rise and fall over twice this
_ASTRAY = 1.0  # a tick: what a contact costs where nothing touches
_NEAR = 0.05  # seconds from when it wants to be seen that a contact may be at least
FELT = max(_SMOOTH, _NEAR)  # seconds before and after it wants to be seen that a unit is felt at most


def costs_per_tick(units: Sequence[Sequence[Unit]], chart: Chart, ticks: Sequence[tuple[int, int]]) -> list[Doubles]:
    """For each passage (ticks, mouths): what each mouth costs at each tick by what wants to be seen then. ticks: of each
    passage, from and up to."""
    if not units:
        return []
    rims = list(accumulate((end - begin for begin, end in ticks), initial=0))
    begins, ends = (np.array(each) for each in zip(*ticks, strict=True))
    live = [(u.on, u.off, u.weight, u.mouth, n) for n, of in enumerate(units) for u in of if u.weight > 0]
    on, off, weight, mouth, passage = np.ascontiguousarray(np.array(live).reshape(-1, 5).T)
    of = passage.astype(np.int_)
    first = np.maximum(((on - _SMOOTH) / TICK).astype(np.int_), begins[of])
    edges = np.maximum(np.minimum(((off + _SMOOTH) / TICK).astype(np.int_) + 2, ends[of] + 1) - first, 1)
    each = np.repeat(np.arange(len(live)), edges)  # one entry for each unit and each rim of a tick in which it counts
    tick = np.arange(len(each)) + (first - np.cumsum(edges) + edges)[each]
    moments = tick * TICK
    risen = (_ramp(moments - on[each]) - _ramp(moments - off[each])) * (weight * (TICK / 2))[each]
    inside = each[1:] == each[:-1]
    share = (risen[1:] + risen[:-1])[inside]
    mouths = len(chart.mouths)
    places = (np.array(rims[:-1]) - begins)[of] * mouths + mouth.astype(np.int_)
    at = (tick * mouths + places[each])[:-1][inside]
    wanted = np.bincount(at, share, rims[-1] * mouths).reshape(-1, mouths)
    # unlike a product of matrices it is the same for few rows as for many
    costs = np.einsum("tm,mk->tk", wanted, chart.distances)
    return [costs[a:b] for a, b in pairwise(rims)]


def _ramp(past: Doubles) -> Doubles:
    """How far a unit's weight has risen, 0..1, so many seconds past the middle of its rise."""
    past *= 1 / (2 * _SMOOTH)
    past += 0.5
    np.maximum(past, 0.0, out=past)
    return np.minimum(past, 1.0, out=past)


def keep_contacts_near(
    costs: Doubles, first: int, units: Sequence[Unit], contacts: Sequence[Touch], chart: Chart
) -> None:
    """Contacts are shown about their own sounds, and in pauses where they are the rest; anywhere else they cost dear."""
    for mouth in np.flatnonzero(chart.contacts).tolist():
        near = [(touch.on, max(touch.off, touch.on + _NEAR)) for touch in contacts if touch.mouth == mouth]
        if mouth == chart.rests:
            near += [(unit.start, unit.end) for unit in units if not unit.symbol]
        astray = np.full(len(costs), _ASTRAY)
        for on, off in near:
            astray[max(tick_of(on) - first, 0) : max(tick_of(off) + 1 - first, 0)] = 0.0
        costs[:, mouth] += astray


def where_may_cut(exposed: Exposed, ticks: tuple[int, int]) -> Bools | None:
    """(ticks + 1,) where a mouth may begin: anywhere on fine exposures, where they begin on coarse ones. None for
    anywhere."""
    if exposed.step is not None and exposed.step < COARSE:
        return None
    first, end = ticks
    edges = np.array(exposed.edges)
    at = (edges / TICK + 0.5).astype(np.int_) - first  # as `tick_of` has it
    coarse = np.diff(edges) >= COARSE
    within = np.zeros(end - first + 2, np.int_)
    np.add.at(within, at[:-1][coarse] + 1, 1)
    np.subtract.at(within, at[1:][coarse], 1)
    may: Bools = np.cumsum(within[:-1]) == 0
    return may
