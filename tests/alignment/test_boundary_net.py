import numpy as np
import pytest

from buccaphon.alignment import aligner, boundary_net, placing
from buccaphon.alignment.boundary_net import STEP, Layers, answers_of, log_mel, shipped_nets
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.speech.script import script_words
from tests.alignment.test_aligner import onset_errors
from tests.conftest import DATA

NAMES = ("awb00", "slt07")


def test_log_mel_frames_stand_every_five_milliseconds():
    samples = np.random.default_rng(0).normal(0, 2, 16000).astype(np.float32)
    samples[8000:8040] += np.random.default_rng(1).normal(0, 100, 40).astype(np.float32)
    mel = log_mel(samples)
    assert mel.shape == (201, 25)
    assert abs(mel.mean(1).argmax() * STEP - 0.501) <= 0.006
    assert -4 <= mel.min() <= mel.max() <= 4


def test_the_layers_are_a_perceptron():
    rng = np.random.default_rng(0)
    weights = (rng.normal(size=(4, 3)).astype(np.float32), rng.normal(size=(3, 2)).astype(np.float32))
    biases = (np.array([0.1, -5, 0.3], np.float32), np.array([1.0, 9.0], np.float32))
    net = Layers(weights, biases, np.full(4, 0.5, np.float32), np.full(4, 2.0, np.float32))
    x = rng.normal(size=(5, 4)).astype(np.float32)
    shift, scale = answers_of((net, net), x)
    hidden = np.maximum((x - 0.5) / 2 @ weights[0] + biases[0], 0)
    assert shift == pytest.approx((hidden @ weights[1] + biases[1])[:, 0], rel=1e-5)
    assert scale == pytest.approx(np.full(5, np.exp(3.0)), rel=1e-5), "the scale is clipped"


def test_the_shipped_nets_are_whole():
    nets = shipped_nets()
    assert len(nets) == 4
    for net in nets:
        assert [w.shape for w in net.weights] == [(760, 128), (128, 48), (48, 2)]
        assert all(np.isfinite(w).all() for w in (*net.weights, *net.biases, net.mean, net.spread))


def test_the_net_brings_onsets_nearer(monkeypatch):
    def mean_error() -> float:
        errors = []
        for name in NAMES:
            words = script_words((DATA / f"{name}.txt").read_text())
            score = aligner.align(AlignmentRequest(read_recording(DATA / f"{name}.flac"), words))
            errors.append(np.abs(onset_errors(score, DATA / f"{name}.phones.csv")))
        return float(np.concatenate(errors).mean())

    refined = mean_error()
    monkeypatch.setattr(boundary_net, "shipped_nets", tuple)
    assert refined < 0.9 * mean_error()


def test_confidence_falls_with_the_scale_and_stays_a_probability():
    sure = [placing.confidence_of(scale) for scale in (0.001, 0.005, 0.02, 0.1)]
    assert sure == sorted(sure, reverse=True)
    assert 0 < sure[-1] < 0.3
    assert 0.98 < sure[0] < 1
