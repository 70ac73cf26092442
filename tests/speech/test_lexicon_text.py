import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.errors import ScriptError
from buccaphon.speech.lexicon import Entry, Lexicon, Pronunciation, pronunciations
from buccaphon.speech.lexicon_text import lexicon_as_text, parse_lexicon, parse_pronunciation, pronunciation_as_text
from buccaphon.speech.phones import SOUNDS, is_vowel

PLUMS = Pronunciation(("p", "l", "ʌ", "m", "z"), (0, 0, 1, 0, 0))


@pytest.mark.parametrize("typed", ["p l ˈʌ m z", "/p l ˈʌ m z/", "P L AH1 M Z", " P  L AH1 M Z "])
def test_ipa_and_arpabet_mean_the_same(typed):
    assert parse_pronunciation(typed, "en-us") == PLUMS


def test_a_word_can_be_said_like_others():
    way = parse_pronunciation("= twenty five", "en-us")
    assert way == pronunciations("twenty")[0] + pronunciations("five")[0]


@pytest.mark.parametrize(
    ("typed", "named"), [("p l Q", "Q"), ("", "no sounds"), ("P L AH9", "AH9"), ("= ?", "no pronunciation")]
)
def test_what_is_no_sound_is_named(typed, named):
    with pytest.raises(ScriptError, match=named):
        parse_pronunciation(typed, "en-us")


@st.composite
def ways(draw) -> Pronunciation:
    sounds = draw(st.lists(st.sampled_from([*SOUNDS, "øː", "ɲ", "ɑ̃"]), min_size=1, max_size=8))
    stresses = tuple(draw(st.integers(0, 2)) if is_vowel(sound) else 0 for sound in sounds)
    return Pronunciation(tuple(sounds), stresses)


@given(
    st.lists(
        st.builds(Entry, st.sampled_from(["plums", "l'été", "25"]), ways(), st.none() | st.integers(0, 9)), max_size=5
    )
)
def test_a_lexicon_is_read_back_as_it_was_written(entries):
    lexicon = Lexicon(tuple(entries))
    assert parse_lexicon(lexicon_as_text(lexicon), "here") == lexicon


def test_a_wrong_line_is_named_by_its_number():
    with pytest.raises(ScriptError, match=r"words.txt, line 3, “Q”"):
        parse_lexicon("# mine\nplums  p l ʌ m z\npears  p Q\n", "words.txt")
    with pytest.raises(ScriptError, match="line 1 is not a word"):
        parse_lexicon("plums", "words.txt")


def test_ones_own_ways_win_everywhere_or_the_nth_time():
    other = parse_pronunciation("p l ˈuː m z", "en-us")
    everywhere = Lexicon().having("Plums", other)
    assert everywhere.ways("plums", "en-us", 5) == (other,)
    once = Lexicon().having("plums", other, only=1)
    assert once.ways("plums", "en-us", 0) == pronunciations("plums")
    assert once.ways("plums", "en-us", 1) == (other,)
    assert everywhere.having("plums").entries == ()
    assert Lexicon((Entry("plums", PLUMS),)).over(everywhere).ways("plums", "en-us") == (PLUMS,)
    assert pronunciation_as_text(PLUMS) == "p l ˈʌ m z"


def test_a_word_may_begin_with_the_sign_that_also_counts_and_comments():
    way = parse_pronunciation("w ʌ n", "en-us")
    lexicon = Lexicon((Entry("#1", way), Entry("#1", way, only=1), Entry("$5 million", way)))
    assert parse_lexicon(lexicon_as_text(lexicon), "mine") == lexicon
    assert parse_lexicon("# a comment  like this\n#\n", "mine") == Lexicon()
