import pytest

from buccaphon.alignment.request import REDUCED_COST, AlignmentRequest, Pin, costs_of, spoken_ways
from buccaphon.audio.recording import Recording
from buccaphon.speech.lexicon import Lexicon, Pronunciation, pronunciations
from buccaphon.speech.reduced import Reduced, reduced_ways
from buccaphon.speech.script import script_words


def hurried(word: str) -> list[str]:
    return [" ".join(way.sounds) for way in reduced_ways(word, pronunciations(word))]


@pytest.mark.parametrize(
    ("word", "way"),
    [
        ("and", "n"),  # a weak form
        ("And", "ə n"),  # of a written word in capitals as well
        ("her", "ɚ"),  # a lost h
        ("getting", "ɡ ɛ t ɪ n"),  # -in' for -ing
        ("water", "w ɔ d ɚ"),  # a flapped t
        ("hand", "h æ n"),  # a lost stop at the end
        ("generous", "dʒ ɛ n ɹ ə s"),  # a swallowed vowel
    ],
)
def test_what_a_word_becomes_in_a_hurry(word, way):
    assert way in hurried(word)


@pytest.mark.parametrize("word", ["sing", "attack", "tea", "the", "bat"])
def test_what_stays_as_it_is(word):
    """A syllable alone, a stressed vowel after the t, no vowel before it, no rule, a stop after a vowel."""
    assert hurried(word) == []


def test_nothing_that_the_dictionary_has_is_offered_again():
    for word in ("him", "probably", "and", "just"):
        ways = pronunciations(word)
        assert not {way.sounds for way in ways} & {way.sounds for way in reduced_ways(word, ways)}


def request(call: Recording, text: str = "her and water", **more) -> AlignmentRequest:
    return AlignmentRequest(call, script_words(text), **more)


def reduced(asked: AlignmentRequest) -> list[bool]:
    return [any(isinstance(way, Reduced) for way in ways) for ways in spoken_ways(asked)]


def test_each_way_in_a_hurry_has_its_cost(call):
    costs = costs_of(spoken_ways(request(call)))
    assert all(each[0] == 0 and each[-1] == REDUCED_COST for each in costs)


def test_ones_own_lexicon_a_pin_inside_a_word_and_other_languages_are_kept_to(call):
    assert reduced(request(call)) == [True, True, True]
    own = Lexicon().having("and", Pronunciation(("æ", "n", "d"), (1, 0, 0)))
    assert reduced(request(call, lexicon=own)) == [True, False, True]
    assert reduced(request(call, pins=(Pin(2, 1, 4, 0.5),))) == [True, True, False]
    assert reduced(request(call, pins=(Pin(2, 0, 4, 0.5), Pin(1, 3, 3, 0.5)))) == [True, True, True]
    assert reduced(request(call, "no y agua", language="es")) == [False, False, False]
