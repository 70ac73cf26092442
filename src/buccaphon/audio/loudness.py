"""How loud the recording is at each animation frame, as 0 (the room) to 1 (full voice)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.audio.peaks import Peaks

Array = npt.NDArray[np.float32]

_WINDOW = 0.040  # seconds; a little over one period of the deepest voices
_LEAST_DB = -90.0
_SILENT = 1e-5  # peak, about -100 dBFS
_CEILING_PERCENTILE, _FLOOR_PERCENTILE = 95.0, 10.0
_ABOVE_ROOM = 6.0  # dB between the room and the floor
_SPREAD = (25.0, 45.0)  # dB that the floor lies below the ceiling, at least and at most
_CLOSES_AT = 0.06  # of the range: once open, the gate shuts below this and opens again above twice that


@dataclass(frozen=True, slots=True)
class Range:
    """floor, ceiling: levels in dB of full scale that become 0 and 1."""

    floor: float
    ceiling: float


def levels(peaks: Peaks, times: npt.NDArray[np.float64]) -> Array:
    """RMS level in dB of full scale around each moment. times: (n,) seconds. Returns (n,) float32, -90 or more."""
    power = peaks.mean_squares(times - _WINDOW / 2, times + _WINDOW / 2)
    return np.asarray(np.maximum(10 * np.log10(np.maximum(power, 1e-12)), _LEAST_DB), np.float32)


def automatic_range(found: Array) -> Range:
    """Floor and ceiling from the histogram of levels: the room plus 6 dB, and the level that 5 % exceed."""
    ceiling = float(np.percentile(found, _CEILING_PERCENTILE))
    room = float(np.percentile(found, _FLOOR_PERCENTILE))
    least, most = _SPREAD
    return Range(float(np.clip(room + _ABOVE_ROOM, ceiling - most, ceiling - least)), ceiling)


def openness(found: Array, limits: Range) -> Array:
    """Levels mapped to 0..1 with a gate: (n,) dB to (n,) float32. What is at or below the floor is exactly 0."""
    share = np.clip((found - limits.floor) / max(limits.ceiling - limits.floor, 1e-6), 0.0, 1.0)
    return np.asarray(np.where(_gate(share), share, 0.0), np.float32)


def _gate(share: Array) -> npt.NDArray[np.bool_]:
    """Schmitt trigger: opens above twice _CLOSES_AT, shuts below it."""
    state = np.where(share > 2 * _CLOSES_AT, 1, np.where(share < _CLOSES_AT, 0, -1))
    known = np.maximum.accumulate(np.where(state >= 0, np.arange(len(state)), 0))
    return state[known] == 1 if len(state) else np.zeros(0, np.bool_)


def loudness(peaks: Peaks, times: npt.NDArray[np.float64]) -> Array:
    """0..1 at each moment with automatic floor and ceiling; all 0 for a silent recording."""
    if peaks.loudest() < _SILENT:
        return np.zeros(len(times), np.float32)
    everywhere = levels(peaks, np.arange(0.0, peaks.duration, 0.02))
    return openness(levels(peaks, times), automatic_range(everywhere))
