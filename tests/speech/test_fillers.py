"""What people say between words, and words that are drawn out in writing."""

import pytest

from buccaphon.speech.fillers import drawn_out_of, filler
from buccaphon.speech.lexicon import pronunciations


@pytest.mark.parametrize(
    ("written", "said"),
    [
        ("Um", "ʌ m"), ("mhm", "m h m"), ("mm-hm", "m h m"), ("erm", "ɝ m"), ("Hmmmm", "h m"), ("uhhh", "ʌ"),
        ("Noooo", "n oʊ"), ("sooo", "s oʊ"), ("goood", "ɡ ʊ d"), ("pleeease", "p l i z"), ("yesss", "j ɛ s"), ("booo", "b u"),
        ("wellll", "w ɛ l"), ("Brrrr", "b ɹ"), ("aaaah", "ɑ"), ("hellooo", "h ə l oʊ"), ("shhhh", "ʃ"),
    ],
)  # fmt: skip
def test_how_they_are_said(written, said):
    assert " ".join(pronunciations(written)[0].sounds) == said


def test_ordinary_words_stay_as_they_are():
    for word in ("bookkeeper", "water", "www", "committee", "xxxyz"):
        assert drawn_out_of(word) == word
        assert filler(word) == ()
    assert len(pronunciations("1000")) > 1
    assert pronunciations("mm")[-1].sounds != ("m",), "millimetres can be meant as well"
