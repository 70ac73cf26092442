"""Where somebody speaks, in a room with noise, after music, and where nobody does."""

import csv
from pathlib import Path

import numpy as np
import pytest

from buccaphon.alignment.speaking import HEARD, spoken_in
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import Cancelled
from buccaphon.motion.plan import where_spoken
from buccaphon.motion.record import frame_middles
from buccaphon.project.derived import Derived
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate

DATA = Path(__file__).parents[1] / "data"
VOWELS = {"AA", "AE", "AH", "AO", "AW", "AX", "AY", "EH", "ER", "EY", "IH", "IY", "OW", "OY", "UH", "UW"}
AROUND = 1.0  # seconds of nothing but noise before and after the line
RATE = FrameRate.parse("24")


def pink(count: int, seed: int = 3) -> np.ndarray:
    spectrum = np.fft.rfft(np.random.default_rng(seed).standard_normal(count))
    noise = np.fft.irfft(spectrum / np.sqrt(np.maximum(np.arange(len(spectrum)), 1)), count)
    return noise / np.sqrt(np.mean(noise**2))


@pytest.fixture(scope="module")
def noisy() -> Recording:
    """A line in pink noise, 10 dB below the speech."""
    line = read_recording(DATA / "slt07.flac")
    voice = np.pad(line.mono, round(AROUND * line.rate))
    loud = np.sqrt(np.mean(line.mono**2))
    return Recording((voice + 0.3 * loud * pink(len(voice))).astype(np.float32)[:, None], line.rate, "noisy")


@pytest.fixture(scope="module")
def vowels() -> list[tuple[float, float]]:
    with (DATA / "slt07.phones.csv").open(newline="") as rows:
        return [
            (float(row["start_s"]) + AROUND, float(row["end_s"]) + AROUND)
            for row in csv.DictReader(rows)
            if row["phone"].strip("012").upper() in VOWELS
        ]


def frames_open(derived: Derived, noisy: Recording) -> np.ndarray:
    return derived.bake(one_line(takes=(Take(Path("noisy.flac")),), rate=RATE)).jaw > 0.02


def test_in_noise_the_jaw_is_shut_before_and_after_the_words_and_open_in_their_vowels(noisy, vowels):
    assert len(vowels) > 8
    derived = Derived(noisy, build_peaks(noisy))
    middles = (np.arange(RATE.covering(noisy.duration)) + 0.5) / 24
    outside = (middles < AROUND - 0.05) | (middles > noisy.duration - AROUND + 0.05)
    inside = np.any([(middles > start + 0.02) & (middles < end - 0.02) for start, end in vowels], axis=0)
    assert frames_open(derived, noisy)[outside].mean() > 0.8, "by loudness alone noise opens it"
    derived.take_spoken(spoken_in(noisy))
    assert frames_open(derived, noisy)[outside].mean() <= 0.03
    assert frames_open(derived, noisy)[inside].mean() >= 0.95


def test_with_words_it_changes_nothing(call, call_peaks, call_score):
    derived = Derived(call, call_peaks)
    state = one_line(takes=(Take(Path("call.flac"), score=call_score),))
    before = derived.bake(state)
    derived.take_spoken(np.zeros(round(call.duration / HEARD), np.bool_))
    assert np.array_equal(derived.bake(state).channels.values, before.channels.values)


def test_a_growl_still_moves_the_mouth():
    loud = np.ones(48, np.float32)
    moments = frame_middles(0, 48, RATE)
    assert where_spoken(loud, np.zeros(200, np.bool_), moments).all()
    some = np.arange(200) < 60
    assert np.array_equal(where_spoken(loud, some, moments), moments < 0.6)
    assert where_spoken(loud, np.zeros(0, np.bool_), moments).all()


def test_answers_stop_before_a_recording_that_is_a_little_longer():
    loud = np.ones(48, np.float32)
    assert where_spoken(loud, np.ones(120, np.bool_), frame_middles(0, 48, RATE)).all()


def test_it_can_be_stopped(noisy):
    with pytest.raises(Cancelled):
        spoken_in(noisy, lambda _share, _what: False)


def test_piece_by_piece_it_hears_what_it_hears_in_one_go(noisy, monkeypatch):
    whole = spoken_in(noisy)
    told = []
    monkeypatch.setattr("buccaphon.alignment.speaking._PIECE", 1.5)
    parts = spoken_in(noisy, lambda share, _what: told.append(share) or True)
    assert len(parts) == len(whole)
    assert np.mean(parts == whole) > 0.97
    assert told == sorted(told)
    assert 0.0 <= told[0] < told[-1] <= 1.0
