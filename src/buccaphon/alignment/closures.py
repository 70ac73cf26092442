"""Stops after a pause: how long before its burst one is held cannot be heard, so it is bounded."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.boundary_net import STEP
from buccaphon.speech.phones import PAUSE, PhoneClass, sound_of

Doubles = npt.NDArray[np.float64]

LONGEST = 0.10  # seconds from a closure to its burst
_USUAL = 0.065  # seconds; where the burst is found later than that, it was held so long
_HISSING = 13  # the band of the mel spectrum from which a burst is seen, about 2 kHz


def bounded(
    symbols: Sequence[str], onsets: Doubles, end: float, mel: npt.NDArray[np.float32], *, begins: bool
) -> Doubles:
    """Onsets (n,) in which no stop after a pause is held longer than LONGEST.

    symbols: IPA, '' for a pause. onsets, end: seconds from the first frame of `mel`, which is (frames, bands) log energies
    every STEP. begins: whether nothing is said before the first symbol.
    """
    found = onsets.copy()
    ends = np.append(onsets[1:], end)
    for number, symbol in enumerate(symbols):
        after_pause = symbols[number - 1] == PAUSE if number else begins
        if not after_pause or symbol == PAUSE or sound_of(symbol).kind is not PhoneClass.STOP:
            continue
        if ends[number] - onsets[number] > LONGEST:
            burst = _burst(mel, onsets[number], ends[number])
            if burst - onsets[number] > LONGEST:
                found[number] = burst - _USUAL
    return found


def _burst(mel: npt.NDArray[np.float32], start: float, end: float) -> float:
    """Seconds of the steepest rise within 10 ms."""
    first, last = max(round(start / STEP), 0), min(round(end / STEP) + 1, len(mel) - 1)
    if last - first < 3:
        return start
    level = mel[first : last + 1, _HISSING:].mean(axis=1)
    rise = level[2:] - level[:-2]
    return (first + 1 + int(rise.argmax())) * STEP
