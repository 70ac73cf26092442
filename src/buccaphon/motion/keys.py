"""Keys: the few frames of a curve that, joined by straight lines, keep it within a stated error.

From each key the line is drawn on as long as it can be turned to pass all frames near enough and end on the curve (the cone
of Reumann and Witkam 1974, held to the curve's own values), in all blocks of all curves at once.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Bools, Doubles, Floats
from buccaphon.threads import share

Frames = npt.NDArray[np.intp]

BLOCK = 32  # frames whose keys are looked for together: what is in one does not depend on the rest; a power of 2
_AT_ONCE = 8  # curves: more do not stay near


@dataclass(frozen=True, slots=True)
class FrameKey:
    """A value set on a frame, counted from 0."""

    frame: int
    value: float


def reduce_keys(values: Floats, tolerance: float) -> tuple[FrameKey, ...]:
    """Keys of a curve (frames,) such that linear interpolation stays within `tolerance` of every frame. First and last frame
    are always keys."""
    return reduce_all([values], [tolerance])[0]


def reduce_all(curves: Sequence[Floats], tolerances: Sequence[float]) -> list[tuple[FrameKey, ...]]:
    """The keys of some curves, each (frames,) as long as the others, within a tolerance each."""
    return [
        tuple(FrameKey(n, round(value, 6)) for n, value in zip(found.tolist(), values[found].tolist(), strict=True))
        for values, found in zip(curves, kept_of_all(curves, tolerances), strict=True)
    ]


def kept_frames(values: Floats | Doubles, tolerance: float) -> Frames:
    """(keys,) the frames of such keys, rising."""
    return kept_of_all([values], [tolerance])[0]


def kept_of_all(curves: Sequence[Floats | Doubles], tolerances: Sequence[float]) -> list[Frames]:
    """The same of some curves, each (frames,) as long as the others, within a tolerance each."""
    found = [np.zeros(0, np.intp) for _ in curves]

    def look(first: int) -> None:
        some, within = curves[first : first + _AT_ONCE], tolerances[first : first + _AT_ONCE]
        asked = keys_in_blocks(np.array(some, np.float64), np.array(within))
        for number, (values, keys, tolerance) in enumerate(zip(some, asked, within, strict=True)):
            found[first + number] = _without_needless(values, keys.nonzero()[0], tolerance)

    if len(curves) and len(curves[0]):
        share(look, range(0, len(curves), _AT_ONCE))
    return found


def _without_needless(values: Floats | Doubles, keys: Frames, tolerance: float) -> Frames:
    """Keys of blocks, but for those between two of the same value and those that lines over ends of blocks make up for."""
    at = values[keys]
    still = np.zeros(len(keys), np.bool_)
    still[1:-1] = (at[1:-1] == at[:-2]) & (at[1:-1] == at[2:])
    return _joined_over_blocks(values, keys[~still], tolerance)


def _joined_over_blocks(values: Floats | Doubles, keys: Frames, tolerance: float) -> Frames:
    """Those keys, but for ends of blocks that the line from the key before to the key after does without."""
    before, asked, after = keys[:-2], keys[1:-1], keys[2:]
    ends = asked & (BLOCK - 1) == 0
    before, asked, after = before[ends], asked[ends], after[ends]
    start = values[before].astype(np.float64)
    line = start + (values[after] - start) * ((asked - before) / (after - before))
    asked = asked[np.abs(values[asked] - line) <= tolerance]
    while len(asked):
        number, order = keys.searchsorted(asked), np.arange(len(asked))
        begins = np.diff(number, prepend=-1) != 1
        now = (order - np.maximum.accumulate(order * begins)) % 2 == 0  # no two in a row
        taken = number[now]
        needless = _errors_of_lines(values, keys[taken - 1], keys[taken + 1]) <= tolerance
        keys, asked = np.delete(keys, taken[needless]), asked[~now]
    return keys


def _errors_of_lines(values: Floats | Doubles, a: Frames, b: Frames) -> Doubles:
    """(n,) how far a curve is at most from straight lines, each from a frame of `a` to one of `b`, with frames between."""
    size = b - a - 1
    first = size.cumsum() - size
    away = np.arange(1, int(size.sum()) + 1) - first.repeat(size)
    start = values[a].astype(np.float64)
    slope = (values[b] - start) / (b - a)
    error = np.abs(values[a.repeat(size) + away] - (start.repeat(size) + slope.repeat(size) * away))
    found: Doubles = np.maximum.reduceat(error, first)
    return found


def keys_in_blocks(curves: Floats | Doubles, tolerance: float | Doubles) -> Bools:
    """(curves, n) which frames of curves (curves, n), n at least 1, are keys: every `BLOCK`th, the last, and what is needed
    between them. tolerance: of all of them, or (curves,) of each."""
    many, count = curves.shape
    blocks = -(-count // BLOCK)
    within = np.repeat(np.broadcast_to(tolerance, many), blocks)
    padded = np.empty((many, blocks * BLOCK + 1))
    padded[:, :count] = curves
    padded[:, count:] = padded[:, count - 1 : count]
    lanes = np.empty((BLOCK + 1, many, blocks))
    lanes[:-1] = padded[:, :-1].reshape(many, blocks, BLOCK).transpose(2, 0, 1)
    lanes[-1] = padded[:, BLOCK::BLOCK]
    lanes = lanes.reshape(BLOCK + 1, -1)
    keep = np.zeros((BLOCK, many * blocks), np.bool_)
    keep[0] = True
    moves = lanes.max(axis=0) - lanes.min(axis=0) > within
    keep[:, moves] = _along(lanes if moves.all() else lanes[:, moves], within[moves])
    found: Bools = keep.T.reshape(many, -1)[:, :count]
    found[:, -1] = True
    return found


def _along(values: Doubles, tolerance: Doubles) -> Bools:
    """(n - 1, lanes) which frames of values (n, lanes) are keys, from the first on, where the last is one. tolerance:
    (lanes,)."""
    keep = np.zeros((len(values) - 1, values.shape[1]), np.bool_)
    keep[0] = True
    start, away = values[0].copy(), np.zeros(values.shape[1])
    least, most = np.full_like(start, -np.inf), np.full_like(start, np.inf)
    either = np.empty_like(start)
    for frame in range(1, len(values)):
        now = values[frame]
        away += 1
        slope = now - start
        slope /= away
        beyond = ((slope < least) | (slope > most)).nonzero()[0]
        if len(beyond):
            before = values[frame - 1].take(beyond)
            keep[frame - 1][beyond] = True
            start[beyond], away[beyond], least[beyond], most[beyond] = before, 1.0, -np.inf, np.inf
            slope[beyond] = now.take(beyond) - before
        np.divide(tolerance, away, out=either)
        np.maximum(least, slope - either, out=least)
        slope += either
        np.minimum(most, slope, out=most)
    return keep
