import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.score.edits import (
    Boundary,
    Inside,
    boundaries,
    boundaries_within,
    boundary_range,
    boundary_time,
    move_boundary,
    move_words,
    nearest_boundary,
    shifted,
    stretch,
)
from buccaphon.score.records import SHORTEST, Phone, Score, Word
from buccaphon.timing import Span


def word(text: str, *edges: float) -> Word:
    return Word(text, tuple(Phone("ə", a, b) for a, b in itertools.pairwise(edges)))


# 'plums' and 'and' touch; a pause stands before 'pears'
LINE = Score((word("plums", 0.2, 0.3, 0.5, 0.6), word("and", 0.6, 0.7, 0.8), word("pears", 1.2, 1.5, 1.6)), 2.0)


def test_a_boundary_that_two_words_share_is_listed_once():
    assert [seconds for _, seconds in boundaries(LINE)] == [0.2, 0.3, 0.5, 0.6, 0.7, 0.8, 1.2, 1.5, 1.6]


def test_moving_a_phone_boundary_changes_only_its_two_phones():
    moved = move_boundary(LINE, Boundary(0, 1), 0.35)
    assert [phone.start for phone in moved.words[0].phones] == [0.2, 0.35, 0.5]
    assert moved.words[1:] == LINE.words[1:]


def test_moving_a_word_start_stretches_what_is_inside_and_the_word_it_touches():
    moved = move_boundary(LINE, Boundary(1, 0), 0.4)
    assert [phone.start for phone in moved.words[1].phones] == pytest.approx([0.4, 0.6], abs=0.002)
    assert [phone.start for phone in moved.words[0].phones] == pytest.approx([0.2, 0.25, 0.35], abs=0.002)
    assert moved.words[0].end == moved.words[1].start == 0.4


def test_a_word_after_a_pause_moves_alone():
    moved = move_boundary(LINE, Boundary(2, 0), 1.0)
    assert moved.words[:2] == LINE.words[:2]
    assert moved.words[2].start == 1.0


def test_moving_a_word_end_into_the_pause():
    assert move_boundary(LINE, Boundary(1, 2), 1.0).words[1].end == 1.0
    assert move_boundary(LINE, Boundary(1, 2), 1.9).words[1].end == 1.2, "not past the next word"


@given(st.sampled_from([b for b, _ in boundaries(LINE)]), st.floats(-1, 3))
def test_any_move_keeps_the_score_whole(boundary, seconds):
    moved = move_boundary(LINE, boundary, seconds)  # the records check order and gaps themselves
    assert boundary_time(moved, boundary) == pytest.approx(boundary_range(LINE, boundary).clamp(seconds))
    assert [w.text for w in moved.words] == [w.text for w in LINE.words]
    assert all(p.end - p.start > SHORTEST / 2 for p in moved.phones())
    assert moved.words[0].start >= 0
    assert moved.words[-1].end <= moved.duration


@given(st.lists(st.tuples(st.sampled_from([b for b, _ in boundaries(LINE)]), st.floats(0, 2)), max_size=30))
def test_many_moves_keep_the_score_whole(moves):
    score = LINE
    for boundary, seconds in moves:
        score = move_boundary(score, boundary, seconds)
    assert len(list(score.phones())) == 7


def test_stretching_keeps_proportions_and_the_least_length():
    assert [p.start for p in stretch(word("x", 0, 0.1, 0.4), Span(1, 1.8)).phones] == pytest.approx([1, 1.2], abs=0.005)
    tiny = stretch(word("x", 0, 0.001, 0.4), Span(0, 2 * SHORTEST))
    assert all(p.end - p.start == pytest.approx(SHORTEST) for p in tiny.phones)


def test_records_refuse_what_does_not_hold_together():
    with pytest.raises(ValueError, match="before it starts"):
        Phone("p", 1.0, 1.0)
    with pytest.raises(ValueError, match="part at"):
        Word("x", (Phone("p", 0, 1), Phone("a", 1.5, 2)))
    with pytest.raises(ValueError, match="after"):
        Score((word("a", 0, 1), word("b", 0.5, 2)), 2)


def test_looking_up_what_is_said():
    assert LINE.word_at(0.65) == 1
    assert LINE.word_at(1.0) is None
    assert LINE.phone_at(1.55).start == 1.5
    assert LINE.words[0].confidence == 1.0


@pytest.mark.parametrize("phone", [0, 1])
def test_alone_only_the_sounds_that_meet_at_a_boundary_change(phone):
    before = touching()
    moved = move_boundary(before, Boundary(1, phone), boundary_time(before, Boundary(1, phone)) + 0.03, Inside.ALONE)
    assert boundary_time(moved, Boundary(1, phone)) == pytest.approx(boundary_time(before, Boundary(1, phone)) + 0.03)
    edges = [boundary for boundary, _ in boundaries(before) if boundary != Boundary(1, phone)]
    for boundary in edges:
        assert boundary_time(moved, boundary) == boundary_time(before, boundary)


@pytest.mark.parametrize("phone", [0, 1, 2])
@pytest.mark.parametrize("by", [-0.05, 0.08])
def test_rippling_moves_all_that_follows_and_nothing_before(phone, by):
    before = touching()
    at = Boundary(1, phone)
    moved = move_boundary(before, at, boundary_time(before, at) + by, Inside.RIPPLE)
    for boundary, seconds in boundaries(before):
        shifts = boundary >= at
        assert boundary_time(moved, boundary) == pytest.approx(seconds + (by if shifts else 0.0))
    assert moved.duration == before.duration


@given(st.integers(0, 2), st.integers(0, 2), st.floats(-5, 9), st.sampled_from(Inside))
def test_any_move_in_any_way_leaves_a_score_in_order(word, phone, seconds, inside):
    moved = move_boundary(touching(), Boundary(word, phone), seconds, inside)
    Score(moved.words, moved.duration)
    for each in moved.words:
        Word(each.text, each.phones)
        assert all(p.end - p.start > 0.0049 for p in each.phones)
    assert moved.words[0].start >= 0
    assert moved.words[-1].end <= moved.duration + 1e-9


def touching() -> Score:
    """Three words of two sounds that follow each other without a pause, and room behind them."""
    words = tuple(
        Word(text, (Phone("p", n + 0.0, n + 0.4), Phone("ɑ", n + 0.4, n + 1.0))) for n, text in enumerate("abc")
    )
    return Score(words, 4.0)


def test_the_nearest_boundary_is_found():
    assert nearest_boundary(touching(), 1.38) == Boundary(1, 1)
    assert nearest_boundary(Score((), 1.0), 0.5) is None


@given(st.integers(0, 2), st.floats(-3, 6))
def test_a_word_that_moves_keeps_its_length_and_the_order(number, start):
    before = touching()
    after = move_words(before, number, number + 1, start)
    Score(after.words, after.duration)
    assert after.words[number].span.length == pytest.approx(before.words[number].span.length)
    for each in after.words:
        Word(each.text, each.phones)
    assert after.words[0].start >= 0
    assert after.words[-1].end <= after.duration + 1e-9


def test_words_keep_their_text_however_they_are_moved():
    for moved in (
        move_boundary(LINE, Boundary(0, 1), 0.4, Inside.RIPPLE),
        move_boundary(LINE, Boundary(1, 0), 0.7, Inside.RIPPLE),
        move_words(LINE, 1, 3, 0.7),
        shifted(LINE, 1.0, 3.0),
    ):
        assert [word.text for word in moved.words] == ["plums", "and", "pears"]


def test_a_touching_word_gives_way_down_to_its_shortest_and_a_pause_no_further_than_the_next_word():
    squeezed = move_words(LINE, 1, 2, 0.0).words
    assert squeezed[1].start == pytest.approx(0.2 + 3 * SHORTEST), "what comes before keeps its three sounds"
    assert squeezed[0].start == 0.2 and squeezed[0].end == squeezed[1].start
    assert move_words(LINE, 0, 2, 5.0).words[1].end == 1.2, "up to the word after the pause"
    close = touching()
    last = move_words(close, 0, 1, 9.0).words
    after = close.words[1]
    assert last[0].end == pytest.approx(after.end - SHORTEST * len(after.phones))
    assert last[1].end == after.end


def test_boundaries_within_a_span_are_those_of_all_that_lie_in_it():
    for span in (Span(0.0, 2.0), Span(0.3, 0.8), Span(0.55, 1.3), Span(1.7, 1.9), Span(0.0, 0.1)):
        every = [each for each in boundaries(LINE) if span.start <= each[1] <= span.end]
        found = [each for each in boundaries_within(LINE, span) if span.start <= each[1] <= span.end]
        assert found == every


def test_a_score_of_a_part_lies_where_the_part_does():
    moved = shifted(LINE, 2.5, 6.0)
    assert moved.duration == 6.0
    assert [seconds for _, seconds in boundaries(moved)] == pytest.approx([s + 2.5 for _, s in boundaries(LINE)])
    assert [p.symbol for p in moved.phones()] == [p.symbol for p in LINE.phones()]


def test_a_word_is_said_from_its_start_until_before_its_end():
    assert [LINE.word_at(s) for s in (0.19, 0.2, 0.59, 0.6, 0.79, 0.8, 1.2, 1.6)] == [None, 0, 0, 1, 1, None, 2, None]
    phone = LINE.phone_at(0.3)
    assert phone is not None and (phone.start, phone.end) == (0.3, 0.5)
    assert LINE.phone_at(0.9) is None and LINE.phone_at(1.6) is None


def test_what_is_stretched_keeps_all_but_its_times():
    said = Word("plum", (Phone("p", 0.0, 0.1, 0, 0.5), Phone("ʌ", 0.1, 0.3, 1, 0.9)))
    for made in (stretch(said, Span(1.0, 2.0)), shifted(Score((said,), 1.0), 2.0, 4.0).words[0]):
        assert [(p.symbol, p.stress, p.confidence) for p in made.phones] == [("p", 0, 0.5), ("ʌ", 1, 0.9)]
    shortest = word("x", 0.0, SHORTEST, 2 * SHORTEST, 3 * SHORTEST)  # nothing to spare: all grow alike
    assert [p.start for p in stretch(shortest, Span(0.0, 3.0)).phones] == pytest.approx([0.0, 1.0, 2.0])


def test_words_that_are_replaced_stay_in_order_and_their_rims_are_known():
    assert LINE.rims.shape == (2, 3)  # asked for before, so that it is carried on
    moved = LINE.with_words({1: word("and", 0.65, 0.75, 0.9)})
    assert (moved.rims == Score(moved.words, moved.duration).rims).all()
    assert (LINE.rims == Score(LINE.words, LINE.duration).rims).all(), "and the old one has its own"
    for wrong in (
        {0: word("plums", 0.2, 0.3, 0.5, 0.7)},
        {1: word("and", 0.5, 0.7, 0.8)},
        {2: word("pears", 0.7, 0.9, 1.0)},
    ):
        with pytest.raises(ValueError, match="after"):
            LINE.with_words(wrong)
