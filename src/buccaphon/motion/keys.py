"""Keys: the few frames of a curve that, joined by straight lines, keep it within a stated error."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Floats


@dataclass(frozen=True, slots=True)
class FrameKey:
    """A value set on a frame, counted from 0."""

    frame: int
    value: float


def reduce_keys(values: Floats, tolerance: float) -> tuple[FrameKey, ...]:
    """Keys of a curve (frames,) such that linear interpolation stays within `tolerance` of every frame.

    Douglas and Peucker (1973), with the error measured along the value axis. First and last frame are always keys.
    """
    if len(values) == 0:
        return ()
    last = len(values) - 1
    kept = {0, last}
    stretches = [(0, last)]
    while stretches:
        start, end = stretches.pop()
        if end - start < 2:
            continue
        inner = np.arange(start + 1, end)
        line = values[start] + (values[end] - values[start]) * (inner - start) / (end - start)
        error = np.abs(values[inner] - line)
        worst = int(error.argmax())
        if error[worst] > tolerance:
            middle = start + 1 + worst
            kept.add(middle)
            stretches += [(start, middle), (middle, end)]
    return tuple(FrameKey(frame, round(float(values[frame]), 6)) for frame in sorted(kept))
