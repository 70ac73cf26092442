"""What the speech net says of which sound it is, beside the acoustic model."""

from dataclasses import replace

import numpy as np

from buccaphon.alignment import hearing
from buccaphon.alignment.acoustic_model import english_model
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.alignment.sounding import SEARCHING, by_senone
from buccaphon.alignment.speech_net import SOUNDS, evidence_in
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.speech.script import script_words
from tests.alignment.test_boundary_net import DATA, onset_errors


def test_each_senone_is_given_what_is_said_of_its_sound():
    model = english_model()
    sounding = np.zeros((3, len(SOUNDS)), np.float16)
    sounding[:, SOUNDS.index("M")] = [1, 2, -3]
    senones = np.array([np.flatnonzero(model.senone_phone == model.index[name])[0] for name in ("M", "B", "SIL")])
    found = by_senone(model, sounding, senones)
    assert found[:, 0].tolist() == [SEARCHING * value for value in (1, 2, -3)]
    assert not found[:, 1:].any()


def test_lines_in_noise_are_timed_better_by_it(monkeypatch):
    def mean_error() -> float:
        errors = []
        for name in ("awb00", "slt07"):
            clean = read_recording(DATA / f"{name}.flac")
            noise = np.random.default_rng(3).standard_normal(len(clean.mono)).astype(np.float32)
            noisy = Recording((clean.mono + 0.04 * noise)[:, None], clean.rate, name)
            score = align(AlignmentRequest(noisy, script_words((DATA / f"{name}.txt").read_text())))
            errors.append(np.abs(onset_errors(score, DATA / f"{name}.phones.csv")))
            hearing.forget_what_was_heard()
        return float(np.concatenate(errors).mean())

    with_it = mean_error()
    monkeypatch.setattr(
        hearing, "evidence_in", lambda *given: replace(said := evidence_in(*given), sounding=0 * said.sounding)
    )
    assert with_it < 0.97 * mean_error()
