"""What characters look like at a moment, measured in their pixels."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage

from buccaphon.kits.casting import show_by, with_own_names
from buccaphon.kits.kit import CutOut, Drawn, Kit, Model, Move, Moving, OtherFile, Part, Place
from buccaphon.kits.model.head import read_head
from buccaphon.kits.own.table import NOTHING
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.pose import Pose
from buccaphon.painting.artwork.pixels import as_array, painted
from buccaphon.painting.characters.character import Moment
from buccaphon.painting.characters.light import Polygons, renderer_of
from buccaphon.painting.characters.loading import begin_kit, load
from buccaphon.painting.characters.model import ModelCharacter
from tests.helpers.artwork import box_of, drawings, picture, sheet
from tests.helpers.heads import head

TEN = shipped_charts()["Ten"]
PLAIN = QColor("#0000ff")


def plainly(painter, _pose, box):
    painter.fillRect(box, PLAIN)


def moment(name, jaw=0.0):
    return Moment(name, TEN.mouths[TEN.index(name)].pose, jaw)


def seen(character, at, size=80):
    """The character in a square, (size, size, 4)."""
    return as_array(
        painted(size, size, lambda painter: character.paint(painter, QRectF(0, 0, size, size), at, plainly))
    )


def box_in(pixels, color=None):
    """Left, top, width, height of what is there, or of what has a colour."""
    there = pixels[..., 3] > 127
    if color is not None:
        there &= (np.abs(pixels[..., :3].astype(int) - color.getRgb()[:3]) < 12).all(axis=2)
    rows, columns = np.flatnonzero(there.any(axis=1)), np.flatnonzero(there.any(axis=0))
    if not rows.size:
        return None
    return columns[0], rows[0], columns[-1] - columns[0] + 1, rows[-1] - rows[0] + 1


# --- drawn ------------------------------------------------------------------------------------------------------------


@pytest.fixture
def drawn(tmp_path, qapp):
    kit = begin_kit(drawings(tmp_path / "mouths"))
    character = load(kit)
    kit = with_own_names(kit, character.own, TEN)
    character.play(kit, TEN)
    return kit, character


def test_the_drawing_of_the_mouth_is_shown_where_its_file_has_it(drawn):
    _, character = drawn
    assert box_in(seen(character, moment("Bite"))) == box_of(2)
    assert box_in(seen(character, moment("Pucker"))) == box_of(9)


def test_mouths_are_put_and_scaled_about_their_middle(drawn):
    kit, character = drawn
    character.play(replace(kit, look=Drawn(Place(x=5.0, y=-8.0))), TEN)
    left, top, width, height = box_of(9)
    assert box_in(seen(character, moment("Pucker"))) == (left + 5, top - 8, width, height)
    character.play(replace(kit, look=Drawn(Place(scale=2.0))), TEN)
    assert box_in(seen(character, moment("Pucker")))[2:] == (2 * width, 2 * height)


def test_a_mouth_without_a_drawing_is_shown_by_the_nearest_of_its_own_and_by_none_where_that_was_chosen(drawn):
    kit, character = drawn
    character.play(replace(kit, own=("oo", "mbp"), shows=()), TEN)
    assert all(character.draws(name) for name in TEN.names)
    assert box_in(seen(character, moment("Open")), PLAIN) is None
    character.play(show_by(kit, "Open", [NOTHING]), TEN)
    assert character.draws("Open")
    bare = character.mouth_image(TEN.mouths[TEN.index("Open")], 40, 30, plainly)
    assert bare != character.mouth_image(TEN.mouths[TEN.index("Round")], 40, 30, plainly)


def test_a_character_without_any_drawing_is_drawn_plainly_in_the_mouths_place(drawn):
    kit, character = drawn
    character.play(replace(kit, own=(), drawings=(), shows=()), TEN)
    assert not character.draws("Open")
    assert box_in(seen(character, moment("Open")), PLAIN) is not None
    assert character.mouth_image(TEN.mouths[3], 40, 30, plainly).size().width() == 40


def test_a_face_goes_with_its_mouth(tmp_path, qapp):
    drawings(tmp_path, ("mouth_ah", "mouth_oh"))
    picture(80, 80, (0, 0, 80, 80), "#00ff00").save(str(tmp_path / "face.png"))
    picture(80, 80, (0, 0, 80, 80), "#ff00ff").save(str(tmp_path / "face_oh.png"))
    kit = begin_kit(tmp_path)
    character = load(kit)
    character.play(with_own_names(kit, character.own, TEN), TEN)
    assert tuple(seen(character, moment("Open"))[2, 2, :3]) == (0, 255, 0)
    assert tuple(seen(character, moment("Round"))[2, 2, :3]) == (255, 0, 255)


def test_a_face_of_its_own_file_lies_under_or_over_the_mouths(tmp_path, qapp):
    folder = drawings(tmp_path / "mouths")
    picture(160, 160, (0, 0, 160, 160), "#00ff00").save(str(tmp_path / "head.png"))
    for over in (False, True):
        kit = Kit("k", OtherFile(folder), Drawn(face=OtherFile(tmp_path / "head.png"), face_over=over))
        character = load(kit)
        assert character.size() == (160, 160)
        character.play(with_own_names(kit, character.own, TEN), TEN)
        found = box_in(seen(character, moment("Pucker"), 160), QColor("#902030"))
        assert (found is None) == over


def test_a_sheet_is_a_character_too(tmp_path, qapp):
    sheet(5, 2, 40).save(str(tmp_path / "sheet.png"))
    kit = begin_kit(tmp_path / "sheet.png")
    assert (kit.look.columns, kit.look.rows) == (5, 2)
    assert load(kit).own == tuple(map(str, range(1, 11)))


# --- cut-out ----------------------------------------------------------------------------------------------------------

LIP = ((20.0, 40.0), (40.0, 40.0), (60.0, 40.0))
CHIN = ((20.0, 60.0), (60.0, 60.0))


@pytest.fixture
def face(tmp_path, qapp) -> Path:
    """Upper half green, lower half yellow."""
    image = picture(80, 80, (0, 0, 80, 40), "#00ff00")
    for x in range(80):
        for y in range(40, 80):
            image.setPixelColor(x, y, QColor("#ffff00"))
    image.save(str(tmp_path / "face.png"))
    return tmp_path / "face.png"


def cut(face, **changes):
    look = CutOut(LIP, CHIN, move=Move(y=12.0), inside="#0000ff", soft=0.0, overlap=0.0)
    kit = Kit("k", OtherFile(face), replace(look, **changes))
    character = load(kit)
    character.play(kit, TEN)
    return character


def test_at_rest_no_seam_shows(face):
    whole = as_array(QImage(str(face)))
    for changes in ({}, {"soft": 3.0, "overlap": 4.0}):
        assert np.array_equal(seen(cut(face, **changes), moment("Rest")), whole)


def test_the_piece_slides_and_what_is_behind_it_shows(face):
    character = cut(face)
    half = seen(character, moment("Open", 0.5))
    full = seen(character, moment("Open", 1.0))
    assert box_in(half, PLAIN) == pytest.approx((20, 40, 40, 6), abs=1)
    assert box_in(full, PLAIN) == pytest.approx((20, 40, 40, 12), abs=1)
    assert tuple(full[60, 40, :3]) == (255, 255, 0)


def test_the_piece_turns_about_its_pivot(face):
    turning = Move(Moving.TURNS, degrees=20.0, pivot=(20.0, 40.0))
    found = seen(cut(face, move=turning), moment("Open", 1.0))
    assert box_in(found[:, :30], PLAIN)[3] < box_in(found[:, 30:], PLAIN)[3], "it opens away from the pivot"


def test_a_soft_edge_is_soft(face):
    sharp, soft = (seen(cut(face, soft=s, chin=((20.0, 55.0), (60.0, 55.0))), moment("Open", 1.0)) for s in (0.0, 4.0))
    assert len(np.unique(soft[:, 16:24, 2])) > len(np.unique(sharp[:, 16:24, 2]))


def test_a_part_follows_and_a_lifted_one_leaves_nothing_behind(face):
    around = ((5.0, 5.0), (15.0, 5.0), (15.0, 15.0), (5.0, 15.0))
    part = Part("ear", around, Move(x=0.0, y=-4.0), lifted=True)
    found = seen(cut(face, parts=(part,)), moment("Open", 1.0))
    assert found[14, 10, 3] < 100, "it has gone from there"
    assert found[3, 10, 3] == 255
    half = seen(cut(face, parts=(replace(part, share=0.5),)), moment("Open", 1.0))
    assert half[14, 10, 3] != found[14, 10, 3] or half[12, 10, 3] > found[12, 10, 3]


def test_a_part_follows_the_channel_of_its_name_in_the_hosts_units(face):
    slid = Part("cheek", ((5.0, 5.0), (15.0, 5.0), (15.0, 15.0), (5.0, 15.0)), Move(x=0.0, y=-8.0), lifted=True)
    character = cut(face, parts=(slid,))
    still, half = seen(character, moment("Open")), moment("Open")
    by_pixels, by_share, by_percent, other = (
        seen(character, replace(half, others=others))
        for others in ((("cheek", 4.0, "px"),), (("cheek", 0.5, ""),), (("cheek", 50.0, "%"),), (("chin", 9.0, "px"),))
    )
    assert (by_pixels != still).any()
    assert np.array_equal(by_pixels, by_share)
    assert np.array_equal(by_pixels, by_percent)
    assert np.array_equal(other, still)


def test_each_piece_slides_turns_and_grows_by_channels_of_its_own(face):
    slid = Part("cheek", ((5.0, 5.0), (15.0, 5.0), (15.0, 15.0), (5.0, 15.0)), Move(y=-8.0), lifted=True)
    character = cut(face, parts=(slid,), name="flap")
    still, shut = seen(character, moment("Rest")), moment("Rest")

    def by(*channels):
        return seen(character, replace(shut, others=channels))

    assert np.array_equal(by(("cheek x", 0.0, "px"), ("cheek size", 100.0, "%")), still)
    for channel in (
        ("cheek x", 5.0, "px"),
        ("cheek y", -4.0, "px"),
        ("cheek turn", 30.0, "degrees"),
        ("cheek size", 60.0, "%"),
    ):
        assert not np.array_equal(by(channel), still), channel
    assert np.array_equal(by(("cheek size", 60.0, "%")), by(("cheek size", 0.6, "")))
    dropped = by(("flap y", 10.0, "px"))
    assert box_in(dropped, PLAIN)[3] == pytest.approx(10, abs=1), "the lips' piece, by its own name"
    alone = cut(face, name="flap")
    by_name = seen(alone, replace(shut, others=(("flap", 10.0, "px"),)))
    assert np.array_equal(by_name, seen(alone, moment("Open", 10 / 12)))


def test_the_mouth_goes_with_a_head_that_carries_it(face):
    around = ((2.0, 20.0), (78.0, 20.0), (78.0, 78.0), (2.0, 78.0))
    head_part = Part("head", around, Move(y=-10.0), carries=True)
    still, gone = (box_in(seen(cut(face, parts=parts), moment("Open", 1.0)), PLAIN) for parts in ((), (head_part,)))
    assert gone[1] == pytest.approx(still[1] - 10, abs=1)


def test_a_picture_of_the_piece_stands_in_its_place(face, tmp_path):
    picture(80, 80, (20, 40, 40, 20), "#ff0000").save(str(tmp_path / "piece.png"))
    found = seen(cut(face, piece=OtherFile(tmp_path / "piece.png")), moment("Open", 1.0))
    assert box_in(found, QColor("#ff0000")) == (20, 52, 40, 20)


def test_without_a_lip_line_the_picture_stands_still(face):
    character = cut(face, lip_line=(), chin=())
    assert not character.draws("Open")
    assert np.array_equal(seen(character, moment("Open", 1.0)), as_array(QImage(str(face))))


# --- models -----------------------------------------------------------------------------------------------------------


@pytest.fixture(params=["by OpenGL", "by the painter"])
def model(request, tmp_path, qapp):
    found = read_head(head(tmp_path / "a.glb"))
    renderer = renderer_of(found) if request.param == "by OpenGL" else Polygons(found)
    character = ModelCharacter(found, renderer)
    kit = with_own_names(Kit("k", OtherFile(tmp_path / "a.glb"), Model(jaw="", zoom=0.6)), character.own, TEN)
    character.play(kit, TEN)
    return kit, character


def test_a_head_is_seen_and_its_shapes_move_it(model):
    _, character = model
    rest, opened = box_in(seen(character, moment("Press"))), box_in(seen(character, moment("Open")))
    assert rest[2] > 30
    assert opened[3] > rest[3] + 3
    wide = box_in(seen(character, moment("Spread")))
    assert wide[2] > rest[2] + 3


def test_it_is_turned_and_brought_nearer(model):
    kit, character = model
    front = box_in(seen(character, moment("Press")))
    character.play(replace(kit, look=Model(jaw="", yaw=60.0, zoom=0.6)), TEN)
    assert box_in(seen(character, moment("Press")))[2] < 0.7 * front[2]
    character.play(replace(kit, look=Model(jaw="", zoom=0.3)), TEN)
    assert box_in(seen(character, moment("Press")))[2] == pytest.approx(front[2] / 2, abs=2)


def test_the_axis_of_the_jaw_lies_where_it_turns(model):
    kit, character = model
    assert character.jaw_line() is None, "none was wanted"
    character.play(replace(kit, look=Model(jaw="jaw", zoom=0.6)), TEN)
    pivot, end = character.jaw_line()
    assert pivot == pytest.approx((500, 500), abs=1)
    assert end[0] > pivot[0] + 50
    assert end[1] == pytest.approx(pivot[1], abs=1)


def test_frames_blend_the_mouths_by_their_shares(model):
    _, character = model
    half = replace(moment("Open"), shares=(("Open", 0.5), ("Press", 0.5)))
    whole = character.weights_at(moment("Open"))["jaw_open"]
    assert character.weights_at(half)["jaw_open"] == pytest.approx(whole / 2)


def test_a_shape_follows_the_channel_of_its_name(model):
    _, character = model
    driven = replace(moment("Open"), others=(("mouth_wide", 40.0, "%"), ("nothing", 1.0, "")))
    weights = character.weights_at(driven)
    assert weights["mouth_wide"] == pytest.approx(0.4)
    assert weights["jaw_open"] == character.weights_at(moment("Open"))["jaw_open"]
    assert "nothing" not in weights


def test_shapes_given_by_hand_go_before_what_is_solved(model):
    kit, character = model
    from buccaphon.kits.casting import show_by

    character.play(show_by(kit, "Open", ["mouth_wide"]), TEN)
    assert character.weights_at(moment("Open")) == {"mouth_wide": 1.0}


def test_marigold_is_the_same_size_in_all_her_kinds(qapp):
    from buccaphon.demo.line import marigold_kits

    for kit in marigold_kits():
        character = load(kit)
        character.play(kit, TEN)
        assert character.told == ()
        rest, opened = (seen(character, moment(name, jaw), 120) for name, jaw in (("Rest", 0.0), ("Open", 0.9)))
        assert np.abs(rest.astype(int) - opened).max() > 60, kit.name
        assert all(character.draws(mouth.name) for mouth in TEN.mouths), kit.name
        assert Pose(jaw=0.9) != TEN.mouths[0].pose
