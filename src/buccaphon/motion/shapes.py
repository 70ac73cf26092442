"""Weights for a host with a shape a mouth: what is on show is there in full, and goes over to the next within a few frames.

Each way from one mouth to the next runs straight from a frame on which the one is there in full to one on which the other is,
so that it takes two keys a mouth and nothing else. The weights of a frame sum to 1; what a smaller size leaves is rest.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Collection, Sequence
from operator import attrgetter

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Bools, Doubles, Floats
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.timing import FrameRate

Indices = npt.NDArray[np.intp]
_WAYS_FELT = 3  # a mouth with little room gives less to the way after it when it gives to the one before


def frames_over(seconds: float, rate: FrameRate) -> int:
    """How many frames the way to the next mouth takes: at least one, which is at once."""
    return max(rate.nearest(seconds), 1)


def reach_of(over: int) -> int:
    """How many frames away another mouth on show is felt. over: frames of a way."""
    return _WAYS_FELT * over


def weights_in_full(
    exposures: Sequence[Exposure],
    chart: Chart,
    over: int,
    by_hand: Collection[int],
    sizes: Callable[[Indices, Doubles], Doubles],
    part: tuple[int, int],
) -> Floats:
    """(frames, mouths) 0..1 of the frames from a first up to an end. exposures: of the whole. over: frames from one mouth in
    full to the next, 1 for at once. by_hand: frames on which a mouth is to be there in full, for a hand put it there. sizes:
    of some exposures, by their mouths and the frames in their middles; above 1 a mouth is more than its shape."""
    first, end = part
    found = np.zeros((end - first, len(chart.mouths)), np.float32)
    low = max(bisect_right(exposures, first - reach_of(over), key=lambda each: each.start) - 3, 0)
    high = bisect_left(exposures, end + reach_of(over), key=lambda each: each.start) + 2
    near = exposures[low:high]
    if not near:
        found[:, chart.rests] = 1.0
        return found
    mouths, *ends_of = (map(attrgetter(part), near) for part in ("mouth", "start", "end"))
    columns = (map(chart.numbers.__getitem__, mouths), *ends_of)
    numbers, starts, stops = (np.fromiter(column, np.intp, len(near)) for column in columns)
    begins, ends = where_in_full(starts, stops, chart.contacts[numbers], over, by_hand)
    _show(found, numbers, begins - first, ends - first, sizes(numbers, (starts + stops) / 2).astype(np.float32))
    found[:, chart.rests] += np.maximum(1.0 - found.sum(axis=1), 0.0)
    return found


def _show(found: Floats, numbers: Indices, begins: Indices, ends: Indices, sizes: Floats) -> None:
    """Put mouths into (frames, mouths), all at once: each in full from where it begins up to an end, and going over to the
    next between. Frames before the first and after the last are left out."""
    at, frame = _each_frame(begins, ends)
    _add(found, frame, numbers[at], sizes[at])
    way, frame = _each_frame(ends[:-1], begins[1:])
    share = ((frame - ends[way] + 1) / (begins[way + 1] - ends[way] + 1)).astype(np.float32)
    _add(found, frame, numbers[way], sizes[way] * (1 - share))
    _add(found, frame, numbers[way + 1], sizes[way + 1] * share)


def _each_frame(begins: Indices, ends: Indices) -> tuple[Indices, Indices]:
    """For each frame of some ranges the number of its range, and the frame."""
    lengths = np.maximum(ends - begins, 0)
    of = np.repeat(np.arange(len(begins)), lengths)
    return of, np.arange(len(of)) - np.repeat(np.cumsum(lengths) - lengths - begins, lengths)


def _add(found: Floats, frames: Indices, numbers: Indices, weights: Floats) -> None:
    there = (frames >= 0) & (frames < len(found))
    np.add.at(found, (frames[there], numbers[there]), weights[there])


def where_in_full(
    starts: Indices, stops: Indices, touching: Bools, over: int, by_hand: Collection[int] = ()
) -> tuple[Indices, Indices]:
    """From which frame and up to which each mouth is there in full: at least one frame of its own.

    A way lies within the new mouth's time; one to lips that touch, or to what a hand put there, before it, in the other's.
    starts, stops: (n,) frames of the exposures. touching: (n,) whether lips or teeth meet in each; it gives none of its
    frames to ways, for it is to be seen."""
    between = max(over - 1, 0)
    room = np.where(touching, 0, stops - starts - 1)
    is_whole = (room[1:] == 0) | np.isin(starts[1:], list(by_hand))
    gives_last, gives_first = np.zeros_like(starts), np.zeros_like(starts)
    gives_last[:-1] = np.where(is_whole & (room[:-1] > 0), between, 0)
    gives_first[1:] = np.where(is_whole, 0, between)
    while (too_much := gives_first + gives_last > room).any():  # the longer side gives a frame back first
        from_first = too_much & (gives_first >= gives_last)
        gives_first -= from_first
        gives_last -= too_much & ~from_first
    return starts + gives_first, stops - gives_last
