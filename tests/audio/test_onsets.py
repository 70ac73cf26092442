"""Onsets of energy against sounds that begin at known moments."""

import numpy as np
import pytest

from buccaphon.audio.onsets import onsets_within
from buccaphon.audio.recording import Recording
from buccaphon.timing import Span

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
    found = onsets_within(recording(*starts), Span(0.0, 4.0))
    for start in starts:
        assert min(abs(at - start) for at in found) < 0.006


def test_steady_sound_and_silence_have_none():
    rng = np.random.default_rng(2)
    steady = Recording((0.1 * rng.standard_normal((2 * RATE, 1))).astype(np.float32), RATE, "noise")
    assert not onsets_within(steady, Span(0.0, 2.0))
    assert onsets_within(Recording(np.zeros((RATE, 1), np.float32), RATE, "silence"), Span(0.0, 1.0)) == ()


@pytest.mark.parametrize("seconds", [0.0, 3.999, 60.0])
def test_rims_and_beyond_are_safe(seconds):
    found = onsets_within(recording(3.5), Span(seconds - 0.6, seconds + 0.6))
    assert len(found) == (1 if 2.9 < seconds < 4.1 else 0)


def test_a_burst_at_the_seam_of_two_blocks_is_found_once():
    assert len(onsets_within(recording(1.0), Span(0.97, 1.03))) == 1
