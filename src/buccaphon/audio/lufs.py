"""Integrated loudness of a programme in LUFS, after ITU-R BS.1770-4: K-weighting, 400 ms blocks, two gates.

Worked out block by block, so that an hour needs no more memory than a second.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from buccaphon.audio.recording import Recording
from buccaphon.numerics import scipy_part

_BLOCK, _OVERLAP = 0.400, 0.75  # seconds, share
_OFFSET = -0.691  # dB, so that a full-scale 997 Hz sine in one channel reads -3.01
_ABSOLUTE_GATE, _RELATIVE_GATE = -70.0, -10.0


def integrated_loudness(recording: Recording) -> float:
    """LUFS of a recording, every channel weighing 1; -inf when all of it is under the gate or it is shorter than 400 ms."""
    signal = scipy_part("signal")
    filters = _k_weighting(recording.rate)
    hop = round(_BLOCK * (1 - _OVERLAP) * recording.rate)
    state = np.repeat(signal.sosfilt_zi(filters)[:, :, None] * 0.0, recording.channels, axis=2)
    hops: list[float] = []
    rest = np.zeros((0, recording.channels), np.float64)
    for block in recording.blocks():
        weighted, state = signal.sosfilt(filters, block.astype(np.float64), axis=0, zi=state)
        rest = np.concatenate([rest, weighted])
        whole = len(rest) // hop
        hops += (rest[: whole * hop].reshape(whole, -1) ** 2).sum(1).tolist()
        rest = rest[whole * hop :]
    steps = round(1 / (1 - _OVERLAP))
    if len(hops) < steps:
        return float("-inf")
    energy = np.convolve(hops, np.ones(steps), "valid") / (steps * hop)
    return _gate(energy)


def _gate(energy: npt.NDArray[np.float64]) -> float:
    loudness = _OFFSET + 10 * np.log10(np.maximum(energy, 1e-20))
    heard = energy[loudness > _ABSOLUTE_GATE]
    if not len(heard):
        return float("-inf")
    threshold = _OFFSET + 10 * np.log10(heard.mean()) + _RELATIVE_GATE
    heard = energy[loudness > max(threshold, _ABSOLUTE_GATE)]
    return float(_OFFSET + 10 * np.log10(heard.mean()))


def _k_weighting(rate: int) -> npt.NDArray[np.float64]:
    """(2, 6) second-order sections: the head's high shelf and the low cut, for any rate (analogue prototypes of BS.1770)."""
    shelf = _section(rate, 1681.974450955533, 0.7071752369554196, gain=3.999843853973347)
    low_cut = _section(rate, 38.13547087602444, 0.5003270373238773)
    return np.array([shelf, low_cut])


def _section(rate: int, hz: float, quality: float, gain: float | None = None) -> list[float]:
    k = np.tan(np.pi * min(hz, 0.49 * rate) / rate)
    a0 = 1 + k / quality + k * k
    poles = [1.0, 2 * (k * k - 1) / a0, (1 - k / quality + k * k) / a0]
    if gain is None:
        return [1.0, -2.0, 1.0, *poles]
    high = 10 ** (gain / 20)
    band = high**0.4996667741545416
    zeros = [
        (high + band * k / quality + k * k) / a0,
        2 * (k * k - high) / a0,
        (high - band * k / quality + k * k) / a0,
    ]
    return [*zeros, *poles]
