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
_BLOCK = 128  # frames of the stretches that a longer one is begun with


@dataclass(frozen=True, slots=True)
class FrameKey:
    """A value set on a frame, counted from 0."""

    frame: int
    value: float


def reduce_keys(values: Floats, tolerance: float) -> tuple[FrameKey, ...]:
    """Keys of a curve (frames,) such that linear interpolation stays within `tolerance` of every frame. First and last frame
    are always keys."""
    if len(values) == 0:
        return ()
    rims = np.arange(_BLOCK, len(values) - 1, _BLOCK) if len(values) > _LONG else np.zeros(0, np.intp)
    found = key_frames(values, tolerance, rims)
    if len(rims):
        found = _without_needless(values, tolerance, found, rims)
    return tuple(
        FrameKey(frame, round(value, 6)) for frame, value in zip(found.tolist(), values[found].tolist(), strict=True)
    )


def key_frames(values: Floats | Doubles, tolerance: float, rims: Frames) -> Frames:
    """(keys,) the frames of the keys of a curve (n,), n at least 1, rising. rims: frames that are keys in any case; what is
    between two of them does not depend on the rest."""
    keep = np.zeros(len(values), np.bool_)
    keep[[0, -1]] = True
    keep[rims] = True
    edges = np.flatnonzero(keep)
    a, b = edges[:-1], edges[1:]
    longer = b - a > 1
    a, b = a[longer], b[longer]
    while len(a):
        middle, error = _worst(values, a, b)
        bad = error > tolerance
        a, b, middle = a[bad], b[bad], middle[bad]
        keep[middle] = True
        a, b = np.stack([a, middle], 1).ravel(), np.stack([middle, b], 1).ravel()
        longer = b - a > 1
        a, b = a[longer], b[longer]
    return np.flatnonzero(keep)


def _worst(values: Floats | Doubles, a: Frames, b: Frames) -> tuple[Frames, Doubles]:
    """For stretches from a to b, each with frames between: the frame furthest from the straight line, and how far it is."""
    size = b - a - 1
    first = np.cumsum(size) - size
    at = np.arange(int(size.sum())) + np.repeat(a + 1 - first, size)
    slope = (values[b] - values[a]).astype(np.float64) / (b - a)
    line = np.repeat(values[a].astype(np.float64), size) + np.repeat(slope, size) * (at - np.repeat(a, size))
    error = np.abs(values[at] - line)
    worst = np.maximum.reduceat(error, first)
    hit = np.flatnonzero(error == np.repeat(worst, size))
    group = np.searchsorted(first, hit, side="right") - 1
    one = np.concatenate([[True], group[1:] != group[:-1]])
    return at[hit[one]], worst


def _without_needless(values: Floats, tolerance: float, keys: Frames, rims: Frames) -> Frames:
    """Without those rims that a straight line passes near enough."""
    needed = np.zeros(len(values), np.bool_)
    while True:
        inner = np.flatnonzero(np.isin(keys, rims) & ~needed[keys])
        inner = inner[(inner > 0) & (inner < len(keys) - 1)]
        if not len(inner):
            return keys
        even = inner[inner % 2 == 0]  # no two that stand side by side at once
        chosen = even if len(even) else inner
        _, error = _worst(values, keys[chosen - 1], keys[chosen + 1])
        needed[keys[chosen[error > tolerance]]] = True
        keys = np.delete(keys, chosen[error <= tolerance])
