import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.app.galley.layout import MARGIN, STRIP_HEIGHT, Lane, lane_top, lay_out
from buccaphon.timing import Span


def test_strips_break_between_words_and_preferably_in_pauses(call, call_score):
    layout = lay_out(Span(0, call.duration), call_score, 660, 200)
    assert len(layout.strips) > 2
    for strip in layout.strips[1:]:
        inside = [word for word in call_score.words if word.start < strip.start - 1e-6 < strip.start + 1e-6 < word.end]
        assert not inside, f"the break at {strip.start} cuts {inside[0].text}"


@given(st.floats(0.3, 900), st.integers(200, 2400), st.floats(20, 1600))
def test_strips_cover_the_recording_without_gaps_and_fit_the_page(duration, width, scale):
    if duration * scale / width > 3000:
        return
    layout = lay_out(Span(0, duration), None, width, scale)
    assert layout.strips[0].start == 0
    assert layout.strips[-1].end == pytest.approx(duration)
    for left, right in zip(layout.strips, layout.strips[1:], strict=False):
        assert left.end == right.start
    for strip in layout.strips:
        assert layout.x(strip, strip.end) <= max(width - MARGIN, MARGIN + 0.25 * layout.scale) + 1


def test_a_point_of_the_page_is_a_moment_in_a_lane(call, call_score):
    layout = lay_out(Span(0, call.duration), call_score, 660, 200)
    strip = layout.strips[1]
    moment = (strip.start + strip.end) / 2
    for lane in Lane:
        place = layout.place(layout.x(strip, moment), strip.top + lane_top(lane) + lane.height / 2)
        assert place.strip == strip
        assert place.lane is lane
        assert place.seconds == pytest.approx(moment)
    assert layout.strip_of(moment) == strip
    assert layout.between(strip.top, strip.top + STRIP_HEIGHT) == [strip]


def test_an_empty_page_has_no_places():
    layout = lay_out(Span(0, 0), None, 600, 100)
    assert layout.place(10, 10) is None
    assert layout.strip_of(1.0) is None
