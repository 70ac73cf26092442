"""Integrated loudness of a programme in LUFS, after ITU-R BS.1770-4: K-weighting, 400 ms blocks, two gates.

Worked out block by block, so that an hour needs no more memory than a second.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import numpy.typing as npt

from buccaphon.audio.recording import Recording
from buccaphon.errors import Cancelled
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import _

_BLOCK, _OVERLAP = 0.400, 0.75  # seconds, share
_RINGS, _AT_ONCE = 0.4, 4  # seconds after which the weighting has died away; so many of these are weighed together
_OFFSET = -0.691  # dB, so that a full-scale 997 Hz sine in one channel reads -3.01
_ABSOLUTE_GATE, _RELATIVE_GATE = -70.0, -10.0  # LUFS, LU (ITU-R BS.1770-4)


def integrated_loudness(recording: Recording, progress: Progress = no_progress) -> float:
    """LUFS of a recording, every channel weighing 1; -inf when all of it is under the gate or it is shorter than 400 ms.
    Raises Cancelled when `progress` returns False."""
    hop = round(_BLOCK * (1 - _OVERLAP) * recording.rate)
    hops: list[float] = []
    rest = np.zeros((0, recording.channels), np.float64)
    for weighted in _weighted(recording):
        if not progress(hop * len(hops) / len(recording.samples), _("Measuring loudness")):
            raise Cancelled
        rest = np.concatenate([rest, weighted])
        whole = len(rest) // hop
        hops += (rest[: whole * hop].reshape(whole, hop * recording.channels) ** 2).sum(1).tolist()
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


def _weighted(recording: Recording) -> Iterator[npt.NDArray[np.float64]]:
    """(samples, channels) of the recording through the K-weighting, some seconds at a time, each by its spectrum: what would
    come round from its end falls within the part before it, and is thrown away. (SciPy's filters take a second to load, which
    is felt in the window.)"""
    known = round(_RINGS * recording.rate)
    count = (1 + _AT_ONCE) * known
    response = _response(_k_weighting(recording.rate), count)
    before = np.zeros((recording.channels, known))
    for block in recording.blocks():
        for start in range(0, len(block), _AT_ONCE * known):
            part = np.concatenate([before, block[start : start + _AT_ONCE * known].T], axis=1)
            yield np.fft.irfft(np.fft.rfft(part, count) * response, count)[:, known : part.shape[1]].T
            before = part[:, -known:]


def _response(sections: npt.NDArray[np.float64], count: int) -> npt.NDArray[np.complex128]:
    """(count // 2 + 1,) what second-order sections do to each frequency of so many samples."""
    back = np.exp(-2j * np.pi * np.arange(count // 2 + 1) / count)[:, None] ** np.arange(3)
    response: npt.NDArray[np.complex128] = np.prod((back @ sections[:, :3].T) / (back @ sections[:, 3:].T), axis=1)
    return response


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
