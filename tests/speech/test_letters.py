"""Words of languages that are not listed, read by their letters."""

import pytest

from buccaphon.alignment.request import AlignmentRequest, spoken_ways
from buccaphon.audio.reading import read_recording
from buccaphon.demo.line import recording_path
from buccaphon.errors import AlignmentError, ScriptError
from buccaphon.speech.languages import BY_LETTERS, languages
from buccaphon.speech.letters import effective, near, read_by_letters, unread, usual_rules
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon
from buccaphon.speech.lexicon_text import letters_as_text, lexicon_as_text, parse_letters, parse_lexicon
from buccaphon.speech.phones import sound_of
from buccaphon.speech.script import script_words


@pytest.mark.parametrize(
    ("word", "sounds"),
    [
        ("gbogbo", "ɡ b o ɡ b o"), ("ọmọ", "ɔ m ɔ"), ("kú", "k u"), ("àárọ̀", "aː r ɔ"), ("aaaa", "aː"),
        ("Ngiyabonga", "ŋ i j a b o ŋ a"), ("waad", "w aː d"), ("tess", "t e s"), ("сайн", "s a j n"), ("уу", "uː"),
        ("nang-galit", "n a ŋ ɡ a l i t"),
    ],
)  # fmt: skip
def test_the_longest_spelling_counts_and_marks_above_letters_do_not(word, sounds):
    assert read_by_letters(word, ())[0] == tuple(sounds.split())


def test_the_last_vowel_but_one_is_stressed():
    assert read_by_letters("kumusta", ())[1] == (0, 0, 0, 1, 0, 0, 0)
    assert read_by_letters("ku", ())[1] == (0, 1)
    assert read_by_letters("sst", ())[1] == (0, 0)


def test_rules_of_ones_own_come_first_and_silent_letters_are_not_said():
    own = (("x", ("ħ",)), ("h", ()), ("dlw", ("ɮ", "w")))
    assert read_by_letters("xahdlwa", own)[0] == ("ħ", "a", "ɮ", "w", "a")
    assert effective(own)["x"] == ("ħ",)
    assert effective(own)["k"] == ("k",)


def test_a_letter_without_a_sound_is_named():
    assert read_by_letters("aអ", ()) == ((), ())
    assert unread("aអ", ()) == "អ"
    recording = read_recording(recording_path())
    request = AlignmentRequest(recording, script_words("អរគុណ"), language=BY_LETTERS)
    with pytest.raises(AlignmentError, match="“អ” has no sound"):
        spoken_ways(request)


def test_every_usual_sound_is_one_and_every_nearest_language_is_listed():
    assert all(sound_of(sound) for _, sounds in usual_rules() for sound in sounds)
    assert set(near().values()) <= languages().keys()
    assert not {name.lower() for name in near()} & {language.name.lower() for language in languages().values()}


def test_rules_go_into_a_lexicon_and_its_file_and_back():
    rules = dict(usual_rules()) | {"x": ("ħ",), "h": ()}
    lexicon = NO_ENTRIES.spelled(rules)
    assert lexicon.letters == (("h", ()), ("x", ("ħ",)))
    again = parse_lexicon(lexicon_as_text(lexicon), "x")
    assert again == lexicon
    assert again.ways("xah", BY_LETTERS)[0].sounds == ("ħ", "a")
    assert again.ways("xah", "sw")[0].sounds != ("ħ", "a")
    assert parse_letters(letters_as_text(rules)) == rules
    other = Lexicon(letters=(("x", ("k", "s")), ("q", ("q",))))
    assert dict(lexicon.over(other).letters) == {"x": ("ħ",), "q": ("q",), "h": ()}


@pytest.mark.parametrize("text", ["x", "x  12", "a  a\nb"])
def test_rules_that_cannot_be_are_refused(text):
    with pytest.raises(ScriptError):
        parse_letters(text)
