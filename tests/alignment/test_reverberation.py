import numpy as np
import pytest
from scipy import signal

from buccaphon.alignment.features import condition, mel_power
from buccaphon.alignment.reverberation import DRY, steepest_fall, without_tail
from buccaphon.audio.recording import Recording


def in_a_room(recording: Recording, t60: float) -> Recording:
    rng = np.random.default_rng(3)
    at = np.arange(round(t60 * recording.rate)) / recording.rate
    tail = 0.05 * rng.standard_normal(len(at)) * 10 ** (-3 * at / t60)
    tail[0] = 1.0
    said = signal.fftconvolve(recording.mono, tail)[: len(recording.mono)].astype(np.float32)
    return Recording(said[:, None], recording.rate, "room")


def power_of(recording: Recording) -> np.ndarray:
    return mel_power(condition(recording))


def test_a_dry_recording_is_told_from_one_in_a_room(call):
    assert steepest_fall(power_of(call)) > DRY > steepest_fall(power_of(in_a_room(call, 0.3)))


def test_the_longer_a_room_rings_the_slower_its_sounds_fall(call):
    falls = [steepest_fall(power_of(in_a_room(call, t60))) for t60 in (0.3, 0.5, 0.8)]
    assert falls == sorted(falls, reverse=True)
    assert max(falls) < DRY


def test_what_follows_a_sound_comes_closer_to_the_dry_recording(call):
    dry, wet = (10 * np.log10(power_of(one) + 1) for one in (call, in_a_room(call, 0.45)))
    power = power_of(in_a_room(call, 0.45))
    mended = 10 * np.log10(without_tail(power, steepest_fall(power)) + 1)
    ringing = (wet > dry + 6) & (wet > wet.max() - 40)
    assert ringing.sum() > 200
    assert np.abs(mended - dry)[ringing].mean() < 0.8 * np.abs(wet - dry)[ringing].mean()


@pytest.mark.parametrize("frames", [1, 7, 400])
def test_where_falls_cannot_be_seen_nothing_is_taken_off(frames):
    noise = np.random.default_rng(0).exponential(1e4, (frames, 25)).astype(np.float32)
    assert steepest_fall(noise) == float("inf")
