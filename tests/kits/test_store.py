"""Kits as data: they come back exactly, move with their files, and are checked where they are read."""

import json
import os
from dataclasses import replace
from pathlib import Path

import pytest

from buccaphon.errors import BuccaphonError, KitError
from buccaphon.kits.casting import for_chart, show_by, with_own_names
from buccaphon.kits.kit import (  # fmt: skip
    Anchor,
    CutOut,
    Drawn,
    Kind,
    Kit,
    Model,
    Move,
    Moving,
    OtherFile,
    Part,
    Place,
    Reference,
)
from buccaphon.kits.names.reasons import BY_HAND, Reason
from buccaphon.kits.names.table import Given, NamesTable, give
from buccaphon.kits.own.drawing import OwnDrawing, Role
from buccaphon.kits.store import kit_as_data, kit_from_data, open_kit, save_kit
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.pose import Pose
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.state import State, one_line

TEN, FLAP = shipped_charts()["Ten"], shipped_charts()["Flap"]


def kits(folder: Path) -> list[Kit]:
    art = OtherFile(folder / "art" / "face.png", "ab" * 32)
    names = give(NamesTable(host=("ah", "oh"), before="mouth_", counts_from=1), "Open", ["ah", "oh"])
    part = Part("chin", ((0.0, 0.0), (5.5, 1.0), (2.0, 4.0)), Move(Moving.TURNS, degrees=-4.0, pivot=(3.0, 2.0)), 0.5)
    return [
        show_by(
            Kit(
                "drawn", art, Drawn(Place(3.0, -2.0, 1.5), Anchor.TOP, 5, 2, art, face_over=True), ("ah",), names=names
            ),
            "Open",
            ["ah"],
        ),
        Kit(
            "cut",
            art,
            CutOut(((1.0, 2.0), (3.0, 4.5)), piece=art, parts=(part,), name="flap"),
            reference=Reference(art, 0.25, degrees=-4.0),
        ),
        Kit(
            "own",
            art,
            Drawn(),
            ("a", "m"),
            (Given("Rest", "", by_hand=True),),
            rests="m",
            has_mouth=True,
            drawings=(
                OwnDrawing("a", look=Pose(jaw=0.75)),
                OwnDrawing("m"),
                OwnDrawing("nina", Role.FACE, (Reason("largest"),)),
                OwnDrawing("tree", Role.UNUSED, BY_HAND, by_hand=True),
            ),
        ),
        Kit("model", OtherFile(folder / "head.glb"), Model(yaw=20.0, jaw="jaw", jaw_axis=(1.0, 0.0, 0.0))),
    ]


def test_kits_come_back_exactly_alone_and_in_a_project(tmp_path):
    made = kits(tmp_path.resolve())
    for kit in made:
        save_kit(kit, tmp_path / "a.buccakit")
        assert open_kit(tmp_path / "a.buccakit") == kit
    state = one_line(kits=tuple(made), kit="cut")
    save_project(state, tmp_path / "a.buccaphon")
    assert open_project(tmp_path / "a.buccaphon") == state
    assert [kit.kind for kit in made] == [Kind.DRAWN, Kind.CUT_OUT, Kind.DRAWN, Kind.MODEL]


def test_files_are_named_from_where_the_kit_is_so_both_can_move(tmp_path):
    kit = kits(tmp_path.resolve())[0]
    save_kit(kit, tmp_path / "a.buccakit")
    assert json.loads((tmp_path / "a.buccakit").read_text())["file"]["path"] == "art/face.png"
    (tmp_path / "there").mkdir()
    (tmp_path / "a.buccakit").rename(tmp_path / "there" / "a.buccakit")
    assert open_kit(tmp_path / "there" / "a.buccakit").file.path == tmp_path.resolve() / "there" / "art" / "face.png"


def test_a_name_that_is_not_utf8_comes_back():
    odd = Kit("odd", OtherFile(Path(os.fsdecode(b"/tmp/f\xffce.png"))), CutOut())
    data = json.loads(json.dumps(kit_as_data(odd, Path("/tmp"))))
    assert kit_from_data(data, Path("/tmp")) == odd


def test_entries_of_later_versions_are_kept(tmp_path):
    data = kit_as_data(kits(tmp_path)[0], tmp_path) | {"eyes": [1, 2]}
    assert kit_as_data(kit_from_data(data, tmp_path), tmp_path)["eyes"] == [1, 2]


@pytest.mark.parametrize(
    "bent",
    [
        {"name": " "}, {"kind": "puppet"}, {"look": {"soft": -1}}, {"look": {"lip_line": [[1]]}}, {"file": 3},
        {"look": {"lip_line": [[0, 0]] * 500}}, {"look": {"soft": "wide"}}, {"shows": [{"target": 1}]},
        {"file": {"path": "a\0b"}}, {"names": {"counts_from": 7}}, {"look": {"move": {"degrees": 1e9}}},
        {"file": {"path": 0}}, {"file": {"path": [1, 2]}}, {"file": {"path": True}},
    ],
)  # fmt: skip
def test_values_that_cannot_be_are_refused_with_their_place(bent, tmp_path):
    data = {"format": "buccaphon kit", "version": 1} | kit_as_data(kits(tmp_path)[1], tmp_path) | bent
    (tmp_path / "a.buccakit").write_text(json.dumps(data))
    with pytest.raises(KitError):
        open_kit(tmp_path / "a.buccakit")


def test_a_number_that_no_project_opens_with_is_not_taken(tmp_path):
    cut = kits(tmp_path)[1]
    with pytest.raises(KitError, match="unit"):
        PutKit(replace(cut, look=replace(cut.look, unit=0.0))).apply(State())
    with pytest.raises(KitError, match="y is"):
        PutKit(replace(cut, look=replace(cut.look, move=Move(y=1e9)))).apply(State())


@pytest.mark.parametrize("path", [0, 0.5, True, [], [[]]])
def test_in_a_project_too(path, tmp_path):
    save_project(one_line(kits=tuple(kits(tmp_path))), tmp_path / "a.buccaphon")
    data = json.loads((tmp_path / "a.buccaphon").read_text())
    data["kits"][0]["file"]["path"] = path
    (tmp_path / "a.buccaphon").write_text(json.dumps(data))
    with pytest.raises(BuccaphonError, match=r"a\.buccaphon"):
        open_project(tmp_path / "a.buccaphon")


@pytest.mark.parametrize("text", ["", "{}", "[]", '{"format": "buccaphon kit", "version": 2}', "\0"])
def test_what_is_no_kit_is_refused(text, tmp_path):
    (tmp_path / "a.buccakit").write_text(text)
    with pytest.raises(KitError):
        open_kit(tmp_path / "a.buccakit")


def test_own_names_are_matched_and_another_chart_gets_what_there_is():
    kit = with_own_names(Kit("k", OtherFile(Path("f")), Drawn()), ("rest", "ah", "oh", "mbp"), TEN)
    assert kit.shown_by("Open") == ("ah",)
    assert kit.names.names_of("Press") == ("mbp",)
    assert kit.shown_by("Teeth") == ()
    flap = for_chart(kit, FLAP)
    assert flap.shown_by("Shut") == ("rest",)
    assert flap.shows[: len(kit.shows)] == kit.shows, "what was there stays"
    assert for_chart(kit, TEN) == kit or set(kit.shows) <= set(for_chart(kit, TEN).shows)


def test_all_files_of_a_kit_are_known(tmp_path):
    drawn, cut, *_ = kits(tmp_path)
    assert len(drawn.files) == 2
    assert len(cut.files) == 3
    assert len(replace(cut, reference=None).files) == 2
