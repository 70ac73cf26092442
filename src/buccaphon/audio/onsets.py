"""Where the sound's energy rises: the places that a hand wants to put a boundary on."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from buccaphon.audio.recording import Recording, mix_down
from buccaphon.timing import Span

_WINDOW, _STEP = 0.010, 0.002  # seconds
_RISE = 0.010  # seconds over which a rise is measured
_BANDS = 10  # of equal width on a logarithmic axis
_LEAST = 1.5  # nats that the mean of the bands must rise
_APART = 0.030  # seconds between two onsets at the least
_BLOCK = 1.0  # seconds that are looked at together
_FLOOR = 1e-7  # power below which nothing is heard, with full scale 1


def onsets_within(recording: Recording, span: Span) -> tuple[float, ...]:
    """Onsets of energy in a stretch of time, in seconds of the recording, rising.

    Local maxima of the half-wave rectified rise of log band energies, as reviewed by Bello et al. (2005).
    """
    blocks = range(max(int(span.start // _BLOCK), 0), int(span.end // _BLOCK) + 1)
    found = (onset for block in blocks for onset in _onsets_in(recording, block))
    return tuple(onset for onset in found if span.start <= onset <= span.end)


@lru_cache(maxsize=32)
def _onsets_in(recording: Recording, block: int) -> tuple[float, ...]:
    rate, margin = recording.rate, 4 * _APART
    size, hop = round(_WINDOW * rate), max(round(_STEP * rate), 1)
    begin = max(round((block * _BLOCK - margin) * rate) // hop * hop, 0)  # one grid for all blocks
    piece = mix_down(recording.samples[begin : round(((block + 1) * _BLOCK + margin) * rate)])
    if len(piece) <= 2 * size:
        return ()
    frames = np.lib.stride_tricks.sliding_window_view(piece, size)[::hop]
    power = np.abs(np.fft.rfft(frames * np.hanning(size))) ** 2 / size
    edges = np.unique(np.geomspace(2, power.shape[1], _BANDS + 1).astype(int))
    bands = np.log(np.add.reduceat(power, edges[:-1], axis=1) + _FLOOR * size)
    lag = round(_RISE / _STEP)
    rise = np.maximum(bands[lag:] - bands[:-lag], 0).mean(1)
    near = round(_APART / _STEP)
    highest = np.lib.stride_tricks.sliding_window_view(np.pad(rise, near), 2 * near + 1).max(1)
    at = np.flatnonzero((rise == highest) & (rise >= _LEAST))
    times = begin / rate + (at + lag / 2) * hop / rate + _WINDOW / 2
    mine = np.floor(times / _BLOCK + 1e-9) == block
    return tuple(times[mine].tolist())
