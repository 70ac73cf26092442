"""The export list in the window: filled, written, written again with one change, kept, taken over; films meanwhile."""

import csv
import json
import time
from dataclasses import replace

import av
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox

from buccaphon.app.commands.desk import Step
from buccaphon.app.session.jobs import Slot
from buccaphon.app.settings import EXPORTS
from buccaphon.formats.listing import DEFAULT_LIST, Entry, ExportList
from buccaphon.formats.registry import FORMATS
from buccaphon.kits.kit import Kit, Model, OtherFile
from buccaphon.kits.names.table import NamesTable
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.takes import ChangeTake
from buccaphon.project.file.store import open_project
from buccaphon.timing import Span
from tests.helpers.qtest import QTest
from tests.helpers.waiting import idle, save

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def aligned_call(aligned_call):
    """The demo's line for one character alone."""
    return replace(aligned_call, kits=aligned_call.kits[:1])


@pytest.fixture
def folder(tmp_path, monkeypatch):
    found = tmp_path / "out"
    found.mkdir()
    monkeypatch.setattr("PyQt6.QtWidgets.QFileDialog.getExistingDirectory", lambda *_: str(found))
    return found


def add(window, typed: str) -> None:
    QTest.keyClick(window, Qt.Key.Key_E, CONTROL | SHIFT)
    QTest.keyClicks(window.chooser.search, typed)
    QTest.keyClick(window.chooser.search, Qt.Key.Key_Return)


def write(window, qtbot) -> None:
    QTest.keyClick(window, Qt.Key.Key_E, CONTROL)
    if window.export_panel.question.isVisible():
        window.export_panel.replace_button.click()
    idle(window, qtbot)


def test_a_list_is_filled_written_and_written_again_with_the_one_change(demo, qtbot, folder):
    add(demo, "gltf, binary")
    add(demo, "openusd")
    panel = demo.export_panel.list
    assert panel.rows.count() == 5
    assert "stall_call.usda" in panel.rows.item(4).text()
    write(demo, qtbot)
    names = {"stall_call.keys.csv", "stall_call.keys.json", "stall_call.TextGrid", "stall_call.glb", "stall_call.usda"}
    assert {path.name for path in folder.iterdir()} == names
    before = {path.name: path.read_bytes() for path in folder.iterdir()}
    exposure = demo.document.bake().exposures[9]
    demo.document.apply(Paint(demo.document.span_of(exposure), "Pucker"))
    QTest.keyClick(demo, Qt.Key.Key_E, CONTROL)
    assert demo.export_panel.question.isVisible()
    demo.export_panel.replace_button.click()
    idle(demo, qtbot)
    tables = before["stall_call.keys.csv"], (folder / "stall_call.keys.csv").read_bytes()
    old, new = (list(csv.DictReader(table.decode().splitlines())) for table in tables)
    pairs = enumerate(zip(old, new, strict=True))
    changed = [number for number, (one, other) in pairs if one["mouth"] != other["mouth"]]
    assert changed == list(range(exposure.start, exposure.end))
    assert {new[n]["mouth"] for n in changed} == {"Pucker"}
    write(demo, qtbot)
    assert "5 files were already up to date" in demo.export_panel.status.text()


def test_entries_are_ticked_moved_named_told_and_taken_out_and_all_of_it_undone(demo, qtbot, folder):
    demo.show_step(Step.EXPORT)
    panel = demo.export_panel.list
    add(demo, "film, mp4")
    panel.rows.item(1).setCheckState(Qt.CheckState.Unchecked)
    assert [entry.on for entry in demo.document.state.exports.entries] == [True, False, True, True]
    panel.rows.setCurrentRow(3)
    panel.place.inputs["name"].setText("{title}_{chart}")
    panel.place.inputs["name"].editingFinished.emit()
    assert "stall_call_Ten.mp4" in panel.rows.item(3).text()
    panel.place.inputs["name"].setText("{whatever}")
    panel.place.inputs["name"].editingFinished.emit()
    assert "no field" in demo.notice.text.text()
    assert demo.document.state.exports.entries[3].name == "{title}_{chart}"
    panel.place.inputs["folder"].setText("films")
    panel.place.inputs["folder"].editingFinished.emit()
    tick = panel.options.inputs["timecode"]
    assert isinstance(tick, QCheckBox)
    tick.click()
    panel.options.inputs["width"].setValue(640)
    assert dict(demo.document.state.exports.entries[3].options) == {"timecode": "yes", "width": "640"}
    panel.options.inputs["width"].setValue(1280)
    assert dict(demo.document.state.exports.entries[3].options) == {"timecode": "yes"}, "as usual needs no telling"
    QTest.keyClick(panel.rows, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert [entry.format for entry in demo.document.state.exports.entries] == [
        "keys-csv",
        "keys-json",
        "mp4",
        "textgrid",
    ]
    QTest.keyClick(panel.rows, Qt.Key.Key_Delete)
    assert [entry.format for entry in demo.document.state.exports.entries] == ["keys-csv", "keys-json", "textgrid"]
    while demo.document.project.undo_name:
        demo.document.undo()
    assert demo.document.state.exports == replace(DEFAULT_LIST, each=False)
    demo.document.redo()
    assert panel.rows.count() == 4


def test_gltf_options_are_chosen_from_words(demo, folder):
    add(demo, "gltf, binary")
    box = demo.export_panel.list.options.inputs["between"]
    assert isinstance(box, QComboBox)
    box.setCurrentText("Held (stepped)")
    box.activated.emit(box.currentIndex())
    assert dict(demo.document.state.exports.entries[-1].options) == {"between": "held"}


def test_a_list_stays_with_the_project_goes_to_another_and_begins_new_ones(demo, qtbot, folder, tmp_path, monkeypatch):
    add(demo, "bvh")
    write(demo, qtbot)
    project = tmp_path / "market.buccaphon"
    assert save(demo, qtbot, project)
    assert open_project(project).exports == demo.document.state.exports
    kept = tmp_path / "mine.toml"
    monkeypatch.setattr("PyQt6.QtWidgets.QFileDialog.getSaveFileName", lambda *_: (str(kept), ""))
    demo.do("export-list-out")
    demo.session.exporting.put(DEFAULT_LIST, "As usual")
    monkeypatch.setattr("PyQt6.QtWidgets.QFileDialog.getOpenFileName", lambda *_: (str(kept), ""))
    demo.do("export-list-in")
    assert demo.document.state.exports.entries[-1] == Entry("bvh")
    demo.do("export-list-usual")
    assert "bvh" in EXPORTS.read()
    kept.write_text("nonsense")
    demo.do("export-list-in")
    assert "no export list" in demo.notice.text.text()


def test_a_folder_below_the_projects_own_moves_with_it(demo, qtbot, tmp_path):
    assert save(demo, qtbot, tmp_path / "market.buccaphon")
    demo.session.exporting.into(tmp_path / "host")
    assert demo.document.state.exports.folder == "host"
    assert demo.session.exporting.folder == tmp_path / "host"


def test_again_whenever_it_is_saved_writes_without_asking(demo, qtbot, tmp_path):
    folder = tmp_path / "host"
    demo.session.exporting.into(folder)
    demo.show_step(Step.EXPORT)
    demo.export_panel.again.click()
    assert save(demo, qtbot, tmp_path / "market.buccaphon")
    idle(demo, qtbot)
    keys = folder / "market.keys.json"
    assert json.loads(keys.read_text())["format"] == "buccaphon.keys"
    first = keys.read_bytes()
    demo.document.apply(Paint(demo.document.span_of(demo.document.bake().exposures[3]), "Open"))
    assert save(demo, qtbot, tmp_path / "market.buccaphon")
    idle(demo, qtbot)
    assert keys.read_bytes() != first
    assert not demo.export_panel.question.isVisible()


def test_paths_can_be_copied_and_nothing_on_is_said(demo, qtbot, folder):
    write(demo, qtbot)
    demo.export_panel.copy_button.click()
    assert QApplication.clipboard().text().split("\n")[0] == str(folder / "stall_call.keys.csv")
    off = tuple(replace(entry, on=False) for entry in demo.document.state.exports.entries)
    demo.session.exporting.put(replace(demo.document.state.exports, entries=off), "None")
    QTest.keyClick(demo, Qt.Key.Key_E, CONTROL)
    assert "No file in the list is ticked" in demo.export_panel.status.text()
    twice = (Entry("bvh"), Entry("bvh"))
    demo.session.exporting.put(replace(demo.document.state.exports, entries=twice), "Twice")
    QTest.keyClick(demo, Qt.Key.Key_E, CONTROL)
    assert "overwrite each other" in demo.export_panel.status.text()


def test_pictures_are_written_while_the_window_lives(demo, qtbot, folder):
    small = (("width", "160"), ("height", "90"))
    entries = (Entry("mp4", options=small), Entry("contact-sheet"), Entry("sheet-pdf"))
    demo.session.exporting.put(ExportList(entries, str(folder)), "Pictures")
    demo.session.exporting.export()
    longest, last = 0.0, time.perf_counter()
    while demo.session.jobs.busy(Slot.EXPORT):
        QApplication.processEvents()
        now = time.perf_counter()
        longest, last = max(longest, now - last), now
        time.sleep(0.001)
    assert {path.name for path in folder.iterdir()} == {
        "stall_call.mp4",
        "stall_call.contact.png",
        "stall_call.sheet.pdf",
    }
    with av.open(str(folder / "stall_call.mp4")) as film:
        assert sum(1 for _ in film.decode(video=0)) == demo.document.bake().frames
    assert longest < 1.0


def test_closing_in_the_middle_of_a_film_ends_it_and_leaves_nothing(demo, qtbot, folder):
    demo.session.exporting.put(ExportList((Entry("mp4"),), str(folder)), "A film")
    demo.session.exporting.export()
    qtbot.waitUntil(lambda: demo.session.jobs.busy(Slot.EXPORT), timeout=5000)
    demo.session.shut_down()
    assert list(folder.iterdir()) == []


def test_every_format_of_the_demo_is_written(demo, qtbot, folder):
    demo.document.apply(ChangeTake(used=Span(2.0, 4.0)))
    small = {"mp4", "webm", "mov", "png-sequence"}
    tiny = (("width", "32"), ("height", "18"))
    entries = tuple(Entry(form.id, options=tiny if form.id in small else ()) for form in FORMATS)
    demo.session.exporting.put(ExportList(entries, str(folder)), "Everything")
    demo.session.exporting.export()
    idle(demo, qtbot)
    names = {path.name for path in folder.iterdir()}
    pieces = len(demo.document.chart.names) + 2  # the face, and the table
    assert len(names) == len(FORMATS) + 1 + 2 * 24 - 1 + pieces, "one file each, a second of glTF, and the pictures"
    assert "could not" not in demo.export_panel.status.text()


def test_a_character_whose_file_is_gone_keeps_no_other_file_from_being_written(demo, qtbot, folder):
    demo.document.apply(PutKit(Kit("Gone", OtherFile(folder / "gone.glb"), Model())))
    idle(demo, qtbot)
    exports = ExportList((Entry("glb"), Entry("mp4"), Entry("bvh")), str(folder), each=False)
    demo.session.exporting.put(exports, "x")
    demo.session.exporting.export()
    idle(demo, qtbot)
    assert [path.name for path in folder.iterdir()] == ["stall_call_Gone.bvh"]
    assert "2 files could not be exported" in demo.export_panel.status.text()
    assert "gone.glb" in demo.export_panel.status.text()


def test_each_character_has_files_of_its_own_and_none_is_asked_about_for_another(demo, qtbot, folder):
    panel, first = demo.export_panel, demo.document.state.kit_in_use
    assert panel.each.isHidden()
    demo.session.exporting.put(ExportList((Entry("changes-csv"), Entry("srt"), Entry("bvh")), str(folder)), "x")
    write(demo, qtbot)
    assert {path.name for path in folder.iterdir()} == {f"stall_call.{end}" for end in ("changes.csv", "srt", "bvh")}
    other = replace(first, name="Pip", names=NamesTable(counts_from=1))
    demo.document.apply(PutKit(other))
    idle(demo, qtbot)
    assert panel.each.isVisibleTo(panel)
    panel.list.catch_up()
    assert "stall_call_Pip.changes.csv" in panel.list.rows.item(0).text()
    QTest.keyClick(demo, Qt.Key.Key_E, CONTROL)
    assert "already exist: stall_call.srt" in panel.status.text(), "words are those of all characters"
    panel.replace_button.click()
    idle(demo, qtbot)
    mine = {path.name for path in folder.glob("*Pip*")}, {path.name for path in folder.glob("*Marigold*")}
    assert mine[0] == {"stall_call_Pip.changes.csv", "stall_call_Pip.bvh"}
    assert {name.split(".", 1)[1] for name in mine[1]} == {"changes.csv", "bvh"}
    theirs = (folder / "stall_call_Pip.changes.csv").read_text().splitlines()
    ours = next(folder.glob("*Marigold*.changes.csv")).read_text().splitlines()
    numbers = [[int(row["number"]) for row in csv.DictReader(rows)] for rows in (theirs, ours)]
    assert numbers[0] == [number + 1 for number in numbers[1]]
    panel.each.click()
    assert demo.document.state.exports.each is False
    for path in folder.iterdir():
        path.unlink()
    write(demo, qtbot)
    assert {path.name for path in folder.iterdir()} == {
        "stall_call.srt",
        "stall_call_Pip.changes.csv",
        "stall_call_Pip.bvh",
    }


def test_stopping_is_said_and_half_a_film_is_not_left(demo, qtbot, folder):
    (folder / "stall_call.mp4").write_bytes(b"old")
    demo.session.exporting.put(ExportList((Entry("srt"), Entry("mp4")), str(folder)), "x")
    demo.session.exporting.replace()
    qtbot.waitUntil(lambda: (folder / "stall_call.srt").exists() and len(list(folder.iterdir())) > 2, timeout=10_000)
    demo.session.jobs.cancel_shown()
    qtbot.waitUntil(lambda: len(list(folder.iterdir())) == 2, timeout=10_000)
    assert "Stopped" in demo.export_panel.status.text()
    assert (folder / "stall_call.mp4").read_bytes() == b"old"


def test_the_length_of_the_scene_is_typed_and_goes_back_to_that_of_the_sound(demo, qtbot):
    demo.show_step(Step.TAKE)
    length = demo.take.scene.inputs["length"]
    assert length.text() == "that of the sound"
    length.setFocus()
    length.selectAll()
    QTest.keyClicks(length, "400")
    QTest.keyClick(length, Qt.Key.Key_Return)
    assert demo.document.state.length == 400
    length.setValue(length.minimum())
    assert demo.document.state.length is None
    demo.document.undo()
    assert demo.document.state.length == 400


def test_a_frame_is_saved_as_a_picture_in_the_size_of_the_artwork(demo, qtbot, tmp_path):
    path = tmp_path / "still.png"
    demo.desk.ask.file_to_write = lambda *_: path
    demo.document.player.seek(2.0)
    demo.do("save-frame")
    picture = QImage(str(path))
    size = demo.session.characters.character.size()
    assert (picture.width(), picture.height()) == tuple(map(round, size))
    demo.document.player.seek(0.0)
    demo.do("save-frame")
    assert QImage(str(path)) != picture, "another mouth at another frame"
