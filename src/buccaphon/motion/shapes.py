"""Weights for a host with a shape a mouth: what is on show is there in full, and goes over to the next within a few frames.

Each way from one mouth to the next runs straight from a frame on which the one is there in full to one on which the other is,
so that it takes two keys a mouth and nothing else. The weights of a frame sum to 1; what a smaller size leaves is rest.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Collection, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.timing import FrameRate

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
    sizes: Callable[[Sequence[Exposure]], Sequence[float]],
    part: tuple[int, int],
) -> Floats:
    """(frames, mouths) 0..1 of the frames from a first up to an end. exposures: of the whole. over: frames from one mouth in
    full to the next, 1 for at once. by_hand: frames on which a mouth is to be there in full, for a hand put it there. sizes:
    of some exposures, each from 0; above 1 a mouth is more than its shape."""
    first, end = part
    found = np.zeros((end - first, len(chart.mouths)), np.float32)
    low = max(bisect_right(exposures, first - reach_of(over), key=lambda each: each.start) - 3, 0)
    high = bisect_left(exposures, end + reach_of(over), key=lambda each: each.start) + 2
    near = exposures[low:high]
    if not near:
        found[:, chart.rests] = 1.0
        return found
    begin = min(near[0].start, first)
    whole = np.zeros((max(near[-1].end, end) - begin, len(chart.mouths)), np.float32)
    moved = [replace(each, start=each.start - begin, end=each.end - begin) for each in near]
    _show(whole, moved, chart, over, {frame - begin for frame in by_hand}, sizes(near))
    found[:] = whole[first - begin : end - begin]
    return found


def _show(
    found: Floats,
    exposures: Sequence[Exposure],
    chart: Chart,
    over: int,
    by_hand: Collection[int],
    sizes: Sequence[float],
) -> None:
    numbers = [chart.index(each.mouth) for each in exposures]
    begins, ends = where_in_full(exposures, [chart.touching[n] for n in numbers], over, by_hand)
    for number, begin, end, size in zip(numbers, begins, ends, sizes, strict=True):
        found[begin:end, number] = size
    for at, (left, right) in enumerate(pairwise(numbers)):
        last, next_first = ends[at] - 1, begins[at + 1]
        way = np.arange(1, next_first - last, dtype=np.float32) / (next_first - last)
        found[last + 1 : next_first, left] += sizes[at] * (1 - way)
        found[last + 1 : next_first, right] += sizes[at + 1] * way
    found[:, chart.rests] += np.maximum(1.0 - found.sum(axis=1), 0.0)


def where_in_full(
    exposures: Sequence[Exposure], touching: Sequence[bool], over: int, by_hand: Collection[int] = ()
) -> tuple[list[int], list[int]]:
    """From which frame and up to which each mouth is there in full: at least one frame of its own.

    A way lies within the new mouth's time; one to lips that touch, or to what a hand put there, before it, in the other's.
    touching: of each whether lips or teeth meet in it; it gives none of its frames to ways, for it is to be seen."""
    between = max(over - 1, 0)
    room = [0 if meets else each.length - 1 for each, meets in zip(exposures, touching, strict=True)]
    gives_last, gives_first = [0] * len(exposures), [0] * len(exposures)
    for at in range(len(exposures) - 1):
        if room[at + 1] == 0 or exposures[at + 1].start in by_hand:
            gives_last[at] = between if room[at] else 0
        else:
            gives_first[at + 1] = between
    for at, most in enumerate(room):
        while gives_first[at] + gives_last[at] > most:  # the longer side gives a frame back first
            if gives_first[at] >= gives_last[at]:
                gives_first[at] -= 1
            else:
                gives_last[at] -= 1
    begins = [each.start + frames for each, frames in zip(exposures, gives_first, strict=True)]
    ends = [each.end - frames for each, frames in zip(exposures, gives_last, strict=True)]
    return begins, ends
