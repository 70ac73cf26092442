"""An animator's own character: brought in from every kind of file, set by dragging, named, swapped, packed."""

import os
import shutil
import zipfile

import numpy as np
import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QAbstractSpinBox

from buccaphon.app.commands.desk import View
from buccaphon.app.dragging import DRAWING
from buccaphon.app.kitpage.names import NAME, SHOWN, WHY
from buccaphon.app.kitpage.stage import Drawing
from buccaphon.app.mirror.look import MIRROR, Backdrop, Beside
from buccaphon.kits.casting import for_chart
from buccaphon.kits.kit import Anchor, CutOut, Drawn, Kind, Model
from buccaphon.painting.artwork.pixels import as_array
from buccaphon.painting.artwork.svg import LAYERS
from buccaphon.project.edits.kits import UseKit
from buccaphon.project.edits.scene import SetScene
from buccaphon.project.file.store import open_project, save_project
from tests.conftest import DATA
from tests.helpers.artwork import NAMES, drawings, picture, sheet
from tests.helpers.hands import LEFT, NONE
from tests.helpers.heads import head
from tests.helpers.qtest import QTest
from tests.helpers.waiting import idle, save


def bring_in(window, qtbot, path):
    window.open(path)
    idle(window, qtbot)
    return window.session.characters.kit


def face_pixels(window):
    face = window.mirror.face
    return as_array(face.grab().toImage())


def at_mouth(window, name):
    """Put the playhead into the middle of the first exposure of a mouth."""
    document = window.document
    exposure = next(e for e in document.bake().exposures if e.mouth == name)
    document.player.seek(document.state.rate.seconds((exposure.start + exposure.end) / 2))
    return exposure


def kinds(folder):
    """One of each kind, by name: what is opened, and the kind it is."""
    svg = "".join(
        f'<g i:groupmode="layer" i:label="{n}"><rect width="{9 + 5 * k}" height="9"/></g>' for k, n in enumerate(NAMES)
    )
    (folder / "face.svg").write_text(
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:i="{LAYERS[1:-1]}" viewBox="0 0 90 90">{svg}</svg>'
    )
    sheet(5, 2, 40).save(str(folder / "sheet.png"))
    picture(80, 80, (0, 0, 80, 80)).save(str(folder / "portrait.png"))
    shutil.copy(DATA / "kits" / "by_another_writer.ora", folder / "layers.ora")
    return {
        "a folder": (drawings(folder / "mouths"), Kind.DRAWN),
        "layers": (folder / "layers.ora", Kind.DRAWN),
        "an SVG": (folder / "face.svg", Kind.DRAWN),
        "a sheet": (folder / "sheet.png", Kind.DRAWN),
        "a picture": (folder / "portrait.png", Kind.CUT_OUT),
        "a head": (head(folder / "head.glb"), Kind.MODEL),
    }


@pytest.mark.parametrize("what", ["a folder", "layers", "an SVG", "a sheet", "a picture", "a head"])
def test_every_kind_is_brought_in_and_comes_back_with_the_project(what, demo, qtbot, tmp_path):
    path, kind = kinds(tmp_path)[what]
    kit = bring_in(demo, qtbot, path)
    assert kit.kind is kind
    assert kit.file.digest
    assert demo.session.characters.character is not None
    assert save(demo, qtbot, tmp_path / "own.buccaphon")
    assert open_project(tmp_path / "own.buccaphon").kit_in_use == kit
    demo.document.undo()
    assert demo.session.characters.kit != kit, "bringing in is one step"


def test_a_folder_is_matched_by_its_names_and_the_mirror_shows_it(demo, qtbot, tmp_path):
    kit = for_chart(bring_in(demo, qtbot, drawings(tmp_path / "mouths")), demo.document.chart)
    assert kit.shown_by("Open") == ("ah",)
    assert kit.names.names_of("Pucker") == ("oo",)
    at_mouth(demo, "Open")
    opened = face_pixels(demo)
    at_mouth(demo, "Press")
    assert np.abs(opened.astype(int) - face_pixels(demo)).max() > 100
    assert demo.grid.tiles[6].grab().toImage() != demo.grid.tiles[1].grab().toImage()


def test_a_lip_line_is_drawn_and_dragged_and_the_mouth_opens(demo, qtbot, tmp_path):
    picture(200, 200, (0, 0, 200, 200), "#e08a2e").save(str(tmp_path / "portrait.png"))
    bring_in(demo, qtbot, tmp_path / "portrait.png")
    demo.do("kit-page")
    stage = demo.kit_page.stage
    assert stage.drawing is Drawing.LIP_LINE, "a picture without one asks for it at once"
    points = [stage._to_widget(p).toPoint() for p in ((60, 120), (80, 126), (100, 128), (120, 126), (140, 120))]
    QTest.mousePress(stage, LEFT, NONE, points[0])
    for point in points[1:]:
        QTest.mouseMove(stage, point)
    QTest.mouseRelease(stage, LEFT, NONE, points[-1])
    look = demo.session.characters.kit.look
    assert look.lip_line[0] == pytest.approx((60, 120), abs=1.5)
    assert look.lip_line[-1] == pytest.approx((140, 120), abs=1.5)
    assert look.move.y == pytest.approx(28, abs=2), "a third of the mouth's width, to begin with"
    at_mouth(demo, "Rest")
    shut = face_pixels(demo)
    at_mouth(demo, "Open")
    assert np.abs(shut.astype(int) - face_pixels(demo)).max() > 80, "it opens in the mirror at once"
    steps = len(demo.document.project.steps()[0])
    start = stage._to_widget(look.lip_line[0]).toPoint()
    QTest.mousePress(stage, LEFT, NONE, start)
    for moved in (4, 9, 15):
        QTest.mouseMove(stage, start + QPoint(-moved, 0))
    QTest.mouseRelease(stage, LEFT, NONE, start + QPoint(-15, 0))
    assert demo.session.characters.kit.look.lip_line[0][0] < 55
    assert len(demo.document.project.steps()[0]) == steps + 1, "a drag is one step"
    demo.document.undo()
    assert demo.session.characters.kit.look == look


def test_mouths_are_dragged_and_sized_on_the_face(demo, qtbot, tmp_path):
    kit = bring_in(demo, qtbot, drawings(tmp_path / "mouths", size=(80, 80)))
    demo.do("kit-page")
    stage = demo.kit_page.stage
    middle, corner = (stage._to_widget(handle.at).toPoint() for handle in stage._handles())
    QTest.mousePress(stage, LEFT, NONE, middle)
    QTest.mouseMove(stage, middle + QPoint(0, -40))
    QTest.mouseRelease(stage, LEFT, NONE, middle + QPoint(0, -40))
    moved = demo.session.characters.kit.look.place
    assert moved.y < -5
    assert kit.look.place.y == 0
    corner = stage._to_widget(stage._handles()[1].at).toPoint()
    QTest.mousePress(stage, LEFT, NONE, corner)
    QTest.mouseMove(stage, corner + QPoint(30, 30))
    QTest.mouseRelease(stage, LEFT, NONE, corner + QPoint(30, 30))
    assert demo.session.characters.kit.look.place.scale > 1.2
    assert demo.kit_page.drawn.form.inputs["scale"].value() == pytest.approx(
        100 * demo.session.characters.kit.look.place.scale, abs=0.5
    )


def test_a_head_is_turned_by_dragging_and_brought_nearer_by_the_wheel(demo, qtbot):
    demo.document.apply(UseKit("Marigold, head"))
    idle(demo, qtbot)
    demo.do("kit-page")
    stage = demo.kit_page.stage
    QTest.mousePress(stage, LEFT, NONE, QPoint(100, 100))
    QTest.mouseMove(stage, QPoint(160, 90))
    QTest.mouseRelease(stage, LEFT, NONE, QPoint(160, 90))
    assert demo.session.characters.kit.look.yaw == pytest.approx(-12 + 30)
    assert demo.kit_page.model.why.text().startswith("The jaw: jaw")
    demo.kit_page.model.other_way.click()
    assert demo.session.characters.kit.look.jaw_degrees == -18


def test_marigolds_kits_are_swapped_while_playing_and_nothing_else_changes(demo, qtbot, clock):
    before = demo.document.bake()
    demo.document.player.toggle()
    seen = [demo.document.state.kit]
    for _ in range(3):
        QTest.keyClick(demo.galley, Qt.Key.Key_C)
        clock.now += 0.2
        idle(demo, qtbot)
        seen.append(demo.document.state.kit)
        assert demo.document.player.playing
    assert len(set(seen[:3])) == 3
    assert seen[3] == seen[0]
    after = demo.document.bake()
    assert (after.exposures, demo.document.state.pins) == (before.exposures, demo.document.state.pins)
    assert np.array_equal(after.channels.values, before.channels.values), "timing, mouths and motion stay"
    demo.document.player.stop()


def test_a_pasted_list_is_matched_and_one_name_is_repaired(demo, qtbot):
    demo.do("kit-page")
    names = demo.kit_page.names
    demo.do("match-names")
    names.pasted.setPlainText("mth_neutral\nmth_mbp\nmth_fv\nmth_thing\nmth_ah\nmth_ee\nmth_oh\nmth_oo")
    names.match_button.click()
    kit = demo.session.characters.kit
    assert kit.names.names_of("Press") == ("mth_mbp",)
    assert "mth_thing" in kit.names.unused
    assert "mth_thing" in names.unused.text()
    row = demo.document.chart.names.index("Tip")
    assert names.table.item(row, WHY).text().startswith("?")
    names.table.item(row, NAME).setText("mth_thing, mth_l")
    assert demo.session.characters.kit.names.names_of("Tip") == ("mth_thing", "mth_l")
    assert names.table.item(row, WHY).text() == "assigned by hand"
    names.before.setText("x")
    names.before.textEdited.emit("x_")
    assert demo.session.characters.kit.names.names_of("Press") == ("x_mth_mbp",)
    demo.document.undo()
    assert demo.session.characters.kit.names.before == ""


def test_a_drawing_is_dropped_on_a_mouth(demo, qtbot):
    demo.do("kit-page")
    table = demo.kit_page.names.table
    data = QMimeData()
    data.setData(DRAWING, b"Round")
    place = QPointF(table.visualItemRect(table.item(2, SHOWN)).center())
    table.dropEvent(QDropEvent(place, Qt.DropAction.CopyAction, data, LEFT, NONE))
    assert demo.session.characters.kit.shown_by("Bite") == ("Round",)
    table.item(2, SHOWN).setText("automatic")
    assert demo.session.characters.kit.shown_by("Bite") == ()


def test_a_mouth_is_tried_on_while_it_is_held_and_not_painted(demo, qtbot):
    at_mouth(demo, "Press")
    before, state = face_pixels(demo), demo.document.state
    tile = demo.grid.tiles[6]
    QTest.mousePress(tile, LEFT, NONE, tile.rect().center())
    qtbot.waitUntil(lambda: demo.session.characters.tried == "Open", timeout=3000)
    assert np.abs(before.astype(int) - face_pixels(demo)).max() > 80
    QTest.mouseRelease(tile, LEFT, NONE, tile.rect().center())
    assert demo.session.characters.tried == ""
    assert demo.document.state == state
    assert np.array_equal(before, face_pixels(demo))
    QTest.mouseClick(tile, LEFT, NONE, tile.rect().center())
    assert demo.document.state != state, "a short press paints"


def test_the_mirror_shows_the_mouth_alone_others_beside_and_backdrops(demo, qtbot, monkeypatch):
    face = demo.mirror.face
    pictures = [face_pixels(demo)]
    for command in ("mirror-mouth", "mirror-beside", "mirror-beside", "mirror-backdrop", "mirror-backdrop"):
        demo.do(command)
        pictures.append(face_pixels(demo))
    assert len({picture.tobytes() for picture in pictures}) == len(pictures)
    assert (face.view.only_mouth, face.view.beside, face.view.backdrop) == (True, Beside.EARLIER, Backdrop.CHECKER)
    monkeypatch.setattr(demo.desk.ask, "color", lambda *_: "#123456")
    demo.do("mirror-color")
    assert tuple(face_pixels(demo)[100, 2, :3]) == (0x12, 0x34, 0x56)
    assert MIRROR.read() == face.view
    demo.do("mirror-window")
    assert demo.mirror.apart.isVisible()
    assert demo.mirror.apart.face.mouth == face.mouth
    demo.document.player.seek(2.0)
    assert demo.mirror.apart.face.mouth == face.mouth
    demo.do("mirror-window")
    assert not demo.mirror.apart.isVisible()


def test_a_chart_that_is_swapped_finds_its_drawings_too(demo, qtbot):
    demo.document.apply(SetScene(chart="Five"))
    character = demo.session.characters.character
    drawn = [name for name in demo.document.chart.names if character.draws(name)]
    assert len(drawn) >= 4
    demo.document.apply(SetScene(chart="Ten"))
    assert all(character.draws(name) for name in demo.document.chart.names)


def test_a_reference_lies_under_the_character(demo, qtbot, tmp_path, monkeypatch):
    picture(800, 800, (0, 0, 800, 800), "#00ff00").save(str(tmp_path / "ref.png"))
    monkeypatch.setattr(demo.desk.ask, "file_to_open", lambda *_: tmp_path / "ref.png")
    demo.do("kit-page")
    demo.kit_page.reference.choose.click()
    idle(demo, qtbot)
    assert demo.session.characters.kit.reference.opacity == 0.5
    demo.kit_page.reference.form.inputs["opacity"].setValue(100)
    assert demo.session.characters.kit.reference.opacity == 1.0
    pixels = as_array(demo.kit_page.stage.grab().toImage())
    area = demo.kit_page.stage._area
    beside_her = pixels[int(area.top()) + 6, int(area.left()) + 6, :3]
    assert tuple(beside_her) == (0, 255, 0)
    demo.kit_page.reference.remove.click()
    assert demo.session.characters.kit.reference is None


def test_a_kit_that_is_gone_is_told_and_nothing_is_lost(demo, qtbot, tmp_path):
    folder = drawings(tmp_path / "mouths")
    kit = bring_in(demo, qtbot, folder)
    assert save(demo, qtbot, tmp_path / "own.buccaphon")
    shutil.rmtree(folder)
    demo.open(tmp_path / "own.buccaphon")
    idle(demo, qtbot)
    assert "mouths" in demo.session.characters.problem
    assert demo.session.characters.kit == kit
    assert demo.session.characters.character is None
    assert face_pixels(demo).any(), "Marigold stands in"


def test_a_kit_that_was_moved_is_found_again(demo, qtbot, tmp_path):
    bring_in(demo, qtbot, drawings(tmp_path / "mouths"))
    assert save(demo, qtbot, tmp_path / "own.buccaphon")
    (tmp_path / "art").mkdir()
    (tmp_path / "mouths").rename(tmp_path / "art" / "other name")
    demo.open(tmp_path / "own.buccaphon")
    idle(demo, qtbot)
    assert demo.session.characters.character is not None
    assert demo.session.characters.kit.file.path == (tmp_path / "art" / "other name").resolve()


def test_a_drawing_that_is_drawn_over_in_a_paint_program_is_seen(demo, qtbot, tmp_path):
    bring_in(demo, qtbot, drawings(tmp_path / "mouths"))
    at_mouth(demo, "Open")
    before, character = face_pixels(demo), demo.session.characters.character
    picture(80, 80, (10, 10, 60, 60), "#0000ff").save(str(tmp_path / "mouths" / "ah.png"))
    qtbot.waitUntil(lambda: demo.session.characters.character is not character, timeout=10_000)
    idle(demo, qtbot)
    assert np.abs(before.astype(int) - face_pixels(demo)).max() > 100


def test_smaller_drawings_stand_where_they_are_told(demo, qtbot, tmp_path):
    folder = drawings(tmp_path / "mouths", ("ah", "oh"))
    picture(80, 20, (10, 0, 40, 20)).save(str(folder / "ee.png"))
    bring_in(demo, qtbot, folder)
    demo.do("kit-page")
    assert "differ in size" in demo.kit_page.told.text()
    at_mouth(demo, "Spread")
    before = face_pixels(demo)
    anchor = demo.kit_page.drawn.form.inputs["anchor"]
    anchor.setCurrentIndex(2)
    anchor.activated.emit(2)
    idle(demo, qtbot)
    assert demo.session.characters.kit.look.anchor is Anchor.TOP
    assert np.abs(before.astype(int) - face_pixels(demo)).max() > 60


def test_a_kit_is_saved_and_opened_in_another_project(demo, qtbot, tmp_path, monkeypatch):
    bring_in(demo, qtbot, drawings(tmp_path / "mouths"))
    demo.document.apply(UseKit("mouths"))
    monkeypatch.setattr(demo.desk.ask, "file_to_write", lambda *_: tmp_path / "own.buccakit")
    demo.do("save-kit")
    kit = demo.session.characters.kit
    demo.document.project.settle()
    demo.do("open-demo-line")
    idle(demo, qtbot)
    assert bring_in(demo, qtbot, tmp_path / "own.buccakit") == kit


def test_a_project_is_packed_and_opened_elsewhere(demo, qtbot, tmp_path, monkeypatch):
    bring_in(demo, qtbot, drawings(tmp_path / "mouths"))
    monkeypatch.setattr(demo.desk.ask, "file_to_write", lambda *_: tmp_path / "all.buccapack.zip")
    demo.do("pack")
    idle(demo, qtbot)
    state = demo.document.state
    shutil.rmtree(tmp_path / "mouths")
    with zipfile.ZipFile(tmp_path / "all.buccapack.zip") as file:
        assert file.testzip() is None
    monkeypatch.setattr(demo.desk.ask, "file_to_open", lambda *_: tmp_path / "all.buccapack.zip")
    monkeypatch.setattr(demo.desk.ask, "folder", lambda *_: tmp_path / "elsewhere")
    demo.document.project.settle()
    demo.do("unpack")
    idle(demo, qtbot)
    assert demo.document.project.path == tmp_path / "elsewhere" / "project.buccaphon"
    assert demo.document.recording is not None
    assert demo.document.state.takes[0].score == state.takes[0].score
    assert [kit.name for kit in demo.document.state.kits] == [kit.name for kit in state.kits]
    assert demo.session.characters.character is not None
    for kit in demo.document.state.kits:
        assert (tmp_path / "elsewhere").resolve() in kit.file.path.parents


def test_drawings_to_start_from_come_back_as_a_character(demo, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(demo.desk.ask, "folder", lambda *_: tmp_path)
    demo.do("templates")
    idle(demo, qtbot)
    assert (tmp_path / "Ten.svg").is_file()
    for path in (tmp_path, tmp_path / "Ten.svg"):
        kit = bring_in(demo, qtbot, path)
        shown = for_chart(kit, demo.document.chart)
        assert all(shown.shown_by(name) == (name,) for name in demo.document.chart.names)
    demo.do("templates")
    idle(demo, qtbot)
    assert "already" in demo.notice.text.text(), "nothing is written over"


def test_settings_of_a_cut_out_are_one_step_each(demo, qtbot):
    demo.document.apply(UseKit("Marigold, cut-out"))
    idle(demo, qtbot)
    demo.do("kit-page")
    form = demo.kit_page.cut_out
    moving = form.form.inputs["moving"]
    moving.setCurrentIndex(1)
    moving.activated.emit(1)
    form.form.inputs["degrees"].setValue(12.0)
    assert demo.session.characters.kit.look.move.degrees == 12.0
    form.parts.setCurrentIndex(1)
    form.parts.activated.emit(1)
    assert demo.kit_page.stage.part == 0
    form.form.inputs["share"].setValue(50)
    assert demo.session.characters.kit.look.parts[0].share == 0.5
    form.drop_part.click()
    assert demo.session.characters.kit.look.parts == ()
    demo.document.undo()
    assert len(demo.session.characters.kit.look.parts) == 1
    assert isinstance(demo.session.characters.kit.look, CutOut)


def test_no_number_of_a_character_can_be_set_that_no_project_opens_with(demo, qtbot, tmp_path):
    numbers = 0
    for kit in demo.document.state.kits:
        demo.document.apply(UseKit(kit.name))
        idle(demo, qtbot)
        demo.do("kit-page")
        numbered = demo.kit_page._forms[kit.kind].findChildren(QAbstractSpinBox)
        for number in (*numbered, *numbered):  # the second time with all others at their ends
            for end in (number.minimum(), number.maximum()):
                number.setValue(end)
                save_project(demo.document.state, tmp_path / "a.buccaphon")
                open_project(tmp_path / "a.buccaphon")
            numbers += 1
    assert numbers >= 8


def test_what_is_no_character_is_told_and_leaves_everything(demo, qtbot, tmp_path):
    state = demo.document.state
    (tmp_path / "broken.ora").write_bytes(b"PK\3\4junk")
    (tmp_path / "empty").mkdir()
    for path in (tmp_path / "broken.ora", tmp_path / "empty"):
        demo.open(path)
        idle(demo, qtbot)
        assert path.name in demo.notice.text.text()
        assert demo.document.state == state
    assert {Drawn, CutOut, Model} == {type(kit.look) for kit in state.kits}
    assert demo.views.currentIndex() == View.GALLEY
    assert not QRectF(demo.mirror.face.rect()).isEmpty()


def test_a_chart_is_begun_from_a_kits_names_and_shown_by_its_drawings(demo, qtbot, tmp_path):
    bring_in(demo, qtbot, drawings(tmp_path / "mouths"))
    demo.do("chart-of-kit")
    assert demo.views.currentIndex() == View.SPECIMEN
    chart, character = demo.document.chart, demo.session.characters.character
    assert set(chart.names) == set(NAMES)
    assert chart.rest.name == "rest"
    assert all(character.draws(name) for name in chart.names)
    demo.document.undo()
    assert demo.document.chart.name == "Ten", "one step"


def test_going_back_to_a_character_that_was_read_is_done_at_once(demo, qtbot):
    for _ in range(3):
        demo.do("next-kit")
        idle(demo, qtbot)
    demo.do("next-kit")
    assert not demo.session.jobs.busy(), "nothing is read again"
    assert demo.session.characters.character is not None


def test_names_in_a_model_are_taken_from_the_command_line_and_in_the_window(demo, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(demo.desk.ask, "file_to_open", lambda *_: head(tmp_path / "head.glb"))
    demo.do("match-file")
    assert demo.session.characters.kit.names.host == ("jaw_open", "mouth_wide")


def test_another_character_that_comes_in_the_middle_of_a_drag_is_left_alone(demo, qtbot):
    demo.do("kit-page")
    stage = demo.kit_page.stage
    start = stage._to_widget(stage._handles()[0].at).toPoint()
    QTest.mousePress(stage, LEFT, NONE, start)
    QTest.mouseMove(stage, start + QPoint(10, 0))
    for _ in range(2):
        demo.do("next-kit")
        idle(demo, qtbot)
        kit = demo.session.characters.kit
        QTest.mouseMove(stage, start + QPoint(30, 20))
        assert demo.session.characters.kit == kit
    demo.document.undo()
    demo.document.undo()
    QTest.mouseMove(stage, start + QPoint(50, 20))
    QTest.mouseRelease(stage, LEFT, NONE, start + QPoint(50, 20))


def test_a_project_opened_while_a_character_is_read_is_the_one_that_stays(demo, qtbot, tmp_path):
    folder = drawings(tmp_path / "mouths", size=(900, 900))
    demo.open(folder)
    demo.document.project.settle()
    demo.do("open-demo-line")
    idle(demo, qtbot)
    assert "mouths" not in [kit.name for kit in demo.document.state.kits]
    assert demo.session.characters.kit.name == "Marigold, drawn"


def test_rubbish_that_is_pasted_as_names_is_told_and_changes_nothing(demo, qtbot, tmp_path):
    demo.do("kit-page")
    state = demo.document.state
    for text in ("", " \n ,;", "\n".join(str(n) for n in range(5000))):
        demo.kit_page.names.match_text(text)
        assert "the list" in demo.notice.text.text()
    assert demo.document.state == state
    demo.kit_page.names.match_text("\x00\ud800 ☃\n=cmd|' /C calc'!A0")
    assert demo.document.state != state
    assert save(demo, qtbot, tmp_path / "own.buccaphon"), "half a character would be in no file"
    demo.document.undo()
    assert demo.document.state == state


def test_taking_the_shown_character_out_brings_marigold_by_poses(demo, qtbot):
    demo.do("kit-page")
    demo.kit_page.stage.drawing = Drawing.OUTLINE
    demo.kit_page.drop_button.click()
    assert demo.session.characters.kit is None
    assert demo.session.characters.character is None
    assert not demo.kit_page.names.isVisible()
    QTest.mousePress(demo.kit_page.stage, LEFT, NONE, QPoint(40, 40))
    QTest.mouseRelease(demo.kit_page.stage, LEFT, NONE, QPoint(90, 40))
    demo.document.undo()
    idle(demo, qtbot)
    assert demo.session.characters.character is not None


def test_drawings_whose_names_are_no_text_can_be_kept(demo, qtbot, tmp_path):
    folder = tmp_path / os.fsdecode(b"m\xffuths")
    drawings(folder, ("mouth_ah", "mouth_oh", os.fsdecode(b"mouth_e\xff")))
    kit = bring_in(demo, qtbot, folder)
    assert len(kit.own) == 3
    assert save(demo, qtbot, tmp_path / "own.buccaphon")
    assert open_project(tmp_path / "own.buccaphon").kit_in_use == kit
