"""Where everything in the galley lies: strips, lanes, and seconds against pixels. No Qt in here."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum
from itertools import pairwise

from buccaphon.score.records import Score
from buccaphon.timing import Span

MARGIN = 18  # pixels left and right of the strips
GAP = 20  # between strips
_PAUSE = 0.12  # seconds; a gap this long is a good place to break
_MOST_STRETCH = 1.2  # how far the scale may grow so that the longest strip fills the page
_LATE = 0.62  # share of the width before which not even a pause is worth a break


class Lane(Enum):
    """The lanes of a strip, top to bottom, with their heights in pixels."""

    RULER = ("ruler", 24)
    SOUND = ("sound", 76)
    WORDS = ("words", 32)
    PHONES = ("phones", 24)
    MOUTHS = ("mouths", 42)
    JAW = ("jaw", 34)

    @property
    def height(self) -> int:
        return self.value[1]


LANES = tuple(Lane)
STRIP_HEIGHT = sum(lane.height for lane in LANES)
_TOPS = {lane: sum(other.height for other in LANES[:i]) for i, lane in enumerate(LANES)}


@dataclass(frozen=True, slots=True)
class Strip:
    """One row: its time, and its top in page pixels."""

    index: int
    start: float
    end: float
    top: int


@dataclass(frozen=True, slots=True)
class Place:
    """A point of the page in the galley's own terms."""

    strip: Strip
    lane: Lane
    seconds: float


@dataclass(frozen=True, slots=True)
class Layout:
    """All strips at one scale. scale: pixels a second. width: of the page."""

    strips: tuple[Strip, ...]
    scale: float
    width: int

    @property
    def height(self) -> int:
        return MARGIN + len(self.strips) * (STRIP_HEIGHT + GAP)

    def x(self, strip: Strip, seconds: float) -> float:
        return MARGIN + (seconds - strip.start) * self.scale

    def seconds(self, strip: Strip, x: float) -> float:
        """The moment under a pixel, kept inside the strip."""
        return min(max(strip.start + (x - MARGIN) / self.scale, strip.start), strip.end)

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
        index = min(max(int((y - MARGIN) // (STRIP_HEIGHT + GAP)), 0), len(self.strips) - 1)
        strip = self.strips[index]
        inner = y - strip.top
        lane = next((lane for lane in reversed(LANES) if inner >= _TOPS[lane]), Lane.RULER)
        return Place(strip, lane, self.seconds(strip, x))

    def between(self, top: float, bottom: float) -> Sequence[Strip]:
        """The strips that are at least partly in a stretch of the page."""
        return [strip for strip in self.strips if strip.top + STRIP_HEIGHT >= top and strip.top <= bottom]


def lane_top(lane: Lane) -> int:
    """From the top of its strip, in pixels."""
    return _TOPS[lane]


def lay_out(used: Span, score: Score | None, width: int, scale: float) -> Layout:
    """Break the used part of a recording into strips that fit a page, at `scale` pixels a second or a little more.

    Breaks fall into pauses where one lies in the last part of the row, else between words, else where the row is full.
    """
    room = max((width - 2 * MARGIN) / scale, 0.25)
    pauses, gaps = _breaks(score)
    strips: list[Strip] = []
    start, last = used.start, used.end
    while start < last - 1e-6:
        end = last if last - start <= room else _best_break(start, room, pauses, gaps)
        strips.append(Strip(len(strips), start, end, MARGIN + len(strips) * (STRIP_HEIGHT + GAP)))
        start = end
    longest = max((strip.end - strip.start for strip in strips), default=room)
    fitted = min(max(room / longest, 1.0), _MOST_STRETCH) if len(strips) > 1 else 1.0
    return Layout(tuple(strips), scale * fitted, width)


def _breaks(score: Score | None) -> tuple[list[float], list[float]]:
    pauses, gaps = [], []
    words = score.words if score else ()
    for left, right in pairwise(words):
        middle = right.start - min((right.start - left.end) / 2, 0.15)
        (pauses if right.start - left.end >= _PAUSE else gaps).append(middle)
    return pauses, gaps


def _best_break(start: float, room: float, pauses: Sequence[float], gaps: Sequence[float]) -> float:
    for places, earliest in ((pauses, start + _LATE * room), (gaps, start + 0.3 * room)):
        at = bisect_right(places, start + room) - 1
        if at >= 0 and places[at] > earliest:
            return places[at]
    return start + room
