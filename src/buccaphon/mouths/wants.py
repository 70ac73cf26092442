"""The inputs of planning a passage and their costs, recomputed only where they changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import compress, count
from operator import ne

from buccaphon.arrays import Doubles
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.cores import Touch, touches
from buccaphon.mouths.costs import FELT, costs_per_tick, keep_contacts_near
from buccaphon.mouths.passages import Passage
from buccaphon.mouths.programme import tick_of
from buccaphon.mouths.settings import SettingsTrack
from buccaphon.mouths.units import Said, Unit, said_in, units_of

Ticks = tuple[int, int]  # from and up to


@dataclass(frozen=True, slots=True, eq=False)
class Wants:
    """said: the words; units, contacts: all that wants to be seen, in order; stressed: some of the units. per_tick: (ticks,
    mouths) what each mouth costs."""

    ticks: Ticks
    said: Sequence[Said]
    units: Sequence[Unit]
    stressed: Sequence[Unit]
    contacts: Sequence[Touch]
    per_tick: Doubles


def wants_of(
    passages: Sequence[Passage],
    ticks: Sequence[Ticks],
    chart: Chart,
    mouth_settings: SettingsTrack,
    before: Sequence[Wants] = (),
) -> list[Wants]:
    """ticks: of each passage. before: what was wanted of some of them, in the same chart and settings; the result is the same
    without it."""
    kept = [_of_the_same(passage, rims, before) for passage, rims in zip(passages, ticks, strict=True)]
    said = [
        said_in(passage, chart, mouth_settings, was.said if was else ())
        for passage, was in zip(passages, kept, strict=True)
    ]
    units = [units_of(passage, words, chart, mouth_settings) for passage, words in zip(passages, said, strict=True)]
    contacts = [touches(each, chart) for each in units]
    new = [number for number, was in enumerate(kept) if was is None]
    made = dict(zip(new, costs_per_tick([units[n] for n in new], chart, [ticks[n] for n in new]), strict=True))
    for number, costs in made.items():
        keep_contacts_near(costs, ticks[number][0], units[number], contacts[number], chart)
    return [
        Wants(
            ticks[n],
            said[n],
            units[n],
            [unit for each in said[n] for unit in each.stressed],
            contacts[n],
            made[n] if was is None else _made_over(was, units[n], contacts[n], chart),
        )
        for n, was in enumerate(kept)
    ]


def _of_the_same(passage: Passage, ticks: Ticks, before: Sequence[Wants]) -> Wants | None:
    alike = (was for was in before if was.ticks == ticks and len(was.said) == len(passage.words))
    return next(alike, None)


def _made_over(was: Wants, units: Sequence[Unit], contacts: Sequence[Touch], chart: Chart) -> Doubles:
    """The costs of before, made anew at the ticks that units are felt at that differ."""
    differing = list(compress(count(), map(ne, was.units, units)))
    if len(was.units) == len(units) and not differing:
        return was.per_tick
    # a contact of several sounds reaches from the first of them to the last: one more on either side is looked at
    first = max((differing[0] if differing else min(len(was.units), len(units))) - 1, 0)
    alike_behind = next(compress(count(), map(ne, reversed(was.units), reversed(units))), 0)
    behind = max(alike_behind - 1, 0)
    touched = [*was.units[first : len(was.units) - behind], *units[first : len(units) - behind]]
    start, end = min(unit.on for unit in touched) - FELT, max(max(unit.off, unit.end) for unit in touched) + FELT
    low, high = max(tick_of(start) - 1, was.ticks[0]), min(tick_of(end) + 2, was.ticks[1])
    near = [unit for unit in units if unit.on - FELT <= end and unit.off + FELT >= start]
    (part,) = costs_per_tick([near], chart, [(low, high)])
    near_contacts = [touch for touch in contacts if touch.on - FELT <= end and touch.off + FELT >= start]
    keep_contacts_near(part, low, units, near_contacts, chart)
    costs = was.per_tick.copy()
    costs[low - was.ticks[0] : high - was.ticks[0]] = part
    return costs
