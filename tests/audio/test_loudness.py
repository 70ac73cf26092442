import numpy as np
import pytest

from buccaphon.audio.loudness import Range, automatic_range, levels, loudness, openness
from buccaphon.audio.peaks import Peaks, build_peaks
from buccaphon.audio.recording import Recording

RATE = 16000


def recording(*parts: tuple[float, float]) -> Peaks:
    """Noise of (seconds, amplitude) stretches."""
    rng = np.random.default_rng(0)
    pieces = [amplitude * rng.standard_normal(round(seconds * RATE)) for seconds, amplitude in parts]
    return build_peaks(Recording(np.concatenate(pieces).astype(np.float32)[:, None], RATE, "noise"))


def test_level_of_a_full_scale_sine_is_minus_three_decibels():
    wave = np.sin(2 * np.pi * 500 * np.arange(RATE) / RATE).astype(np.float32)
    assert levels(build_peaks(Recording(wave[:, None], RATE, "sine")), np.array([0.5])) == pytest.approx(
        [-3.01], abs=0.05
    )


def test_pauses_are_exactly_zero_and_the_voice_is_not():
    found = loudness(recording((1, 0.001), (1, 0.2), (1, 0.001)), np.arange(0.1, 3.0, 0.1))
    assert (found[:8] == 0).all()
    assert (found[-8:] == 0).all()
    assert found[12:17].min() > 0.6


def test_a_silent_recording_is_zero_everywhere():
    assert not loudness(recording((1, 0.0)), np.arange(0, 1, 0.1)).any()


def test_floor_and_ceiling_follow_room_and_voice():
    limits = automatic_range(np.array([-60.0] * 50 + [-20.0] * 50, np.float32))
    assert limits.ceiling == pytest.approx(-20)
    assert limits.floor == pytest.approx(-54)


def test_the_gate_does_not_chatter_around_the_floor():
    wobble = np.where(np.arange(100) % 2, 0.07, 0.11).astype(np.float32) * 40 - 60
    opened = openness(wobble.astype(np.float32), Range(-60, -20)) > 0
    assert np.abs(np.diff(opened.astype(int))).sum() <= 1
