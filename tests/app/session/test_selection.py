"""What is selected, and what goes over the clipboard, without any window."""

import pytest

from buccaphon.app.session.clip import Clip, parse_clip, write_clip
from buccaphon.app.session.selection import (
    NOTHING,
    Selection,
    mouths_toggled,
    neighbours,
    words_toggled,
    words_up_to,
)
from buccaphon.mouths.laying import Painted
from buccaphon.score.records import Phone, Score, Word
from buccaphon.timing import Span

HUGE = b'{"mouths": [{"span": {"start": 0, "end": 1e300}, "mouth": "x"}]}'


def score(count: int) -> Score:
    return Score(tuple(Word(f"w{n}", (Phone("a", n, n + 0.8),)) for n in range(count)), float(count))


def test_neighbouring_words_make_one_stretch():
    assert list(neighbours((0, 1, 2, 5, 7, 8))) == [(0, 3), (5, 6), (7, 9)]
    chosen = Selection(words=(1, 2, 4))
    assert chosen.spans(score(6)) == (Span(1, 2.8), Span(4, 4.8))
    assert chosen.whole(score(6)) == Span(1, 4.8)
    assert not NOTHING
    assert NOTHING.whole(score(6)) is None


def test_words_are_added_taken_out_and_reached_for():
    chosen = words_toggled(words_toggled(NOTHING, 4), 2)
    assert chosen.words == (2, 4)
    assert words_toggled(chosen, 4).words == (2,)
    assert words_up_to(chosen, 6).words == (2, 3, 4, 5, 6)
    assert words_up_to(chosen, 0).words == (0, 1, 2)
    assert words_up_to(NOTHING, 3).words == (3,)


def test_choosing_mouths_lets_go_of_words():
    chosen = mouths_toggled(Selection(words=(1,)), Span(2, 3))
    assert chosen == Selection(mouths=(Span(2, 3),))
    assert not mouths_toggled(chosen, Span(2, 3))


def test_a_clip_comes_back_from_the_clipboard_as_it_was():
    clip = Clip((Painted(Span(0, 0.125), "Press"), Painted(Span(0.125, 0.5), "Open")))
    assert parse_clip(write_clip(clip)) == clip
    assert clip.plain.splitlines()[1] == "0.125\t0.500\tOpen"
    words = Clip(words="plums, and")
    assert parse_clip(write_clip(words)) == words
    assert words.plain == "plums, and"


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b'{"mouths": [[1]], "words": ""}',
        b"[1, 2]",
        HUGE,
        b'{"mouths": 3, "words": 1}',
    ],
)
def test_what_others_put_on_the_clipboard_is_left_alone(data):
    assert parse_clip(data) is None
