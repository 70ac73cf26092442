"""What a hand put there, laid over what the machine chose: on exactly its frames, whatever stands beside it.

The machine's own line knows nothing of paint. So nothing that is painted moves anything elsewhere, taking paint away brings
back what was there, and a word that is moved still moves the mouths that are the machine's.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.pose import Pose
from buccaphon.timing import FrameRate, Span

_LEAST = 0.035  # seconds; what paint leaves of a mouth is not seen for less, but given to the one beyond
_LIKE = 0.45  # visible distance within which a mouth stands for another without a word


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
class Blank:
    """A stretch without the machine's mouths. holds: a painted mouth stays until the next one; else rest is between them."""

    span: Span
    holds: bool = False


class Laid(NamedTuple):
    """From frame `first` up to frame `end` the mouth of that number. painted: by a hand; else it fills a blank."""

    first: int
    end: int
    mouth: int
    painted: bool = True


def laid_out(
    painted: Iterable[Painted], blanks: Iterable[Blank], chart: Chart, rate: FrameRate, frames: int
) -> tuple[Laid, ...]:
    """What is laid over the frames of a recording, in order, not overlapping.

    Each painted stretch takes the frames between the frame boundaries nearest to its ends. One too short for that has the
    frame that its middle lies in, where nothing else that is painted takes it.
    """
    found, slight = list[Laid](), list[Laid]()
    for paint in sorted(painted, key=lambda paint: paint.span):
        first, end = rate.nearest(paint.span.start), rate.nearest(paint.span.end)
        mouth = chart.standing_for(paint.mouth, paint.pose, paint.contact)
        if end > first:
            first, end = max(first, found[-1].end if found else 0), min(end, frames)
            if end > first:
                found.append(Laid(first, end, mouth))
        else:
            middle = rate.containing((paint.span.start + paint.span.end) / 2)
            slight.append(Laid(middle, middle + 1, mouth))
    for each in slight:
        at = bisect_right(found, each.first, key=lambda laid: laid.first)
        if 0 <= each.first < frames and not (at and found[at - 1].end > each.first):
            found.insert(at, each)
    for blank in sorted(blanks, key=lambda blank: blank.span):
        first, end = rate.nearest(blank.span.start), min(rate.nearest(blank.span.end), frames)
        found = _filled(found, first, end, chart.rests, blank.holds)
    return tuple(found)


def _filled(laid: Sequence[Laid], first: int, end: int, rests: int, holds: bool) -> list[Laid]:
    """With what lies between in a blank from a first frame up to an end. rests: the mouth that does."""
    found = list[Laid]()
    at, held = max(first, 0), rests
    for each in laid:
        if each.end > first and each.first < end:
            if each.first > at:
                found.append(Laid(at, each.first, held, painted=False))
            at, held = max(at, each.end), each.mouth if holds else rests
        elif each.first >= end and at < end:
            found.append(Laid(at, end, held, painted=False))
            at = end
        found.append(each)
    if at < end:
        found.append(Laid(at, end, held, painted=False))
    return found


def lay_over(machine: Sequence[Exposure], laid: Sequence[Laid], chart: Chart, rate: FrameRate) -> tuple[Exposure, ...]:
    """The held mouths with what is laid over them. Of those that lie under its ends what is left is cut, and goes over to the
    mouth beyond where it is too short to be seen; all others stay as they are. Equal neighbours are one."""
    if not laid:
        return tuple(machine)
    found = list[Exposure]()

    def put(each: Exposure) -> None:
        if found and found[-1].mouth == each.mouth and found[-1].end == each.start:
            each = Exposure(each.mouth, found.pop().start, each.end)
        found.append(each)

    at = 0
    for each in laid:
        for left in _between(machine, at, each.first, chart, rate):
            put(left)
        put(Exposure(chart.names[each.mouth], each.first, each.end))
        at = each.end
    for left in _between(machine, at, machine[-1].end if machine else 0, chart, rate):
        put(left)
    return tuple(found)


def _between(machine: Sequence[Exposure], start: int, end: int, chart: Chart, rate: FrameRate) -> Sequence[Exposure]:
    """What is left of the machine's mouths from a frame up to another."""
    if end <= start:
        return ()
    first = bisect_right(machine, start, key=lambda each: each.start) - 1
    last = bisect_left(machine, end, key=lambda each: each.start) - 1
    there = list(machine[first : last + 1])
    there[0] = Exposure(there[0].mouth, start, there[0].end)
    there[-1] = Exposure(there[-1].mouth, there[-1].start, end)
    if len(there) > 1 and start > machine[first].start and _is_sliver(there[0], chart, rate):
        there[:2] = [Exposure(there[1].mouth, start, there[1].end)]
    if len(there) > 1 and end < machine[last].end and _is_sliver(there[-1], chart, rate):
        there[-2:] = [Exposure(there[-2].mouth, there[-2].start, end)]
    return there


def _is_sliver(left: Exposure, chart: Chart, rate: FrameRate) -> bool:
    return rate.seconds(left.length) < _LEAST and not chart.mouths[chart.index(left.mouth)].contact


def laid_otherwise(before: Sequence[Laid], now: Sequence[Laid]) -> list[tuple[int, int]]:
    """The frames, in ranges from a first up to an end, on which another mouth is laid now, or one where there was none."""
    if before == now:
        return []
    same = next((n for n, (a, b) in enumerate(zip(before, now, strict=False)) if a != b), min(len(before), len(now)))
    behind = 0
    while behind < min(len(before), len(now)) - same and before[-1 - behind] == now[-1 - behind]:
        behind += 1
    was, are = before[same : len(before) - behind], now[same : len(now) - behind]
    edges = sorted({edge for each in (*was, *are) for edge in each[:2]})
    found = list[tuple[int, int]]()
    for first, end in pairwise(edges):
        a, b = laid_at(was, first), laid_at(are, first)
        if (a.mouth if a else None) != (b.mouth if b else None):
            joins = found and found[-1][1] == first
            found.append((found.pop()[0] if joins else first, end))
    return found


def laid_at(laid: Sequence[Laid], frame: int) -> Laid | None:
    at = bisect_right(laid, frame, key=lambda each: each.first) - 1
    return laid[at] if at >= 0 and laid[at].end > frame else None


def far_from_painted(painted: Iterable[Painted], chart: Chart) -> list[tuple[str, str]]:
    """The painted mouths that a chart has nothing like, each with the one that stands for it."""
    found: dict[str, str] = {}
    for paint in painted:
        stand = chart.mouths[chart.standing_for(paint.mouth, paint.pose, paint.contact)]
        if paint.mouth != stand.name and (paint.pose is None or stand.pose.distance(paint.pose) > _LIKE):
            found[paint.mouth] = stand.name
    return list(found.items())
