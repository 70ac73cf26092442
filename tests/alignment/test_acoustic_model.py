import numpy as np
import pytest

from buccaphon.alignment.acoustic_model import BEGIN, INSIDE, SILENCE, english_model, transform

MODEL = english_model()
STREAMS = np.random.default_rng(3).normal(0, 3, (5, 3, 13)).astype(np.float32)


def plainly(frame: np.ndarray, senone: int) -> float:
    """The log likelihood by the textbook, one Gaussian at a time."""
    phone = MODEL.senone_phone[senone]
    total = 0.0
    for which in range(3):
        mean = MODEL.means[phone, which].astype(float)
        variance = MODEL.variances[phone, which].astype(float)
        log_density = -0.5 * (((frame[which] - mean) ** 2 / variance) + np.log(2 * np.pi * variance)).sum(1)
        total += np.logaddexp.reduce(log_density + np.log(MODEL.mixture[which, senone].astype(float)))
    return total


def test_the_model_is_whole():
    assert len(MODEL.phones) == 42
    assert MODEL.mixture.shape == (3, 5126, 128)
    assert MODEL.mixture.sum(-1) == pytest.approx(1.0, abs=1e-4)
    assert np.exp(MODEL.transitions).sum(-1) == pytest.approx(1.0, abs=1e-5)
    assert set(MODEL.senone_phone) == set(range(42))


def test_scores_are_those_of_the_textbook():
    senones = np.array([0, 700, 3500, 5125], np.int32)
    found = MODEL.scores(STREAMS, senones)
    for row, frame in enumerate(STREAMS):
        for column, senone in enumerate(senones):
            assert found[row, column] == pytest.approx(plainly(frame, senone), abs=0.02)


def test_contexts_fall_back_to_the_plain_phone():
    p, aa, sil = (MODEL.index[name] for name in ("P", "AA", SILENCE))
    assert MODEL.senones(p, sil, aa, BEGIN) != MODEL.senones(p, aa, aa, INSIDE)
    noise = MODEL.index["+NSN+"]
    assert MODEL.senones(noise, p, p, INSIDE) == tuple(MODEL.triples[MODEL.plain[noise]])


def test_an_affine_transform_is_applied_stream_by_stream():
    shift = np.zeros((3, 13, 14), np.float32)
    shift[:, :, :13] = np.eye(13)
    shift[1, :, 13] = 2.0
    moved = transform(STREAMS, shift)
    assert moved[:, 0] == pytest.approx(STREAMS[:, 0])
    assert moved[:, 1] == pytest.approx(STREAMS[:, 1] + 2)
