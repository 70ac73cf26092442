"""Pauses found in the sound alone: where it stays under the automatic floor for a while."""

from __future__ import annotations

import numpy as np

from buccaphon.audio.loudness import loudness
from buccaphon.audio.peaks import Peaks
from buccaphon.timing import Span

_STEP = 0.01  # seconds
LEAST_PAUSE = 0.25  # seconds; shorter ones belong to the speech


def find_pauses(peaks: Peaks) -> tuple[Span, ...]:
    """The quiet stretches of a recording, in order."""
    times = np.arange(0.0, peaks.duration, _STEP)
    quiet = loudness(peaks, times) == 0
    edges = np.flatnonzero(np.diff(np.concatenate([[False], quiet, [False]]).astype(int)))
    spans = (Span(start * _STEP, min(end * _STEP, peaks.duration)) for start, end in edges.reshape(-1, 2).tolist())
    return tuple(span for span in spans if span.length >= LEAST_PAUSE)
