"""Onsets of energy against sounds that begin at known moments."""

import numpy as np
import pytest

from buccaphon.audio.onsets import onsets_near
from buccaphon.audio.recording import Recording

RATE = 48000


def recording(*starts: float, seconds: float = 4.0, level: float = 0.3) -> Recording:
    rng = np.random.default_rng(1)
    samples = 1e-4 * rng.standard_normal(round(seconds * RATE))
    for start in starts:
        begin = round(start * RATE)
        samples[begin : begin + RATE // 10] += level * rng.standard_normal(RATE // 10)
    return Recording(samples.astype(np.float32)[:, None], RATE, "bursts")


def test_bursts_are_found_where_they_begin():
    starts = (0.25, 0.9, 1.31, 2.0)
    found = onsets_near(recording(*starts), 1.0)
    for start in starts:
        assert min(abs(at - start) for at in found) < 0.006


def test_steady_sound_and_silence_have_none():
    rng = np.random.default_rng(2)
    steady = Recording((0.1 * rng.standard_normal((2 * RATE, 1))).astype(np.float32), RATE, "noise")
    assert not onsets_near(steady, 1.0)
    assert onsets_near(Recording(np.zeros((RATE, 1), np.float32), RATE, "silence"), 0.5) == ()


@pytest.mark.parametrize("seconds", [0.0, 3.999, 60.0])
def test_rims_and_beyond_are_safe(seconds):
    assert isinstance(onsets_near(recording(3.5), seconds), tuple)


def test_a_burst_at_the_seam_of_two_blocks_is_found_once():
    found = [at for at in onsets_near(recording(1.0), 1.0) if abs(at - 1.0) < 0.03]
    assert len(found) == 1
