"""Where a dragged boundary comes to rest."""

from fractions import Fraction
from types import SimpleNamespace

import numpy as np
import pytest

from buccaphon.app.galley.gestures.snapping import snap
from buccaphon.audio.recording import Recording
from buccaphon.timing import FrameRate

RATE, SCALE = 48000, 200.0  # Hz, pixels a second: three pixels are 15 ms


@pytest.fixture
def session():
    """A burst at 0.523 s, at 24 fps."""
    rng = np.random.default_rng(1)
    samples = 1e-4 * rng.standard_normal(2 * RATE)
    samples[round(0.523 * RATE) : round(0.62 * RATE)] += 0.3 * rng.standard_normal(
        round(0.62 * RATE) - round(0.523 * RATE)
    )
    recording = Recording(samples.astype(np.float32)[:, None], RATE, "burst")
    return SimpleNamespace(recording=recording, state=SimpleNamespace(rate=FrameRate(Fraction(24))))


def test_a_frame_is_near(session):
    assert snap(session, 1.005, SCALE) == 1.0
    assert snap(session, 1.02, SCALE) == 1.02, "too far from any"


def test_an_onset_is_nearer_than_the_frame(session):
    assert snap(session, 0.518, SCALE) == pytest.approx(0.523, abs=0.006)


def test_a_word_beside_is_nearer_than_both(session):
    assert snap(session, 0.518, SCALE, (0.517, 0.9)) == 0.517


def test_without_a_recording_there_are_frames_still(session):
    session.recording = None
    assert snap(session, 0.5205, SCALE) == 0.5205
    assert snap(session, 0.505, SCALE) == 0.5
