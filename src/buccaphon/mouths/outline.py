"""A passage while it is planned: what each mouth costs at each tick, what is fixed, and what is to be chosen between."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import zip_longest

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.cores import cores_of
from buccaphon.mouths.costs import where_may_cut
from buccaphon.mouths.grid import Grid
from buccaphon.mouths.passages import Passage
from buccaphon.mouths.placing import shortest_length
from buccaphon.mouths.programme import TICK, Costs, Known, Part, Row, tick_of
from buccaphon.mouths.segments import COARSE, Exposed, Kind, Segment, tidied
from buccaphon.mouths.settings import SettingsTrack
from buccaphon.mouths.wants import Wants, wants_of
from buccaphon.timing import FrameRate

_CHANGE, _CHANGE_DETAILED = 0.014, 0.004  # seconds of a mouth wrong by 1 that a change costs as much as
_DEARER = 1.8  # how the price of a change rises where there are too many


@dataclass(slots=True, eq=False)
class Outline:
    """cores: what is fixed, with the ticks from and up to which. parts: before, between and after them; rows: what is chosen
    in each. stretches: for each part in which stretch between two rests it lies. most: changes that each of these may have.
    rests: the mouth of silence. known: all that was asked for."""

    exposed: Exposed
    wants: Wants
    costs: Costs
    cores: list[tuple[Segment, int, int]]
    parts: list[Part]
    stretches: list[int]
    most: list[float]
    rests: int
    rows: list[Row] = field(default_factory=list)
    known: dict[Part, Known] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.rows = [()] * len(self.parts)

    def make_busy_dearer(self) -> list[int]:
        """Raise the price of a change in the stretches with too many; the numbers of their parts."""
        changes = [0] * len(self.most)
        for part, row, stretch in zip(self.parts, self.rows, self.stretches, strict=True):
            ends_right = row[-1][0] == part.right if row else part.left == part.right
            changes[stretch] += len(row) + (not ends_right)
        busy = [made > most for made, most in zip(changes, self.most, strict=True)]
        found = [number for number, stretch in enumerate(self.stretches) if busy[stretch]]
        for number in found:
            self.parts[number] = self.parts[number]._replace(change=self.parts[number].change * _DEARER)
        return found

    def segments(self) -> list[Segment]:
        """The plan so far, in seconds, tidied."""
        found: list[Segment] = []
        mouth, at, kind, reads = self.rests, self.exposed.edges[0], Kind.REST, 0.0
        for row, fixed in zip_longest(self.rows, self.cores):
            for chosen, tick in row:
                begin = tick * TICK
                found.append(Segment(mouth, at, begin, kind, reads))
                mouth, at, kind, reads = chosen, begin, Kind.CHOSEN, 0.0
            if fixed is not None:
                core, tick, _ = fixed
                exact = core.kind >= Kind.CONTACT and abs(core.start - tick * TICK) < TICK
                begin = core.start if exact else tick * TICK
                found.append(Segment(mouth, at, begin, kind, reads))
                mouth, at, kind, reads = core.mouth, begin, core.kind, core.reads
        found.append(Segment(mouth, at, self.exposed.edges[-1], kind, reads))
        return tidied(found)


def outlines_of(
    passages: Sequence[Passage],
    chart: Chart,
    rate: FrameRate,
    grid: Grid,
    mouth_settings: SettingsTrack,
    before: Sequence[Wants] = (),
) -> list[Outline]:
    """The outline of each passage, with nothing chosen yet. before: what was wanted of some of the passages earlier."""
    step = grid.step / float(rate.value) if grid.step else None
    exposed = [Exposed(grid.seconds(passage.first, passage.end, rate).tolist(), step) for passage in passages]
    ticks = [(tick_of(each.edges[0]), tick_of(each.edges[-1])) for each in exposed]
    found = []
    for wants, each in zip(wants_of(passages, ticks, chart, mouth_settings, before), exposed, strict=True):
        cores = cores_of(wants.units, wants.stressed, wants.contacts, chart, each, mouth_settings)
        costs = Costs(wants.per_tick, where_may_cut(each, wants.ticks), wants.ticks[0], chart.shut)
        found.append(_outline(wants, each, costs, cores, mouth_settings, chart.rests))
    return found


def _outline(
    wants: Wants, exposed: Exposed, costs: Costs, cores: Sequence[Segment], mouth_settings: SettingsTrack, rests: int
) -> Outline:
    at, end = wants.ticks
    left, stretch = rests, 0
    alike = exposed.step is not None and not mouth_settings.here
    usual = _Ways.at(at * TICK, exposed, mouth_settings) if alike else None
    kept: list[tuple[Segment, int, int]] = []
    parts: list[Part] = []
    stretches: list[int] = []
    pauses: list[float] = []
    for core in cores:
        first, last = max(tick_of(core.start), at), min(tick_of(core.end), end)
        if last <= first:
            continue
        ways = usual or _Ways.at(at * TICK, exposed, mouth_settings)
        parts.append(Part(at, first, left, core.mouth, ways.shortest, ways.change))
        kept.append((core, first, last))
        stretches.append(stretch)
        if core.kind is Kind.REST:
            stretch += 1
            pauses.append(core.start)
        left, at = core.mouth, last
    ways = usual or _Ways.at(at * TICK, exposed, mouth_settings)
    parts.append(Part(at, max(end, at), left, rests, ways.shortest, ways.change))
    stretches.append(stretch)
    spoken, middles = [0.0] * (stretch + 1), [exposed.edges[0]] * (stretch + 1)
    within, pauses = 0, [*pauses, math.inf]
    for said in wants.said:
        last_sound = said.units[-1].start
        while pauses[within] <= last_sound:
            within += 1
        spoken[within] += said.spoken
        middles[within] = last_sound
    most = [
        mouth_settings.at(moment).ceiling * seconds + 1 if seconds else float("inf")
        for seconds, moment in zip(spoken, middles, strict=True)
    ]
    return Outline(exposed, wants, costs, kept, parts, stretches, most, rests)


@dataclass(frozen=True, slots=True)
class _Ways:
    """How mouths follow each other with some settings. shortest: ticks. change: what it costs."""

    shortest: int
    change: float

    @classmethod
    def at(cls, seconds: float, exposed: Exposed, mouth_settings: SettingsTrack) -> _Ways:
        settings, size = mouth_settings.at(seconds), exposed.size(seconds)
        whole = shortest_length(seconds, exposed, mouth_settings) * size
        shortest = whole if size >= COARSE else min(settings.seen_at_least, whole)
        return cls(max(tick_of(shortest), 1), _CHANGE + settings.detail * (_CHANGE_DETAILED - _CHANGE))
