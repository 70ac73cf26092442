import pytest

from buccaphon.speech.dictionary import is_listed
from buccaphon.speech.lexicon import pronunciations, word_pronunciations
from buccaphon.speech.phones import SOUNDS, PhoneClass, arpabet_of, class_of, ipa_of


def first(word: str) -> str:
    return " ".join(pronunciations(word)[0].sounds)


def test_dictionary_words_carry_schwas_and_stress_from_letter_to_sound():
    assert first("purple") == "p ɝ p ə l"
    assert first("plums") == "p l ʌ m z"
    assert pronunciations("another")[0].stresses == (0, 0, 1, 0, 0)


def test_several_ways_to_say_a_word_are_kept():
    assert {" ".join(way.sounds) for way in pronunciations("the")} == {"ð ə", "ð i"}


def test_unlisted_words_are_read_by_their_letters():
    assert not is_listed("flugelhorn")
    assert first("flugelhorn") == "f l u ɡ ə l h ɔ ɹ n"


def test_an_unlisted_possessive_follows_the_rule_of_english():
    assert word_pronunciations("parsnip's")[0].sounds[-1] == "s"
    assert word_pronunciations("turnip's")[0].sounds[-1] == "s"


def test_a_number_is_said_in_all_ways_of_its_words():
    assert first("25") == "t w ɛ n t i f aɪ v"
    assert len(pronunciations("25")) == 2


@pytest.mark.parametrize("nothing", ["", "…", "?"])
def test_what_cannot_be_said_has_no_pronunciation(nothing):
    assert pronunciations(nothing) == ()


@pytest.mark.parametrize("sound", SOUNDS.values(), ids=lambda sound: sound.ipa)
def test_every_sound_survives_the_way_to_arpabet_and_back(sound):
    assert arpabet_of(ipa_of(sound.arpabet, 1)) == sound.arpabet
    assert class_of(sound.ipa) is sound.kind


def test_a_pause_is_a_class_of_its_own():
    assert class_of("") is PhoneClass.PAUSE
