import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.recording import Recording

RATE = 8000
SIGNAL = np.random.default_rng(1).uniform(-1, 1, 50_000).astype(np.float32)
PEAKS = build_peaks(Recording(SIGNAL[:, None], RATE, "noise"))


@settings(deadline=None)
@given(st.floats(0, 5), st.floats(0.01, 1.2), st.integers(1, 300))
def test_columns_never_hide_a_peak(start, length, count):
    """Each column is at least as tall as the samples strictly inside it."""
    columns = PEAKS.columns(start, start + length, count)
    edges = np.linspace(start, start + length, count + 1) * RATE
    for column, left, right in zip(columns, edges, edges[1:], strict=False):
        inside = SIGNAL[int(np.ceil(left)) : int(right)]
        if len(inside):
            assert column[0] <= inside.min() + 1e-6
            assert column[1] >= inside.max() - 1e-6


def test_rms_of_a_long_column_is_that_of_the_signal():
    column = PEAKS.columns(0, len(SIGNAL) / RATE, 1)[0]
    assert column[2] == pytest.approx(np.sqrt((SIGNAL**2).mean()), rel=0.02)


def test_outside_the_recording_is_silence():
    assert not PEAKS.columns(100.0, 101.0, 10).any()
    assert PEAKS.columns(0.0, 0.0, 10).shape == (0, 3)
