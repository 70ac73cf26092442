"""What a hand put there, over what the machine chose."""

from dataclasses import replace
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.mouths.laying import Blank, Laid, Painted, far_from_painted, laid_at, laid_otherwise, laid_out, lay_over
from buccaphon.mouths.pose import Pose
from buccaphon.timing import FrameRate, Span

TEN = find_chart("Ten")
FILM, FAST = FrameRate.parse("24"), FrameRate.parse("60")
FRAMES = 60


def frames(first: int, end: int, rate: FrameRate = FILM) -> Span:
    return Span(rate.seconds(first), rate.seconds(end))


def machine(*lengths: tuple[str, int]) -> tuple[Exposure, ...]:
    found, at = [], 0
    for mouth, length in lengths:
        found.append(Exposure(mouth, at, at + length))
        at += length
    return tuple(found)


def over(line, painted=(), blanks=(), rate: FrameRate = FILM):
    laid = laid_out(painted, blanks, TEN, rate, line[-1].end)
    return [(each.mouth, each.start, each.end) for each in lay_over(line, laid, TEN, rate)]


LINE = machine(("Rest", 10), ("Open", 8), ("Press", 2), ("Round", 20), ("Rest", 20))


def test_one_frame_inside_a_hold_is_exchanged_and_nothing_else():
    shown = over(LINE, [Painted(frames(13, 14), "Bite")])
    assert shown == [
        ("Rest", 0, 10), ("Open", 10, 13), ("Bite", 13, 14), ("Open", 14, 18),
        ("Press", 18, 20), ("Round", 20, 40), ("Rest", 40, 60),
    ]  # fmt: skip


def test_equal_neighbours_are_one_and_paint_wins_over_contacts():
    shown = over(LINE, [Painted(frames(15, 22), "Round")])
    assert shown == [("Rest", 0, 10), ("Open", 10, 15), ("Round", 15, 40), ("Rest", 40, 60)]


def test_what_is_left_of_a_mouth_for_less_than_is_seen_goes_to_the_one_beyond():
    line = machine(("Rest", 30), ("Open", 10), ("Round", 20))
    assert over(line, [Painted(frames(31, 39, FAST), "Bite")], rate=FAST) == [
        ("Rest", 0, 31), ("Bite", 31, 39), ("Round", 39, 60),
    ]  # fmt: skip
    at_film = over(line, [Painted(frames(31, 39), "Bite")])
    assert ("Open", 39, 40) in at_film, "a frame at 24 is seen"
    contact = machine(("Rest", 30), ("Press", 10), ("Round", 20))
    assert ("Press", 39, 40) in over(contact, [Painted(frames(31, 39, FAST), "Bite")], rate=FAST)


def test_a_stretch_too_short_for_a_frame_has_the_one_it_lies_in():
    short = Painted(Span(FILM.seconds(13.1), FILM.seconds(13.3)), "Bite")
    assert ("Bite", 13, 14) in over(LINE, [short])
    taken = Painted(frames(12, 15), "Teeth")
    assert not any(mouth == "Bite" for mouth, _, _ in over(LINE, [short, taken]))


def test_a_blank_is_rest_or_holds_what_is_painted():
    painted = [Painted(frames(12, 14), "Bite"), Painted(frames(20, 22), "Open")]
    assert over(LINE, painted, [Blank(frames(0, 60))]) == [
        ("Rest", 0, 12), ("Bite", 12, 14), ("Rest", 14, 20), ("Open", 20, 22), ("Rest", 22, 60),
    ]  # fmt: skip
    assert over(LINE, painted, [Blank(Span(0.0, 43_200.0), holds=True)]) == [
        ("Rest", 0, 12), ("Bite", 12, 20), ("Open", 20, 60),
    ]  # fmt: skip
    shown = over(LINE, (), [Blank(frames(12, 16))])
    assert shown[:4] == [
        ("Rest", 0, 10),
        ("Open", 10, 12),
        ("Rest", 12, 16),
        ("Open", 16, 18),
    ]


def test_a_blank_shows_the_mouth_that_rests_in_the_chart_wherever_that_stands():
    chart = replace(TEN, rests=3)
    laid = laid_out([Painted(frames(5, 8), "Open")], [Blank(frames(0, 20))], chart, FILM, 20)
    found = lay_over(machine(("Open", 20)), laid, chart, FILM)
    assert [(each.mouth, each.start, each.end) for each in found] == [("Tip", 0, 5), ("Open", 5, 8), ("Tip", 8, 20)]


def test_painted_mouths_that_the_chart_lacks_are_shown_by_what_looks_most_like_them():
    wide = Painted(Span(0, 2), "Grin", Pose(jaw=0.9, spread=0.1))
    shut = Painted(Span(0, 2), "Kiss", Pose(press=1.0, round=0.4), contact=True)
    for paint, stands in ((wide, "Open"), (shut, "Press"), (Painted(Span(0, 2), "Grin"), "Rest")):
        assert over(LINE, [paint])[0][0] == stands
    assert far_from_painted([Painted(Span(0, 2), "Grin")], TEN) == [("Grin", "Rest")]
    assert far_from_painted([wide], TEN) == []


def test_what_is_laid_at_a_frame():
    laid = laid_out([Painted(frames(3, 5), "Bite")], (), TEN, FILM, FRAMES)
    assert laid == (Laid(3, 5, TEN.names.index("Bite")),)
    assert [laid_at(laid, frame) is not None for frame in (2, 3, 4, 5)] == [False, True, True, False]


spans = st.tuples(st.integers(0, FRAMES - 1), st.integers(1, 12)).map(lambda at: (at[0], min(at[0] + at[1], FRAMES)))
paints = st.lists(st.tuples(spans, st.sampled_from(TEN.names)), max_size=6)
lengths = st.lists(st.integers(1, 12), min_size=1, max_size=12)
lines = lengths.map(
    lambda found: [(TEN.names[(3 * n + length) % 3 + 3 * (n % 2)], length) for n, length in enumerate(found)]
)


def apart(rows):
    """Paint that does not overlap, as edits keep it."""
    taken, found = set[int](), []
    for (first, end), mouth in rows:
        if not taken & set(range(first, end)):
            taken |= set(range(first, end))
            found.append(Painted(frames(first, end), mouth))
    return found


@settings(deadline=None, max_examples=300)
@given(lines, paints)
def test_paint_is_shown_on_exactly_its_frames_and_other_frames_stay(line, rows):
    was, painted = machine(*line), apart(rows)
    end = was[-1].end
    now = lay_over(was, laid_out(painted, (), TEN, FILM, end), TEN, FILM)
    by_hand = {
        f: p.mouth for p in painted for f in range(FILM.nearest(p.span.start), FILM.nearest(p.span.end)) if f < end
    }
    for frame in range(end):
        there = exposure_at(now, frame)
        assert there is not None
        before = exposure_at(was, frame)
        assert before is not None
        assert there.mouth == by_hand.get(frame, before.mouth)
    assert all(left.mouth != right.mouth and left.end == right.start for left, right in pairwise(now))


@settings(deadline=None, max_examples=300)
@given(paints, paints, st.booleans(), st.booleans())
def test_frames_laid_otherwise_are_all_that_differ(before, now, blank, holds):
    blanks = [Blank(frames(5, 50), holds)] if blank else []
    was = laid_out(apart(before), (), TEN, FILM, FRAMES)
    are = laid_out(apart(now), blanks, TEN, FILM, FRAMES)
    found = {frame for first, end in laid_otherwise(was, are) for frame in range(first, end)}
    mouths = [[(at.mouth if (at := laid_at(laid, frame)) else None) for frame in range(FRAMES)] for laid in (was, are)]
    assert found == {frame for frame in range(FRAMES) if mouths[0][frame] != mouths[1][frame]}
