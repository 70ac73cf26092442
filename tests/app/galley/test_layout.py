import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.app.galley.layout import GAP, MARGIN, fitting_scale, lay_out
from buccaphon.app.galley.look import Lane, Look, Wrap
from buccaphon.score.edits import Boundary, move_boundary
from buccaphon.timing import Span


def test_strips_break_between_words_and_preferably_in_pauses(call, call_score):
    layout = lay_out(Span(0, call.duration), call_score, 660, Look(scale=200))
    assert len(layout.strips) > 2
    for strip in layout.strips[1:]:
        inside = [word for word in call_score.words if word.start < strip.start - 1e-6 < strip.start + 1e-6 < word.end]
        assert not inside, f"the break at {strip.start} cuts {inside[0].text}"


@given(st.floats(0.3, 900), st.integers(200, 2400), st.floats(20, 1600))
def test_strips_cover_the_recording_without_gaps_and_fit_the_page(duration, width, scale):
    if duration * scale / width > 3000:
        return
    layout = lay_out(Span(0, duration), None, width, Look(scale=scale))
    assert layout.strips[0].start == 0
    assert layout.strips[-1].end == pytest.approx(duration)
    for left, right in zip(layout.strips, layout.strips[1:], strict=False):
        assert left.end == right.start
    for strip in layout.strips:
        assert layout.x(strip, strip.end) <= max(width - MARGIN, MARGIN + 0.25 * layout.scale) + 1


def test_a_point_of_the_page_is_a_moment_in_a_lane(call, call_score):
    layout = lay_out(Span(0, call.duration), call_score, 660, Look(scale=200))
    strip = layout.strips[1]
    moment = (strip.start + strip.end) / 2
    for lane in layout.look.lanes:
        y = strip.top + layout.lane_top(lane) + layout.look.height(lane) / 2
        place = layout.place(layout.x(strip, moment), y)
        assert place.strip == strip
        assert place.lane is lane
        assert place.seconds == pytest.approx(moment)
    assert layout.strip_of(moment) == strip
    assert layout.visible(0, strip.top + 1, 660, strip.top + layout.strip_height - 1) == [strip]


def test_an_empty_page_has_no_places():
    layout = lay_out(Span(0, 0), None, 600, Look())
    assert layout.place(10, 10) is None
    assert layout.strip_of(1.0) is None


def test_the_endless_strip_runs_on_without_gaps(call, call_score):
    layout = lay_out(Span(0, call.duration), call_score, 660, Look(scale=200, wrap=Wrap.ENDLESS))
    assert {strip.top for strip in layout.strips} == {MARGIN}
    assert layout.width == round(call.duration * 200) + 2 * MARGIN
    for t in (0.0, 1.234, 5.0, 11.0):
        x = layout.x(layout.strip_of(t), t)
        assert x == pytest.approx(MARGIN + 200 * t)
        assert layout.place(x, MARGIN + 40).seconds == pytest.approx(t)
    assert [strip.number for strip in layout.visible(700, 0, 900, 300)] == [1]


def test_the_look_keeps_its_limits_and_comes_back_from_the_settings():
    look = Look().scaled(1e9).taller(Lane.SOUND, -500).louder(1e9).toggled(Lane.SPECTRUM).inked()
    assert look.scale == 1600
    assert look.height(Lane.SOUND) == 18
    assert look.gain == 32
    assert Lane.SPECTRUM in look.lanes
    assert msgspec.json.decode(msgspec.json.encode(look), type=Look) == look
    assert Look().height(Lane.SPECTRUM) == 0


def test_strips_stay_while_their_breaks_hold_and_are_set_anew_when_one_moves(call_score):
    look, used = Look(), Span(0.0, call_score.duration)
    before = lay_out(used, call_score, 640, look)
    number = call_score.word_at(float(before.strips.edges[1]) - 1.0)
    inside = move_boundary(call_score, Boundary(number, 1), call_score.words[number].phones[1].start + 0.004)
    assert lay_out(used, inside, 640, look, before).strips.edges is before.strips.edges
    edge = next(n for n, word in enumerate(call_score.words) if word.start >= before.strips.edges[1])
    moved = move_boundary(call_score, Boundary(edge, 0), call_score.words[edge].start - 0.03)
    after = lay_out(used, moved, 640, look, before)
    assert (after.strips.edges == lay_out(used, moved, 640, look).strips.edges).all()
    assert lay_out(used, call_score, 700, look, before).strips.edges is not before.strips.edges


def test_rims_are_carried_over_by_edits(call_score):
    starts, ends = call_score.rims
    moved = move_boundary(call_score, Boundary(5, 0), starts[5] + 0.01)
    assert moved.rims[0, 5] == moved.words[5].start
    assert moved.rims.tolist() == [[w.start for w in moved.words], [w.end for w in moved.words]]
    assert call_score.rims[0, 5] == call_score.words[5].start
    assert len(ends) == len(call_score.words)


def test_no_last_word_stands_alone_where_that_can_be(call, call_score):
    used = Span(0.0, call.duration)
    for width in range(420, 1400, 20):
        strips = lay_out(used, call_score, width, Look(scale=205)).strips
        lengths = [strip.end - strip.start for strip in strips]
        room = (width - 2 * MARGIN) / 205
        words = [word for word in call_score.words if word.start >= strips[-1].start - 1e-6]
        assert len(strips) < 2 or lengths[-1] > 0.35 * room or len(words) > 1, (width, lengths)


@given(st.floats(0.5, 6.0), st.integers(500, 1600), st.integers(400, 1200))
def test_a_line_set_as_large_as_fits_fills_the_page_and_no_more(seconds, width, height):
    scale = fitting_scale(Span(0, seconds), width, height, Look())
    layout = lay_out(Span(0, seconds), None, width, Look(scale=scale))
    step = layout.strip_height + GAP
    assert len(layout.strips) <= max((height - MARGIN) // step, 1)
