"""Pronunciations said aloud: the sounds that are asked for are in the sound that is made."""

import numpy as np
import pytest

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError
from buccaphon.speech.lexicon import Lexicon, Pronunciation
from buccaphon.speech.lexicon_text import parse_pronunciation
from buccaphon.speech.phones import SOUNDS
from buccaphon.speech.saying import mnemonics, saying
from buccaphon.speech.script import script_words


def test_every_english_sound_and_foreign_ones_can_be_said():
    for sound in (*SOUNDS, "ɾ", "ɣ", "y", "ʁ"):
        assert mnemonics(Pronunciation((sound,), (0,)))


def test_stress_and_weak_vowels_are_written():
    way = parse_pronunciation("AH0 B AW1 T", "en-us")
    assert mnemonics(way) == "@|b|'aU|t"


@pytest.mark.parametrize("typed", ["P L AH1 M Z", "M AA1 R OW0", "F AA1 R DH IH0 NG"])
def test_what_is_said_aligns_with_its_own_pronunciation(typed):
    way = parse_pronunciation(typed, "en-us")
    samples, rate = saying(way)
    recording = Recording(samples[:, None], rate, "said aloud")
    assert 0.3 < recording.duration < 2.0
    assert np.abs(recording.mono).max() > 0.1
    lexicon = Lexicon().having("word", way)
    score = align(AlignmentRequest(recording, script_words("word"), lexicon=lexicon))
    assert [phone.symbol for phone in score.phones()] == list(way.sounds)


def test_the_same_way_is_made_once():
    way = parse_pronunciation("K AE1 T", "en-us")
    assert saying(way) is saying(way)


def test_what_is_no_sound_is_refused_before_it_is_said():
    with pytest.raises(BuccaphonError):
        parse_pronunciation("K QQ T", "en-us")
