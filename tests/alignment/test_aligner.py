import csv
import difflib
from pathlib import Path

import numpy as np
import pytest

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.score.records import Score
from buccaphon.speech.phones import arpabet_of
from buccaphon.speech.script import script_words
from tests.conftest import DATA

NAMES = sorted(path.stem for path in DATA.glob("*.flac"))


def request(name: str, recording: Recording | None = None) -> AlignmentRequest:
    words = script_words((DATA / f"{name}.txt").read_text())
    return AlignmentRequest(recording or read_recording(DATA / f"{name}.flac"), words)


def onset_errors(score: Score, reference: Path, shift: float = 0.0) -> np.ndarray:
    """Seconds, for each phone that both have."""
    with reference.open(newline="") as rows:
        truth = [(row["phone"], float(row["start_s"]) + shift) for row in csv.DictReader(rows) if row["phone"]]
    found = [(arpabet_of(phone.symbol), phone.start) for phone in score.phones()]
    matcher = difflib.SequenceMatcher(None, [name for name, _ in found], [name for name, _ in truth], autojunk=False)
    pairs = [(i + k, j + k) for i, j, n in matcher.get_matching_blocks() for k in range(n)]
    assert len(pairs) >= 0.9 * len(truth)
    return np.array([found[i][1] - truth[j][1] for i, j in pairs])


@pytest.mark.parametrize("name", NAMES)
def test_onsets_lie_where_the_synthesiser_put_them(name):
    errors = np.abs(onset_errors(align(request(name)), DATA / f"{name}.phones.csv"))
    assert errors.mean() < 0.009
    assert (errors < 1 / 24).mean() >= 0.96


def test_digital_silence_around_the_speech_costs_nothing():
    name = NAMES[0]
    plain = read_recording(DATA / f"{name}.flac")
    zeros = np.zeros((round(1.5 * plain.rate), 1), np.float32)
    padded = Recording(np.concatenate([zeros, plain.samples, zeros]), plain.rate, "padded")
    errors = np.abs(onset_errors(align(request(name, padded)), DATA / f"{name}.phones.csv", shift=1.5))
    assert errors.mean() < 0.012
    assert (errors < 1 / 24).mean() >= 0.96


def test_the_same_recording_at_another_rate_and_in_stereo_aligns_alike():
    import soxr

    name = NAMES[0]
    plain = read_recording(DATA / f"{name}.flac")
    other = soxr.resample(plain.mono, plain.rate, 44100)
    score = align(request(name, Recording(np.stack([other, other], axis=1), 44100, "stereo")))
    starts = np.array([phone.start for phone in align(request(name)).phones()])
    assert np.abs(np.array([phone.start for phone in score.phones()]) - starts).mean() < 0.003


def test_every_word_of_the_script_is_there_in_order(call_score):
    from buccaphon.demo.line import script_text

    assert [word.text for word in call_score.words] == [word.text for word in script_words(script_text())]
    assert call_score.words[0].start > 0.1
    assert all(0 <= phone.confidence <= 1 for phone in call_score.phones())


def test_the_same_request_gives_the_same_answer():
    assert align(request(NAMES[0])) == align(request(NAMES[0]))


def test_progress_rises_and_can_stop_the_work():
    shares: list[float] = []
    align(request(NAMES[0]), lambda share, what: shares.append(share) or True)
    assert shares == sorted(shares)
    with pytest.raises(Cancelled):
        align(request(NAMES[0]), lambda share, what: share < 0.3)


def noise(seconds: float, amplitude: float) -> Recording:
    samples = amplitude * np.random.default_rng(0).standard_normal((round(seconds * 16000), 1))
    return Recording(samples.astype(np.float32), 16000, "call.wav")


@pytest.mark.parametrize(
    ("recording", "script", "reason"),
    [
        (noise(1, 0.0), "hello there", "only silence"),
        (noise(0.3, 0.1), "a great many words that take much longer than that to say", "too short"),
        (noise(1, 0.1), "", "no words"),
        (noise(1, 0.1), "日本", "no pronunciation"),
    ],
)
def test_hopeless_requests_are_refused_in_one_sentence(recording, script, reason):
    with pytest.raises(AlignmentError, match=reason):
        align(AlignmentRequest(recording, script_words(script)))


def test_noise_without_speech_still_gives_an_answer():
    """The decoder never gives up for reasons of its own."""
    score = align(AlignmentRequest(noise(2, 0.1), script_words("five figs")))
    assert len(score.words) == 2
