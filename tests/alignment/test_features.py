import numpy as np
import pytest

from buccaphon.alignment.features import FRAME_SECONDS, HOP, RATE, features, mel_power
from buccaphon.audio.recording import Recording


def burst(at: float, length: float = 1.0) -> Recording:
    samples = np.zeros(round(length * RATE), np.float32)
    samples[round(at * RATE)] = 0.9
    return Recording(samples[:, None], RATE, "click")


def test_a_click_is_loudest_in_the_frame_centred_on_it():
    power = mel_power(burst(0.5).mono * 32768).sum(1)
    assert power.argmax() * FRAME_SECONDS == pytest.approx(0.5, abs=FRAME_SECONDS / 2)


def test_one_frame_a_hop_whatever_the_sample_rate(call):
    assert len(features(call)) == len(call.samples) // HOP + 1
    slow = Recording(np.random.default_rng(0).normal(0, 0.1, (44100, 2)).astype(np.float32), 44100, "noise")
    assert len(features(slow)) == 101


def test_features_do_not_depend_on_the_level(call):
    quiet = Recording(call.samples * np.float32(0.1), call.rate, "quiet")
    assert np.abs(features(quiet).streams - features(call).streams).mean() < 0.05


def test_only_speech_sets_the_mean_however_much_silence_there_is(call):
    zeros = np.zeros((2 * call.rate, 1), np.float32)
    padded = features(Recording(np.concatenate([zeros, call.samples]), call.rate, "padded"))
    plain = features(call)
    shift = 2 * RATE // HOP
    speech = plain.speech
    assert padded.streams[padded.speech, 0].mean(0) == pytest.approx(0, abs=1e-3)
    assert not padded.speech[: shift - 5].any()
    assert (padded.speech[shift : shift + len(speech)] | ~speech).mean() > 0.98
