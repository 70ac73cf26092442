"""Points of a cut-out under the hand: smooth ones, corners, and straight sides that stay straight."""

import itertools
from pathlib import Path

import numpy as np
import pytest

from buccaphon.app.kitpage.handles import Mark, curves_of, handles_of, inserted, simplified, with_corners
from buccaphon.kits.kit import CutOut, Kit, Move, OtherFile, Part
from buccaphon.painting.artwork.cutting import OwnMove, moved_by_itself, outline_path, smooth_curve

NOWHERE = (0.0, 0.0, 0.0, 0.0)
LIP = ((10.0, 50.0), (50.0, 60.0), (90.0, 50.0))


def kit(**look):
    return Kit("puppet", OtherFile(Path("p.png")), CutOut(**look))


def points_of(path):
    return np.array([[path.pointAtPercent(t).x(), path.pointAtPercent(t).y()] for t in np.linspace(0, 1, 400)])


def off_line(points, a, b):
    """How far points lie from a straight line."""
    (ax, ay), (bx, by) = a, b
    return np.abs((bx - ax) * (points[:, 1] - ay) - (by - ay) * (points[:, 0] - ax)) / np.hypot(bx - ax, by - ay)


def test_between_corners_a_side_is_straight_and_a_smooth_line_is_not():
    square = ((0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0))
    round_one = outline_path(square).boundingRect()
    assert round_one.width() > 110, "smooth points bulge"
    twice = tuple(point for point in square for _ in range(2))
    box = outline_path(twice).boundingRect()
    assert (box.left(), box.right(), box.top(), box.bottom()) == (0, 100, 0, 100)
    found = points_of(outline_path(twice))
    sides = [off_line(found, a, b) for a, b in zip(square, (*square[1:], square[0]), strict=True)]
    assert np.min(sides, axis=0).max() < 1e-6


def test_a_line_with_one_corner_is_smooth_elsewhere():
    bent = points_of(smooth_curve((LIP[0], LIP[1], LIP[1], LIP[2])))
    assert np.minimum(off_line(bent, LIP[0], LIP[1]), off_line(bent, LIP[1], LIP[2])).max() < 1e-6
    assert off_line(points_of(smooth_curve(LIP)), LIP[0], LIP[1]).max() > 1


def test_a_click_turns_a_point_into_a_corner_and_back_and_a_corner_is_dragged_and_removed_whole():
    before = kit(lip_line=LIP)
    handle = handles_of(before, NOWHERE)[1]
    assert handle.mark is Mark.POINT
    after = handle.turn(before)
    assert after.look.lip_line == (LIP[0], LIP[1], LIP[1], LIP[2])
    corner = handles_of(after, NOWHERE)[1]
    assert [each.at for each in handles_of(after, NOWHERE)[:3]] == list(LIP), "one handle"
    assert corner.mark is Mark.CORNER
    assert corner.turn(after) == before
    assert corner.drag(after, (50.0, 70.0)).look.lip_line == (LIP[0], (50.0, 70.0), (50.0, 70.0), LIP[2])
    assert corner.remove(after).look.lip_line == (LIP[0], LIP[2])


def test_an_outline_keeps_three_points_whatever_of_them_are_corners():
    triangle = ((0.0, 0.0), (0.0, 0.0), (10.0, 0.0), (5.0, 8.0))
    look = kit(lip_line=LIP, parts=(Part("chin", triangle, Move()),))
    handles = handles_of(look, NOWHERE, part=0)[:3]
    assert [each.remove for each in handles] == [None] * 3
    more = curves_of(look, part=0)[0].add(look, (5.0, 0.1))
    assert more.look.parts[0].outline == (*triangle[:2], (5.0, 0.1), *triangle[2:])


@pytest.mark.parametrize("sides", [3, 4, 6])
def test_what_was_drawn_with_straight_sides_has_its_corners(sides):
    around = np.exp(2j * np.pi * np.arange(sides + 1) / sides) * 100
    ways = [a + (b - a) * np.linspace(0, 1, 40, endpoint=False) for a, b in itertools.pairwise(around)]
    drawn = [(p.real, p.imag) for p in np.concatenate(ways)]
    line = with_corners(drawn, simplified(drawn, 3.0), 3.0)
    corners = {point for n, point in enumerate(line) if point in (*line[n + 1 : n + 2],)}
    assert len(corners) == sides - 1, "all but where the hand began, which both ends share"


def test_a_circle_that_was_drawn_has_no_corner():
    around = np.linspace(0, 2 * np.pi, 200, endpoint=False)
    drawn = [(60 * np.cos(t), 60 * np.sin(t)) for t in around]
    line = with_corners(drawn, simplified(drawn, 3.0), 3.0)
    assert len(set(line)) == len(line) > 5
    assert set(line) <= set(drawn)


def test_points_go_in_where_they_lengthen_a_line_least():
    assert inserted(LIP, (30.0, 55.0)) == (LIP[0], (30.0, 55.0), *LIP[1:])
    assert inserted(LIP, (120.0, 50.0))[-1] == (120.0, 50.0)


def test_a_piece_turns_and_grows_about_its_point_and_slides_after_that():
    move = moved_by_itself(OwnMove(x=10, y=-5, degrees=90, width=2, height=2), (50.0, 50.0))
    assert (move.map(50.0, 50.0)) == pytest.approx((60.0, 45.0))
    assert move.map(60.0, 50.0) == pytest.approx((60.0, 65.0))
    assert moved_by_itself(OwnMove(), (3.0, 4.0)).isIdentity()
    assert OwnMove().is_still
