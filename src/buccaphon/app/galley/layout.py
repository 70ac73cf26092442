"""Where everything in the galley lies: strips, lanes, and seconds against pixels. No Qt in here."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

from buccaphon.app.galley.look import Lane, Look, Wrap
from buccaphon.score.records import Score
from buccaphon.timing import Span

MARGIN = 18  # pixels left and right of the strips
GAP = 20  # between strips
_PAUSE = 0.12  # seconds; a gap this long is a good place to break
_MOST_STRETCH = 1.2  # how far the scale may grow so that the longest strip fills the page
_LATE = 0.62  # share of the width before which not even a pause is worth a break
_PIECE = 640.0  # pixels of one piece of the endless strip


class Strip(NamedTuple):
    """One row, or one piece of the endless strip: its time, and where it begins on the page, in pixels."""

    index: int
    start: float
    end: float
    left: float
    top: int


@dataclass(frozen=True, slots=True)
class Place:
    """A point of the page in the galley's own terms."""

    strip: Strip
    lane: Lane
    seconds: float


@dataclass(frozen=True, slots=True)
class Layout:
    """All strips at one scale. scale: pixels a second. width, height: of the page."""

    strips: tuple[Strip, ...]
    scale: float
    width: int
    look: Look

    @property
    def strip_height(self) -> int:
        return sum(self.look.height(lane) for lane in Lane)

    @property
    def height(self) -> int:
        last = self.strips[-1].top if self.strips else 0
        return last + self.strip_height + GAP

    def lane_top(self, lane: Lane) -> int:
        """From the top of its strip, in pixels."""
        return sum(self.look.height(other) for other in tuple(Lane)[: list(Lane).index(lane)])

    def x(self, strip: Strip, seconds: float) -> float:
        return strip.left + (seconds - strip.start) * self.scale

    def seconds(self, strip: Strip, x: float) -> float:
        """The moment under a pixel, kept inside the strip."""
        return min(max(strip.start + (x - strip.left) / self.scale, strip.start), strip.end)

    def strip_of(self, seconds: float) -> Strip | None:
        """The strip that shows a moment; at a break the later one."""
        if not self.strips:
            return None
        at = bisect_right(self.strips, seconds, key=lambda strip: strip.start) - 1
        return self.strips[max(at, 0)]

    def place(self, x: float, y: float) -> Place | None:
        """What lies under a point of the page; between strips the one above counts."""
        if not self.strips:
            return None
        if self.look.wrap is Wrap.PAGE:
            index = int((y - MARGIN) // (self.strip_height + GAP))
        else:
            index = bisect_right(self.strips, x, key=lambda strip: strip.left) - 1
        strip = self.strips[min(max(index, 0), len(self.strips) - 1)]
        inner = y - strip.top
        lane = next((lane for lane in reversed(self.look.lanes) if inner >= self.lane_top(lane)), Lane.RULER)
        return Place(strip, lane, self.seconds(strip, x))

    def edge_near(self, y: float, within: int) -> Lane | None:
        """The lane whose lower edge lies within so many pixels of a height of the page."""
        place = self.place(0, y)
        if place is None:
            return None
        for lane in self.look.lanes:
            bottom = place.strip.top + self.lane_top(lane) + self.look.height(lane)
            if abs(bottom - y) <= within:
                return lane
        return None

    def visible(self, left: float, top: float, right: float, bottom: float) -> Sequence[Strip]:
        """The strips that are at least partly in a rectangle of the page."""
        if self.look.wrap is Wrap.PAGE:
            first = bisect_left(self.strips, top - self.strip_height, key=lambda strip: strip.top)
            last = bisect_right(self.strips, bottom, key=lambda strip: strip.top)
        else:
            first = max(bisect_right(self.strips, left, key=lambda strip: strip.left) - 1, 0)
            last = bisect_right(self.strips, right, key=lambda strip: strip.left)
        return self.strips[first:last]


def lay_out(used: Span, score: Score | None, width: int, look: Look) -> Layout:
    """Set the used part of a recording into strips that fit a page, at the look's scale or a little more.

    Breaks fall into pauses where one lies in the last part of the row, else between words, else where the row is full.
    The endless strip is parted in the same way, into pieces that stand side by side.
    """
    paged = look.wrap is Wrap.PAGE
    room = max((width - 2 * MARGIN if paged else _PIECE) / look.scale, 0.25 if paged else 0.05)
    edges = _edges(used, score, room)
    longest = max((end - start for start, end in pairwise(edges)), default=room)
    fitted = min(max(room / longest, 1.0), _MOST_STRETCH) if paged and len(edges) > 2 else 1.0
    scale = look.scale * fitted
    if paged:
        step = sum(look.height(lane) for lane in Lane) + GAP
        strips = [Strip(n, start, end, MARGIN, MARGIN + n * step) for n, (start, end) in enumerate(pairwise(edges))]
    else:
        first, top = used.start, MARGIN
        strips = [
            Strip(n, start, end, MARGIN + (start - first) * scale, top)
            for n, (start, end) in enumerate(pairwise(edges))
        ]
    page = width if paged else round(used.length * scale) + 2 * MARGIN
    return Layout(tuple(strips), scale, page, look)


def _edges(used: Span, score: Score | None, room: float) -> list[float]:
    """Where strips begin and the last one ends."""
    if used.length <= 1e-6:
        return [used.start]
    if score is None:
        return [*(used.start + row * room for row in range(math.ceil(used.length / room - 1e-9))), used.end]
    pauses, gaps = _breaks(score)
    edges = [used.start]
    while used.end - edges[-1] > room:
        edges.append(_best_break(edges[-1], room, pauses, gaps))
    return [*edges, used.end]


def _breaks(score: Score) -> tuple[list[float], list[float]]:
    """The middles of the pauses, and the places between words that follow each other."""
    pauses, gaps = [], []
    for left, right in pairwise(score.words):
        middle = right.start - min((right.start - left.end) / 2, 0.15)
        (pauses if right.start - left.end >= _PAUSE else gaps).append(middle)
    return pauses, gaps


def _best_break(start: float, room: float, pauses: Sequence[float], gaps: Sequence[float]) -> float:
    for places, earliest in ((pauses, start + _LATE * room), (gaps, start + 0.3 * room)):
        at = bisect_right(places, start + room) - 1
        if at >= 0 and places[at] > earliest:
            return places[at]
    return start + room
