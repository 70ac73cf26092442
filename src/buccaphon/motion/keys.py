"""Keys: the few frames of a curve that, joined by straight lines, keep it within a stated error.

Douglas and Peucker (1973), with the error measured along the value axis, level by level: all stretches at once.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Doubles, Floats

Frames = npt.NDArray[np.intp]

_LONG = 512  # frames up to which a curve is taken as one stretch
_FLAT = 1e-6
_FEW = 150  # frames that are looked at one by one


@dataclass(frozen=True, slots=True)
class FrameKey:
    """A value set on a frame, counted from 0."""

    frame: int
    value: float


def reduce_keys(values: Floats, tolerance: float) -> tuple[FrameKey, ...]:
    """Keys of a curve (frames,) such that linear interpolation stays within `tolerance` of every frame. First and last frame
    are always keys."""
    found = kept_frames(values, tolerance)
    return tuple(
        FrameKey(frame, round(value, 6)) for frame, value in zip(found.tolist(), values[found].tolist(), strict=True)
    )


def kept_frames(values: Floats, tolerance: float) -> Frames:
    """(keys,) the frames of such keys. Of long curves every turning point is one, which is far quicker and costs a tenth more
    of them."""
    if not len(values):
        return np.zeros(0, np.intp)
    return key_frames(values, tolerance, _turning_points(values) if len(values) > _LONG else np.zeros(0, np.intp))


def _turning_points(values: Floats) -> Frames:
    """Where a curve turns, and where it becomes flat or is no longer."""
    rises = np.diff(values)
    flat = np.abs(rises) < _FLAT
    turns = (flat[1:] != flat[:-1]) | (((rises[1:] > 0) != (rises[:-1] > 0)) & ~flat[1:])
    found: Frames = turns.nonzero()[0] + 1
    return found


def key_frames(values: Floats | Doubles, tolerance: float, rims: Frames) -> Frames:
    """(keys,) the frames of the keys of a curve (n,), n at least 1, rising. rims: frames that are keys in any case; what is
    between two of them does not depend on the rest."""
    keep = np.zeros(len(values), np.bool_)
    keep[[0, -1]] = True
    keep[rims] = True
    edges = keep.nonzero()[0]
    a, b = edges[:-1], edges[1:]
    while True:
        longer = b - a > 1
        a, b = a[longer], b[longer]
        if int((b - a).sum()) < _FEW:
            keep[_one_by_one(values, a, b, tolerance)] = True
            return keep.nonzero()[0]
        a, b, middle = _split(values, a, b, tolerance)
        keep[middle] = True
        a, b = np.concatenate([a, middle]), np.concatenate([middle, b])


def _one_by_one(values: Floats | Doubles, a: Frames, b: Frames, tolerance: float) -> list[int]:
    """The keys between the ends of some stretches, the same as by `_split`: quicker for a few frames."""
    found: list[int] = []
    to_do = list(zip(a.tolist(), b.tolist(), strict=True))
    begin = int(a.min(initial=len(values)))
    near = values[begin : int(b.max(initial=0)) + 1].tolist()
    while to_do:
        first, last = to_do.pop()
        start = near[first - begin]
        slope, worst, middle = (near[last - begin] - start) / (last - first), tolerance, -1
        for away, value in enumerate(near[first - begin + 1 : last - begin], 1):
            error = value - (start + slope * away)
            if error > worst or -error > worst:
                worst, middle = abs(error), first + away
        if middle >= 0:
            found.append(middle)
            to_do += [(n, m) for n, m in ((first, middle), (middle, last)) if m - n > 1]
    return found


def _split(values: Floats | Doubles, a: Frames, b: Frames, tolerance: float) -> tuple[Frames, Frames, Frames]:
    """Those stretches from a to b, each with frames between, that a straight line does not keep near enough, and the frame of
    each that is furthest from it."""
    at, error, size, first = _errors(values, a, b)
    worst = np.maximum.reduceat(error, first)
    bad = worst > tolerance
    hit = (error >= np.where(bad, worst, np.inf).repeat(size)).nonzero()[0]
    of = first.searchsorted(hit, side="right") - 1
    one = np.ones(len(of), np.bool_)
    one[1:] = of[1:] != of[:-1]
    return a[bad], b[bad], at[hit[one]]


def _errors(values: Floats | Doubles, a: Frames, b: Frames) -> tuple[Frames, Doubles, Frames, Frames]:
    """For stretches from a to b: all frames between, how far each is from the straight line, how many each stretch has, and
    where they begin."""
    size = b - a - 1
    first = size.cumsum() - size
    at = np.arange(int(size.sum())) + (a + 1 - first).repeat(size)
    start = values[a].astype(np.float64)
    slope = (values[b] - start) / (b - a)
    error = np.abs(values[at] - (start.repeat(size) + slope.repeat(size) * (at - a.repeat(size))))
    return at, error, size, first
