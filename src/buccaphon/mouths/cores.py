"""Cores: what is held fixed before the rest of a passage is chosen. Contacts before rests, these before stressed vowels."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby, pairwise
from typing import NamedTuple

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.segments import COARSE, Exposed, Kind, Segment, without
from buccaphon.mouths.settings import SettingsTrack
from buccaphon.mouths.units import Unit

ONE, TWO = 1 / 24, 2 / 24  # seconds that a contact is seen: at least, and where there is room
_TOUCH = 1e-6  # seconds; sounds nearer to each other have no pause between
_BETWEEN = 0.02  # seconds of sound between two contacts that have something to show
_LEAST_REST = 0.02  # seconds
_BITE, _LONG, _LONGEST = (
    0.6,
    2.0,
    0.15,
)  # how a contact reads: teeth against lips, a second of it, and no more seconds than
_EARLIER, _LATER = 0.06, 0.09  # seconds that a stressed vowel's core may lie before and after when it wants to be seen
_COARSE_EARLIER = 0.06  # seconds that a contact may come earlier still on coarse exposures


@dataclass(slots=True)
class Touch:
    """A contact, of one sound or of neighbours with the same mouth. length: seconds of sound."""

    mouth: int
    on: float
    off: float
    start: float
    end: float
    length: float


def touches(units: Sequence[Unit], chart: Chart) -> list[Touch]:
    """The contacts of a passage, in order."""
    found: list[Touch] = []
    before: Unit | None = None
    contacts = chart.touching
    for unit in units:
        if not unit.symbol or not contacts[unit.mouth]:
            before = None
            continue
        if before is not None and before.mouth == unit.mouth and before.end >= unit.start - _TOUCH:
            last = found[-1]
            last.off, last.end, last.length = unit.off, unit.end, last.length + unit.end - unit.start
        else:
            found.append(Touch(unit.mouth, unit.on, unit.off, unit.start, unit.end, unit.end - unit.start))
        before = unit
    return found


def cores_of(
    units: Sequence[Unit],
    stressed: Sequence[Unit],
    contacts: Sequence[Touch],
    chart: Chart,
    exposed: Exposed,
    mouth_settings: SettingsTrack,
) -> list[Segment]:
    """What is fixed in a passage, in order of time, not overlapping. stressed: those of its units."""
    least = min(ONE, exposed.edges[1] - exposed.edges[0]) / 2
    fixed = [core for core in _contacts(contacts, chart, exposed, mouth_settings) if core.length > least]
    fixed.sort(key=_start)
    rests = [exposed.snapped(core) for core in without(_rests(units, exposed, chart.rests), fixed)]
    fixed = sorted((*fixed, *without([core for core in rests if core.length > 0], fixed)), key=_start)
    vowels = [exposed.snapped(core) for core in _vowels(stressed, fixed, chart, exposed, mouth_settings)]
    return sorted((*fixed, *without([core for core in vowels if core.length > 0], fixed)), key=_start)


def _start(segment: Segment) -> float:
    return segment.start


def _reads(touch: Touch, chart: Chart) -> float:
    """What is missed most when it is not seen: lips before teeth, long before short."""
    pose = chart.mouths[touch.mouth].pose
    return pose.press + _BITE * pose.bite + _LONG * min(touch.length, _LONGEST)


def _contacts(
    contacts: Sequence[Touch], chart: Chart, exposed: Exposed, mouth_settings: SettingsTrack
) -> list[Segment]:
    found: list[Segment] = []
    for coarse, run in groupby(contacts, lambda touch: exposed.size(touch.on) >= COARSE):
        alike = list(run)
        found += _in_cells(alike, chart, exposed) if coarse else _in_seconds(alike, chart, exposed, mouth_settings)
    return found


def _in_seconds(
    contacts: Sequence[Touch], chart: Chart, exposed: Exposed, mouth_settings: SettingsTrack
) -> list[Segment]:
    """Fine exposures: for every contact one frame at 24 at least, two where there is room."""
    begin = exposed.edges[0]
    starts = [max(touch.on, begin) for touch in contacts]
    ends = [start + TWO for start in starts]
    for n, (left, right) in enumerate(pairwise(contacts)):
        need = mouth_settings.at(right.on).seen_at_least if right.start - left.end > _BETWEEN else 0.0
        if ends[n] + need > starts[n + 1]:
            ends[n] = max(starts[n] + ONE, starts[n + 1] - need)
            if ends[n] > starts[n + 1]:  # no room at all: they share what there is
                ends[n] = starts[n + 1] = starts[n] + ONE
                ends[n + 1] = max(ends[n + 1], starts[n + 1] + ONE)
    return [
        Segment(touch.mouth, start, end, Kind.CONTACT, _reads(touch, chart))
        for touch, start, end in zip(contacts, starts, ends, strict=True)
    ]


@dataclass(slots=True)
class _Taken:
    """A coarse exposure for a contact, among those from `first` to `last` that would do."""

    cell: int
    first: int
    last: int
    mouth: int
    reads: float


def _in_cells(contacts: Sequence[Touch], chart: Chart, exposed: Exposed) -> list[Segment]:
    """Coarse exposures: one for every contact. Where two want the same, one moves if it can, else the one that reads more
    stays."""
    taken = [_wanted_cell(touch, chart, exposed) for touch in contacts]
    at = 1
    while at < len(taken):
        left, right = taken[at - 1], taken[at]
        if right.cell > left.cell or (right.cell == left.cell and right.mouth == left.mouth):
            at += 1
            continue
        free_before = at < 2 or taken[at - 2].cell < left.cell - 1 or taken[at - 2].mouth == left.mouth
        free_after = at + 1 >= len(taken) or taken[at + 1].cell > left.cell + 1 or taken[at + 1].mouth == right.mouth
        if right.last > left.cell and free_after:
            right.cell = left.cell + 1
        elif left.first < left.cell and free_before and left.first <= right.cell - 1:
            left.cell = right.cell - 1
        elif right.last > left.cell:
            right.cell = left.cell + 1
        else:
            taken.pop(at - 1 if left.reads < right.reads else at)
            at = max(at - 1, 1)
            continue
        at += 1
    found: list[Segment] = []
    for each in taken:
        start, end = exposed.edges[each.cell], exposed.edges[each.cell + 1]
        if not (found and found[-1].mouth == each.mouth and found[-1].start == start):
            found.append(Segment(each.mouth, start, end, Kind.CONTACT, each.reads))
    return found


def _wanted_cell(touch: Touch, chart: Chart, exposed: Exposed) -> _Taken:
    """The exposure that a contact overlaps most."""
    edges = exposed.edges
    first = exposed.cell(touch.on - _COARSE_EARLIER)
    last = max(exposed.cell(max(touch.end - 0.01, touch.off) - 1e-9), first)
    until = max(touch.off, touch.on + _COARSE_EARLIER)
    shared = [min(edges[cell + 1], until) - max(edges[cell], touch.on) for cell in range(first, last + 1)]
    best = first + max(range(len(shared)), key=shared.__getitem__)
    return _Taken(best, first, last, touch.mouth, _reads(touch, chart))


def _rests(units: Sequence[Unit], exposed: Exposed, rests: int) -> list[Segment]:
    """The whole wanted time of each pause that comes to rest."""
    found = []
    for number, unit in enumerate(units):
        if not unit.symbol and unit.weight > 0 and unit.off - unit.on > _LEAST_REST:
            start = exposed.edges[0] if number == 0 else unit.on
            end = exposed.edges[-1] if number == len(units) - 1 else unit.off
            if end > start:
                found.append(Segment(rests, start, end, Kind.REST))
    return found


class _Wanted(NamedTuple):
    """A core for a stressed vowel of `length` seconds, best about its `middle`, anywhere between `low` and `high`. lasts:
    seconds that the vowel wants to be seen."""

    mouth: int
    middle: float
    length: float
    low: float
    high: float
    lasts: float


def _vowels(
    stressed: Sequence[Unit], busy: Sequence[Segment], chart: Chart, exposed: Exposed, mouth_settings: SettingsTrack
) -> list[Segment]:
    """The best stretch of each stressed vowel's time that nothing else has taken."""
    starts, ends = [core.start for core in busy], [core.end for core in busy]
    gaps: dict[int, list[_Wanted]] = {}  # by the number of the core after it
    for unit in stressed:
        if chart.touching[unit.mouth]:
            continue
        middle = (unit.on + unit.off) / 2
        cell = exposed.size(middle)
        length = max(mouth_settings.at(middle).seen_at_least, cell) if cell < COARSE else cell
        after = bisect_right(starts, middle)
        if after and ends[after - 1] > middle and ends[after - 1] - middle > middle - starts[after - 1]:
            after -= 1  # the gap before what is there, else the one after it
        low = max(ends[after - 1] if after else exposed.edges[0], unit.on - _EARLIER)
        high = min(starts[after] if after < len(starts) else exposed.edges[-1], unit.off + _LATER)
        if high - low > length - _TOUCH:
            gaps.setdefault(after, []).append(_Wanted(unit.mouth, middle, length, low, high, unit.off - unit.on))
    found: list[Segment] = []
    for wanted in gaps.values():
        found += _side_by_side(_that_fit(wanted) if len(wanted) > 1 else wanted)
    return found


def _that_fit(wanted: Sequence[_Wanted]) -> list[_Wanted]:
    """As many as fit beside each other, in order; the longest vowels first."""
    found: list[_Wanted] = []
    for each in sorted(wanted, key=lambda each: -each.lasts):
        more = sorted((*found, each), key=lambda each: each.middle)
        at = -math.inf
        for one in more:
            at = max(at, one.low) + one.length
            if at > one.high + _TOUCH:
                break
        else:
            found = more
    return found


def _side_by_side(wanted: Sequence[_Wanted]) -> list[Segment]:
    """Each as near to its middle as those before and after it leave it room."""
    found: list[Segment] = []
    before = -math.inf
    for number, each in enumerate(wanted):
        latest = math.inf
        for other in reversed(wanted[number:]):
            latest = min(latest, other.high) - other.length
        start = min(max(each.middle - each.length / 2, each.low, before), latest)
        before = start + each.length
        found.append(Segment(each.mouth, start, before, Kind.STRESSED))
    return found
