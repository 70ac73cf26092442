"""Where everything in the galley lies: strips, lanes, and seconds against pixels. No Qt in here."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple, overload

import numpy as np
import numpy.typing as npt

from buccaphon.app.galley.look import Lane, Look, Wrap
from buccaphon.score.records import Score
from buccaphon.timing import Span

MARGIN = 18  # pixels left and right of the strips
GAP = 20  # between strips
_PAUSE = 0.12  # seconds; a gap this long is a good place to break
_MOST_STRETCH = 1.2  # how far the scale may grow so that the longest strip fills the page
_LATE = 0.62  # share of the width before which not even a pause is worth a break
_ALONE = 0.4  # of a full strip: a last one that is shorter stands alone
_FILLED = 0.92  # of the page, for words do not break where one would like
_PIECE = 640.0  # pixels of one piece of the endless strip
_REACHES = 0.3  # seconds beyond its rims that what a strip shows may be drawn from


class Strip(NamedTuple):
    """One row, or one piece of the endless strip: its time, and where it begins on the page, in pixels."""

    number: int
    start: float
    end: float
    left: float
    top: int

    def touches(self, span: Span) -> bool:
        """Whether it shows any of a stretch, or what may reach into it from there."""
        return self.start - _REACHES <= span.end and span.start <= self.end + _REACHES


@dataclass(frozen=True, eq=False)
class Strips(Sequence[Strip]):
    """All strips of a page, each made when it is asked for: an hour has thousands, the screen shows four.

    edges: (strips + 1,) seconds. scale: pixels a second. step: pixels from one strip down to the next, 0 in a row.
    """

    edges: npt.NDArray[np.float64]
    scale: float
    step: int

    def __len__(self) -> int:
        return max(len(self.edges) - 1, 0)

    def at(self, seconds: float) -> int:
        """The number of the strip that a moment is in, the later one at a break; -1 before the first."""
        return int(self.edges[:-1].searchsorted(seconds, side="right")) - 1

    @overload
    def __getitem__(self, index: int) -> Strip: ...
    @overload
    def __getitem__(self, index: slice) -> list[Strip]: ...
    def __getitem__(self, index: int | slice) -> Strip | list[Strip]:
        if isinstance(index, slice):
            return [self[number] for number in range(*index.indices(len(self)))]
        number = index + len(self) if index < 0 else index
        if not 0 <= number < len(self):
            raise IndexError(index)
        start, end = float(self.edges[number]), float(self.edges[number + 1])
        left = float(MARGIN) if self.step else MARGIN + (start - float(self.edges[0])) * self.scale
        return Strip(number, start, end, left, MARGIN + number * self.step)


@dataclass(frozen=True, slots=True)
class Place:
    """A point of the page in the galley's own terms."""

    strip: Strip
    lane: Lane
    seconds: float
    down: float = 0.0  # pixels from the lane's upper edge


@dataclass(frozen=True)
class Layout:
    """All strips at one scale. scale: pixels a second. width, height: of the page."""

    strips: Strips
    scale: float
    width: int
    look: Look

    @cached_property
    def strip_height(self) -> int:
        return sum(self.look.height(lane) for lane in Lane)

    @property
    def height(self) -> int:
        last = self.strips[-1].top if self.strips else 0
        return last + self.strip_height + GAP

    def lane_top(self, lane: Lane) -> int:
        """From the top of its strip, in pixels."""
        return self._tops[lane]

    @cached_property
    def _tops(self) -> dict[Lane, int]:
        lanes = tuple(Lane)
        return {lane: sum(self.look.height(other) for other in lanes[:at]) for at, lane in enumerate(lanes)}

    def x(self, strip: Strip, seconds: float) -> float:
        return strip.left + (seconds - strip.start) * self.scale

    def seconds(self, strip: Strip, x: float) -> float:
        """The moment under a pixel, kept inside the strip."""
        return min(max(strip.start + (x - strip.left) / self.scale, strip.start), strip.end)

    def strip_of(self, seconds: float) -> Strip | None:
        """The strip that shows a moment; at a break the later one."""
        if not self.strips:
            return None
        return self.strips[max(self.strips.at(seconds), 0)]

    def place(self, x: float, y: float) -> Place | None:
        """What lies under a point of the page; between strips the one above counts."""
        if not self.strips:
            return None
        if self.look.wrap is Wrap.PAGE:
            index = int((y - MARGIN) // (self.strip_height + GAP))
        else:
            index = self.strips.at(self._seconds_in_a_row(x))
        strip = self.strips[min(max(index, 0), len(self.strips) - 1)]
        inner = y - strip.top
        lane = next((lane for lane in reversed(self.look.lanes) if inner >= self.lane_top(lane)), Lane.RULER)
        return Place(strip, lane, self.seconds(strip, x), inner - self.lane_top(lane))

    def down_in(self, place: Place, lane: Lane, strip: Strip) -> float:
        """How far below a lane's upper edge a place lies, wherever the hand has gone since."""
        y = place.strip.top + self.lane_top(place.lane) + place.down
        return y - strip.top - self.lane_top(lane)

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
        if not self.strips:
            return ()
        if self.look.wrap is Wrap.PAGE:
            step = self.strips.step
            first = max(math.ceil((top - self.strip_height - MARGIN) / step), 0)
            last = math.floor((bottom - MARGIN) / step) + 1
        else:
            first, last = (self.strips.at(self._seconds_in_a_row(x)) for x in (left, right))
            first, last = max(first, 0), last + 1
        return self.strips[first:last]

    def _seconds_in_a_row(self, x: float) -> float:
        """The moment under a pixel of the endless strip."""
        return float(self.strips.edges[0]) + (x - MARGIN) / self.scale


def lay_out(used: Span, score: Score | None, width: int, look: Look, before: Layout | None = None) -> Layout:
    """Set the used part of a recording into strips that fit a page, at the look's scale or a little more.

    Breaks fall into pauses where one lies in the last part of the row, else between words, else where the row is full.
    The endless strip is parted in the same way, into pieces that stand side by side. before: what is on the screen; its
    strips stay as they are while each still ends at a break.
    """
    paged = look.wrap is Wrap.PAGE
    room = max((width - 2 * MARGIN if paged else _PIECE) / look.scale, 0.25 if paged else 0.05)
    if before is not None and before.look == look and before.width == width and _holds(before, used, score):
        return before
    edges = _balanced(used, score, room) if paged else _edges(used, score, room)
    longest = float(np.diff(edges).max(initial=0.0)) or room
    fitted = min(max(room / longest, 1.0), _MOST_STRETCH) if paged and len(edges) > 2 else 1.0
    scale = look.scale * fitted
    step = sum(look.height(lane) for lane in Lane) + GAP if paged else 0
    page = width if paged else round(used.length * scale) + 2 * MARGIN
    return Layout(Strips(edges, scale, step), scale, page, look)


def nothing_laid_out(width: int, look: Look) -> Layout:
    return Layout(Strips(np.zeros(0), look.scale, 0), look.scale, width, look)


def fitting_scale(used: Span, width: int, height: int, look: Look) -> float:
    """Pixels a second at which a recording fills a page of so many pixels, in as many strips as have room on it."""
    step = sum(look.height(lane) for lane in Lane) + GAP
    rows = max((height - MARGIN) // step, 1)
    return _FILLED * rows * (width - 2 * MARGIN) / max(used.length, 1e-6)


def _balanced(used: Span, score: Score | None, room: float) -> npt.NDArray[np.float64]:
    """Strips that leave no last word alone: where the last one would be short, the one before it ends nearer to the middle of
    both."""
    edges = _edges(used, score, room)
    if score is None or len(edges) < 3 or edges[-1] - edges[-2] >= _ALONE * room:
        return edges
    start, end = edges[-3], edges[-1]
    breaks = np.sort(np.concatenate(_breaks(score)))
    fitting = breaks[(breaks > max(start, end - room)) & (breaks < min(end, start + room))]
    if len(fitting):
        edges[-2] = fitting[np.abs(fitting - (start + end) / 2).argmin()]
    return edges


def _edges(used: Span, score: Score | None, room: float) -> npt.NDArray[np.float64]:
    """Where strips begin and the last one ends."""
    if used.length <= 1e-6:
        return np.array([used.start])
    if score is None:
        return np.append(used.start + room * np.arange(math.ceil(used.length / room - 1e-9)), used.end)
    pauses, gaps = (places.tolist() for places in _breaks(score))
    edges = [used.start]
    while used.end - edges[-1] > room:
        edges.append(_best_break(edges[-1], room, pauses, gaps))
    return np.array([*edges, used.end])


def _holds(before: Layout, used: Span, score: Score | None) -> bool:
    """Whether every strip of a layout still ends at a break."""
    edges = before.strips.edges
    same = len(edges) > 1 and (float(edges[0]), float(edges[-1])) == (used.start, used.end)
    return same and score is not None and bool(np.isin(edges[1:-1], np.concatenate(_breaks(score))).all())


def _breaks(score: Score) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """The middles of the pauses, and the places between words that follow each other."""
    starts, ends = score.rims[0, 1:], score.rims[1, :-1]
    middles, long = starts - np.minimum((starts - ends) / 2, 0.15), starts - ends >= _PAUSE
    return middles[long], middles[~long]


def _best_break(start: float, room: float, pauses: Sequence[float], gaps: Sequence[float]) -> float:
    for places, earliest in ((pauses, start + _LATE * room), (gaps, start + 0.3 * room)):
        at = bisect_right(places, start + room) - 1
        if at >= 0 and places[at] > earliest:
            return places[at]
    return start + room
