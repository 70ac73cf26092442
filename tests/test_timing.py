from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.errors import RateError
from buccaphon.timing import FrameRate, Span, TimeDisplay, clock, frame_of_timecode, read_out, seconds_of, timecode

rates = st.sampled_from(["12", "23.976", "24", "25", "29.97", "30", "48", "59.94", "60", "24000/1001"]).map(
    FrameRate.parse
)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("24", Fraction(24)),
        ("23.976", Fraction(24000, 1001)),
        ("23.98", Fraction(24000, 1001)),
        ("24000/1001", Fraction(24000, 1001)),
        ("29.97 fps", Fraction(30000, 1001)),
        ("59.94", Fraction(60000, 1001)),
        ("12.5", Fraction(25, 2)),
    ],
)
def test_rates_are_exact_fractions(text, value):
    assert FrameRate.parse(text).value == value


@pytest.mark.parametrize("text", ["", "fast", "0", "-24", "1/0", "1000", "nan", "24,5"])
def test_nonsense_rates_are_refused_with_a_remedy(text):
    with pytest.raises(RateError, match="Try 24"):
        FrameRate.parse(text)


@given(rates, st.integers(0, 500_000))
def test_a_frame_boundary_comes_back_to_its_frame(rate, frame):
    seconds = rate.seconds(frame)
    assert rate.nearest(seconds) == frame
    assert rate.containing(seconds) == frame
    assert rate.covering(seconds) == frame


@given(rates, st.floats(0, 20_000))
def test_snapping_never_moves_further_than_half_a_frame(rate, seconds):
    assert abs(rate.frames(seconds) - rate.nearest(seconds)) <= 0.5 + 1e-6


def test_halves_go_up():
    rate = FrameRate.parse("24")
    assert rate.nearest(0.5 / 24) == 1
    assert rate.nearest(1.4999 / 24) == 1


def test_labels_are_what_people_write():
    assert [FrameRate.parse(text).label for text in ("24", "24000/1001", "25/2")] == ["24", "23.976", "12.5"]


def test_spans_overlap_and_refuse_to_run_backwards():
    assert Span(0, 2).overlap(Span(1, 5)) == 1
    assert Span(0, 1).overlap(Span(2, 3)) == 0
    with pytest.raises(ValueError, match="cannot end"):
        Span(2, 1)


def test_clock_reads_minutes_seconds_thousandths():
    assert clock(62.3456) == "1:02.346"
    assert clock(59.9999) == "1:00.000"


def test_a_frame_is_said_in_every_way():
    film = FrameRate.parse("24")
    said = [read_out(31, film, reading) for reading in TimeDisplay]
    assert said == ["f 31", "00:00:01:07", "1+15", "0+31", "1.292 s"]
    assert read_out(-1, film, TimeDisplay.FEET_35) == "-0+01"


@pytest.mark.parametrize(
    ("frame", "rate", "said"),
    [
        (0, "29.97", "00:00:00;00"),
        (1799, "29.97", "00:00:59;29"),
        (1800, "29.97", "00:01:00;02"),
        (17981, "29.97", "00:09:59;29"),
        (17982, "29.97", "00:10:00;00"),
        (107892, "29.97", "01:00:00;00"),
        (3600, "59.94", "00:01:00;04"),
        (1440, "23.976", "00:01:00:00"),
        (-25, "25", "-00:00:01:00"),
    ],
)
def test_timecode_drops_numbers_where_the_standard_does(frame, rate, said):
    assert timecode(frame, FrameRate.parse(rate)) == said


@pytest.mark.parametrize("rate", ["24", "25", "29.97", "59.94", "23.976"])
def test_a_timecode_is_read_back_as_its_frame(rate):
    at = FrameRate.parse(rate)
    for frame in (0, 1, 59, 1799, 1800, 1801, 17981, 17982, 17983, 107892, 215784):
        assert frame_of_timecode(timecode(frame, at), at) == frame
    with pytest.raises(ValueError, match="values to unpack"):
        frame_of_timecode("1:2", at)


@pytest.mark.parametrize(
    ("hole", "left"),
    [
        (Span(0, 1), [Span(2, 6)]),
        (Span(0, 2), [Span(2, 6)]),
        (Span(0, 3), [Span(3, 6)]),
        (Span(3, 4), [Span(2, 3), Span(4, 6)]),
        (Span(5, 9), [Span(2, 5)]),
        (Span(1, 7), []),
    ],
)
def test_what_lies_outside_a_hole(hole, left):
    assert Span(2, 6).outside(hole) == left
    assert sum(part.length for part in left) == Span(2, 6).length - Span(2, 6).overlap(hole)


def test_the_slowest_and_the_fastest_rate_can_be_had():
    assert [FrameRate.parse(text).label for text in ("1", "240")] == ["1", "240"]
    assert timecode(61, FrameRate.parse("1")) == "00:01:01:00"
    assert frame_of_timecode("00:01:01:00", FrameRate.parse("1")) == 61


def test_dropped_numbers_add_up_over_ten_minutes():
    rate = FrameRate.parse("29.97")
    for tens in (1, 2, 6):
        assert timecode(tens * 17_982, rate) == f"{tens // 6:02d}:{tens % 6}0:00;00"
        assert timecode(tens * 17_982 - 1, rate) == f"00:{10 * tens - 1:02d}:59;29"
        assert frame_of_timecode(timecode(tens * 17_982 + 5, rate), rate) == tens * 17_982 + 5


def test_what_is_outside_has_no_empty_pieces():
    whole = Span(1.0, 3.0)
    assert whole.outside(Span(1.0, 2.0)) == [Span(2.0, 3.0)]
    assert whole.outside(Span(2.0, 3.0)) == [Span(1.0, 2.0)]
    assert whole.outside(Span(1.5, 2.0)) == [Span(1.0, 1.5), Span(2.0, 3.0)]
    assert whole.outside(whole) == []
    assert whole.outside(Span(3.0, 4.0)) == [whole]


def test_spans_meet_that_share_more_than_half_of_the_shorter():
    assert Span(0.0, 2.0).meets(Span(0.9, 1.9))
    assert Span(0.0, 2.0).meets(Span(1.4, 2.4)) and not Span(0.0, 2.0).meets(Span(1.5, 2.5))
    assert Span(1.0, 1.0).meets(Span(1.0, 1.0)) and not Span(1.0, 1.0).meets(Span(0.0, 2.0))


def test_the_clock_tells_fractions_from_nought_on():
    assert [clock(seconds) for seconds in (-1.0, 0.0, 0.25, 59.9996, 61.5)] == [
        "0:00.000", "0:00.000", "0:00.250", "1:00.000", "1:01.500",
    ]  # fmt: skip


def test_feet_have_a_sign_only_before_nought():
    rate = FrameRate.parse("24")
    assert [read_out(frame, rate, TimeDisplay.FEET_35) for frame in (-17, 0, 1, 16)] == [
        "-1+01",
        "0+00",
        "0+01",
        "1+00",
    ]


@pytest.mark.parametrize(
    ("text", "seconds"), [("1.5", 1.5), ("f101", 0.0), ("F125", 1.0), ("00:00:05:05", 1.0), ("2,25", 2.25)]
)
def test_a_place_in_a_scene_is_seconds_a_frame_or_timecode(text, seconds):
    assert seconds_of(text, FrameRate.parse("24"), 101) == pytest.approx(seconds)


@pytest.mark.parametrize("text", ["", "f", "later", "1:2", "nan", "1e99"])
def test_what_is_no_place_is_refused(text):
    with pytest.raises(ValueError, match=r".*"):
        seconds_of(text, FrameRate.parse("24"))
