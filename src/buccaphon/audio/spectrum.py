"""A spectrogram for the eye: how strong each height of sound is over time."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from buccaphon.audio.recording import Recording, mix_down
from buccaphon.timing import Span

_WINDOW = 0.008  # seconds: short, so that closures and bursts stand out rather than the voice's harmonics
_RANGE_DB = 55.0  # from the strongest down to blank
HIGHEST_HZ = 8000.0  # speech has little above it


def highest_of(rate: int) -> float:
    """Hz in the first row of a recording's spectrogram."""
    return min(HIGHEST_HZ, rate / 2)


def spectrogram(recording: Recording, span: Span, columns: int, rows: int) -> npt.NDArray[np.float32]:
    """(rows, columns) strength 0..1 of a stretch, 0 Hz in the last row, HIGHEST_HZ (or half the rate) in the first.

    The short-time Fourier transform with Hann windows, pre-emphasised by 6 dB an octave, relative to the stretch's peak.
    """
    rate = recording.rate
    size = max(round(_WINDOW * rate), 16)
    fft = 1 << (4 * size - 1).bit_length()
    centres = ((span.start + (np.arange(columns) + 0.5) * span.length / columns) * rate).astype(np.int64)
    low = max(int(centres[0]) - size, 0)
    piece = np.diff(mix_down(recording.samples[low : int(centres[-1]) + size]), prepend=0.0)
    padded = np.pad(piece, (size, 2 * size))
    frames = padded[(centres - low + size - size // 2)[:, None] + np.arange(size)]
    power = np.abs(np.fft.rfft(frames * np.hanning(size), fft)) ** 2
    highest = highest_of(rate)
    wanted = np.linspace(highest, 0.0, rows) * fft / rate
    picked = power[:, np.round(wanted).astype(np.int64)].T
    decibels = 10 * np.log10(np.maximum(picked, 1e-12))
    return np.asarray(np.clip((decibels - decibels.max()) / _RANGE_DB + 1.0, 0.0, 1.0), np.float32)
