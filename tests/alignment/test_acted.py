"""Voices that act: far from those the nets know, and sounds that are held."""

import numpy as np
import pytest
import soxr

from buccaphon.alignment.aligner import align
from buccaphon.alignment.drawn_out import drawn_out
from buccaphon.alignment.features import mel_power
from buccaphon.alignment.hearing import forget_what_was_heard
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.speech.script import script_words
from tests.conftest import DATA

RATE = 16000


@pytest.mark.parametrize("pace", [0.72, 1.4])
@pytest.mark.parametrize("name", ["awb00", "slt07"])
def test_giants_and_small_creatures_are_timed_like_the_voice_they_were_made_of(name, pace):
    recording, words = read_recording(DATA / f"{name}.flac"), script_words((DATA / f"{name}.txt").read_text())
    plain = align(AlignmentRequest(recording, words))
    other = Recording(
        soxr.resample(recording.mono, pace * recording.rate, recording.rate)[:, None], recording.rate, name
    )
    acted = align(AlignmentRequest(other, words))
    forget_what_was_heard()
    off = [a.start * pace - b.start for a, b in zip(acted.words, plain.words, strict=True)]
    assert np.mean(np.abs(off) < 0.0417) > 0.9
    assert np.abs(off).max() < 0.15


def vowel(seconds: float) -> np.ndarray:
    """A steady buzz through two resonances."""
    time = np.arange(round(seconds * RATE)) / RATE
    return sum(np.sin(2 * np.pi * 120 * n * time) * np.exp(-(((120 * n - 600) / 300) ** 2)) for n in range(1, 20))


def heard(sound: np.ndarray, pause: np.ndarray) -> np.ndarray:
    samples = (8000 * sound / np.abs(sound).max()).astype(np.float32)
    samples += np.random.default_rng(1).normal(0, 2, len(samples)).astype(np.float32)
    return drawn_out(samples, mel_power(samples), pause)


def test_a_held_vowel_among_speech_is_a_voices_and_music_alone_is_not():
    held = np.concatenate([np.zeros(RATE // 2), vowel(1.0), np.zeros(RATE // 2)])
    count = len(held) // 160 + 1
    speech = np.full(count, -3.0, np.float32)
    found = heard(held, speech)
    assert found[60:140].min() > 0.9
    assert found[:40].max() == 0
    assert heard(held, np.full(count, 3.0, np.float32)).max() == 0, "nothing around it is speech"
    steady = vowel(4.0)
    assert heard(steady, np.full(len(steady) // 160 + 1, -3.0, np.float32)).max() < 0.1, "it never stops, as music"
    noise = np.random.default_rng(2).normal(0, 1, len(held)) * (np.abs(held) > 0)
    assert heard(noise, speech).max() < 0.2, "it is not voiced"


def test_odd_lengths_are_no_error():
    for samples in (0, 1, 159, 160, 481):
        sound = np.zeros(samples, np.float32)
        power = mel_power(sound)
        assert len(drawn_out(sound, power, np.zeros(len(power) + 1, np.float32))) == len(power) + 1
    assert len(drawn_out(np.zeros(0, np.float32), np.zeros((0, 25), np.float32), np.zeros(0, np.float32))) == 0
