import pytest

from buccaphon.errors import ScriptError
from buccaphon.speech.script import require_words, script_words


def bare(text: str) -> list[str]:
    return [word.bare for word in script_words(text)]


def test_speakers_and_directions_are_not_spoken():
    text = "MARIGOLD: Warm plums! (waves) [a horn]\nTHE CAT: No."
    assert bare(text) == ["Warm", "plums", "No"]
    assert [word.speaker for word in script_words(text)] == ["MARIGOLD", "MARIGOLD", "THE CAT"]


@pytest.mark.parametrize(
    "line", ["MARIGOLD (to the crowd): Plums", "MARIGOLD [aside] : Plums", "  MARIGOLD: (low) Plums"]
)
def test_how_it_is_said_may_stand_beside_who_says_it(line):
    assert [(word.text, word.speaker) for word in script_words(line)] == [("Plums", "MARIGOLD")]


def test_speakers_have_capitals_of_any_alphabet():
    text = "ÉLODIE: Bonjour\nМАША: Привет\nElodie: non"
    assert [word.speaker for word in script_words(text)] == ["ÉLODIE", "МАША", "МАША", "МАША"]


def test_a_colon_inside_a_line_is_no_speaker():
    assert bare("Listen: buy five") == ["Listen", "buy", "five"]


def test_words_keep_their_place_in_the_text():
    text = "“Five,” she said — or four?"
    for word in script_words(text):
        assert text[word.start : word.end].startswith(word.text[0])
    assert bare(text) == ["Five", "she", "said", "or", "four"]


def test_punctuation_alone_is_no_word():
    assert bare("... !? -- — *") == []


@pytest.mark.parametrize("text", ["", "   \n", "(laughs)", "MARIGOLD:", "?!"])
def test_a_script_without_words_is_refused(text):
    with pytest.raises(ScriptError, match=r"call\.txt.*no spoken words"):
        require_words(text, "call.txt")
