"""Curves by hand: how they go from point to point, how they come and go, and what is drawn over what."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from buccaphon.errors import ChannelError
from buccaphon.motion.hand import (
    CurvePoint,
    HandCurve,
    Interpolation,
    drawn_over,
    frames_of_difference,
    lay_over,
    moved,
    pencilled,
    require_valid_curve,
    where_drawn,
    with_point,
    without,
)
from buccaphon.timing import FrameRate, Span

RATE = FrameRate(Fraction(100))
MADE = np.full(1000, 0.5, np.float32)
T = (np.arange(1000) + 0.5) / 100


def points(*pairs, interpolation=Interpolation.SMOOTH):
    return tuple(CurvePoint(at, value, interpolation) for at, value in pairs)


def laid(curve: HandCurve) -> np.ndarray:
    return lay_over(curve, MADE, 0, RATE)


def test_points_are_hit_the_curve_shows_between_and_the_machines_beyond_the_fade():
    found = laid(HandCurve("jaw", points((2.005, 0.1), (3.005, 0.9)), fade=0.2))
    assert found[200] == pytest.approx(0.1)
    assert found[300] == pytest.approx(0.9)
    assert np.all(np.diff(found[200:301]) >= 0)
    assert np.array_equal(found[:180], MADE[:180])
    assert np.array_equal(found[322:], MADE[322:])
    assert 0.1 < found[190] < 0.5


def test_smooth_curves_turn_only_at_points():
    found = laid(HandCurve("jaw", points((1.005, 0.2), (2.005, 0.8), (2.505, 0.8), (4.005, 0.1))))
    part = found[100:401]
    assert part.max() <= 0.8 + 1e-6
    assert part.min() >= 0.1 - 1e-6
    assert np.allclose(found[200:251], 0.8)


def test_leads_held_straight_and_free():
    held = laid(HandCurve("jaw", points((2.005, 0.1), (3.005, 0.9), interpolation=Interpolation.HELD)))
    assert np.allclose(held[200:300], 0.1)
    assert held[300] == pytest.approx(0.9)
    straight = laid(HandCurve("jaw", points((2.005, 0.1), (3.005, 0.9), interpolation=Interpolation.LINEAR)))
    assert np.allclose(straight[200:301], np.linspace(0.1, 0.9, 101), atol=1e-5)
    free = laid(HandCurve("jaw", points((2.005, 0.1), (3.005, 0.9), interpolation=Interpolation.FREE), fade=0.1))
    assert np.allclose(free[220:285], 0.5)


def test_tangents_by_hand_lean_the_curve():
    flat = HandCurve("jaw", (CurvePoint(2.005, 0.5, out=0.0), CurvePoint(3.005, 0.5, into=0.0)))
    leaning = HandCurve("jaw", (CurvePoint(2.005, 0.5, out=2.0), CurvePoint(3.005, 0.5, into=2.0)))
    assert np.allclose(laid(flat)[200:301], 0.5)
    assert laid(leaning)[220] > 0.6
    assert laid(leaning)[280] < 0.4


def test_what_adds_is_added_and_fades_like_it():
    made = np.linspace(0, 1, 1000).astype(np.float32)
    found = lay_over(HandCurve("jaw", points((2.005, 0.1), (3.005, 0.1)), adds=True, fade=0.1), made, 0, RATE)
    assert np.allclose(found[200:301], made[200:301] + 0.1)
    assert np.array_equal(found[:190], made[:190])


def test_a_part_is_as_it_is_in_the_whole():
    curve = HandCurve("jaw", points(*((n / 7 + 0.3, (n * 37 % 10) / 10) for n in range(60))), fade=0.15)
    whole = laid(curve)
    for first, end in ((0, 7), (40, 41), (100, 400), (880, 1000)):
        assert np.array_equal(lay_over(curve, MADE[first:end], first, RATE), whole[first:end])
    there = where_drawn(curve, 1000, RATE)
    assert np.array_equal(whole[~there], MADE[~there])
    assert there[20:870].all()
    assert not there[:10].any()
    assert not there[900:].any()


def test_a_line_is_drawn_over_what_is_there_and_the_rest_stays():
    known = HandCurve("jaw", points((1.0, 0.1), (2.0, 0.2), (3.0, 0.3), (5.0, 0.4)))
    line = pencilled([1.8, 2.2, 2.6, 3.2], [0.9, 0.8, 0.9, 0.7], RATE, 0.01)
    both = drawn_over(known, line)
    assert [p.seconds for p in both.points[:1]] == [1.0]
    assert both.points[-1] == known.points[-1]
    assert [p.value for p in both.points if 1.7 < p.seconds < 3.3] == pytest.approx([p.value for p in line])
    alone = drawn_over(HandCurve("jaw", ()), line)
    assert alone.points[-1].interpolation is Interpolation.FREE, "the machine's curve goes on behind a line"
    later = with_point(alone, CurvePoint(9.0, 0.3))
    assert np.allclose(laid(later)[450:850], 0.5)


def test_a_pencil_leaves_few_points_near_what_was_drawn():
    seconds = np.linspace(1, 4, 300)
    values = 0.5 + 0.4 * np.sin(seconds * 3)
    line = pencilled(seconds, values, RATE, 0.01)
    assert 4 < len(line) < 40
    found = laid(HandCurve("jaw", line))
    assert np.abs(found[110:390] - (0.5 + 0.4 * np.sin(T[110:390] * 3))).max() < 0.02
    assert pencilled([], [], RATE, 0.01) == ()
    assert len(pencilled([2.0], [0.4], RATE, 0.01)) == 1


def test_points_are_replaced_taken_out_raised_and_scaled():
    curve = HandCurve("jaw", points((1.0, 0.2), (2.0, 0.4), (3.0, 0.6)))
    assert [p.value for p in with_point(curve, CurvePoint(2.0, 0.9)).points] == [0.2, 0.9, 0.6]
    cut = without(curve, Span(1.5, 2.5))
    assert [p.value for p in cut.points] == [0.2, 0.6]
    assert cut.points[0].interpolation is Interpolation.FREE
    between = without(curve, Span(2.2, 2.8))
    assert [p.interpolation for p in between.points] == [Interpolation.SMOOTH, Interpolation.FREE, Interpolation.SMOOTH]
    raised = moved(curve, Span(1.5, 3.5), by=0.1)
    assert [p.value for p in raised.points] == pytest.approx([0.2, 0.5, 0.7])
    scaled = moved(curve, Span(0, 9), times=0.5, about=0.0)
    assert [p.value for p in scaled.points] == pytest.approx([0.1, 0.2, 0.3])


def test_only_the_frames_beside_a_changed_point_can_differ():
    curve = HandCurve("jaw", points(*((n / 2 + 0.5, 0.3) for n in range(18))))
    for number in (0, 7, 17):
        other = with_point(curve, replace(curve.points[number], value=0.9))
        first, end = frames_of_difference(curve, other, RATE)
        unlike = np.flatnonzero(laid(curve) != laid(other))
        assert len(unlike)
        assert first <= unlike[0]
        assert unlike[-1] < end
    assert frames_of_difference(curve, curve, RATE) is None
    assert frames_of_difference(None, HandCurve("jaw", ()), RATE) is None
    first, end = frames_of_difference(None, curve, RATE)
    assert first < 50
    assert end > 900


@pytest.mark.parametrize("bad", [
    HandCurve("jaw", points((2.0, 0.1), (1.0, 0.1))), HandCurve("jaw", points((1.0, float("nan")))),
    HandCurve("jaw", points((1.0, 1e9))), HandCurve("jaw", (), fade=9.0),
])  # fmt: skip
def test_what_cannot_be_is_told(bad):
    with pytest.raises(ChannelError):
        require_valid_curve(bad)
