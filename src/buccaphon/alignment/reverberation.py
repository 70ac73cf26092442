"""The tail of a room, taken off: late reverberation as a decayed copy of the power a moment before, after Lebart, Boucher
and Denbigh, "A new method based on spectral subtraction for speech dereverberation" (2001).

How fast the room decays is heard in the recording: speech itself stops within a few hundredths of a second often enough,
so its steepest falls are as steep as the room lets them be.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float32]

_FRAME_SECONDS = 0.01  # of the bands that are handed over
DRY = 330.0  # decibels a second: recordings that fall as steeply are left as they are; dry speech falls by 410 to 600

_SMOOTHING = 3  # frames
_FALL = 5  # frames over which a fall is measured
_RANGE = 40.0  # decibels between loud and still moments that a band needs, for the falls not to end in noise or music
_LOUD, _ABOVE_STILL = 20.0, 6.0  # decibels below the loudest where a fall begins, and above the stillest where it ends
_STEEPEST = 95.0  # percentile
_LEAST_FALLS = 20  # in a band, to judge by: with fewer one door decides
_LATE = 4  # frames after a sound before what is left of it counts as the room's
_OWN = 0.6  # the room's own decay, of that of the steepest falls, which end a sound besides
_LEFT = 0.2  # of the power, at least


def steepest_fall(power: Array) -> float:
    """How fast loud sounds break off, in decibels a second; infinite where noise or music hides it in half of the bands.

    power: (frames, bands) mel power, a frame every 10 ms.
    """
    rates = []
    for band in power.T:
        smoothed = np.convolve(band, np.full(_SMOOTHING, 1 / _SMOOTHING, np.float32), "same")
        level = 10 * np.log10(smoothed + np.float32(1e-3))
        still, loud = np.percentile(level, (2, 99))
        before, after = level[:-_FALL], level[_FALL:]
        seen = (before > loud - _LOUD) & (after > still + _ABOVE_STILL)
        if loud - still >= _RANGE and np.count_nonzero(seen) >= _LEAST_FALLS:
            rates.append(float(np.percentile((before - after)[seen], _STEEPEST)) / (_FALL * _FRAME_SECONDS))
    return float(np.median(rates)) if len(rates) >= power.shape[1] / 2 else float("inf")


def without_tail(power: Array, fall: float) -> Array:
    """Power without what a room adds whose sounds fall by `fall` decibels a second at the steepest."""
    kept = 10 ** (-_OWN * fall * _LATE * _FRAME_SECONDS / 10)
    late = np.zeros_like(power)
    late[_LATE:] = np.float32(kept) * power[:-_LATE]
    return np.asarray(np.maximum(power - late, np.float32(_LEFT) * power))
