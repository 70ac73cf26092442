"""A new scene, one of lately, and none: nothing of one comes into another, and no file is written over by another's work."""

import shutil

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox

from buccaphon.app.commands.desk import View
from buccaphon.app.docket.model import ISSUES, STATE, WHO
from buccaphon.batch.docket import read_docket
from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Outcome
from buccaphon.demo.line import recording_path
from buccaphon.project.edits.scene import SetScene
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.standing import Standing
from buccaphon.project.state import State
from tests.helpers.qtest import QTest
from tests.helpers.waiting import heard, idle, save


@pytest.fixture
def answers(window, monkeypatch):
    """What is answered when unsaved work is asked about, and how often that was."""
    asked, answer = [], [QMessageBox.StandardButton.Discard]

    def reply(title):
        asked.append(title)
        return answer[0]

    monkeypatch.setattr(window.desk.ask, "whether_to_save", reply)
    return asked, answer


def test_a_new_scene_has_nothing_of_the_one_before(demo, qtbot, tmp_path, answers):
    asked, answer = answers
    path = tmp_path / "first.buccaphon"
    assert save(demo, qtbot, path)
    demo.document.apply(SetScene(start_frame=7))
    answer[0] = QMessageBox.StandardButton.Cancel
    QTest.keyClick(demo, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    assert demo.document.state.start_frame == 7, "it was not left"
    answer[0] = QMessageBox.StandardButton.Discard
    QTest.keyClick(demo, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    assert len(asked) == 2
    assert (demo.document.state, demo.document.project.path) == (State(), None)
    assert demo.empty.isVisible()
    assert demo.script.text.toPlainText() == ""
    kept = path.read_bytes()
    demo.open(shutil.copy(recording_path(), tmp_path / "second.flac"))
    heard(demo, qtbot)
    assert demo.document.title == "second"
    demo.desk.ask.file_to_write = lambda _title, begin, _kinds: begin
    demo.do("save")
    idle(demo, qtbot)
    assert path.read_bytes() == kept
    assert open_project(tmp_path / "second.buccaphon").take.title == "second"


def test_the_next_recording_after_the_last_was_taken_out_does_not_take_over_its_file(demo, qtbot, tmp_path):
    path = tmp_path / "first.buccaphon"
    assert save(demo, qtbot, path)
    kept = path.read_bytes()
    demo.do("remove-take")
    demo.open(shutil.copy(recording_path(), tmp_path / "second.flac"))
    heard(demo, qtbot)
    asked = []
    demo.desk.ask.file_to_write = lambda _title, begin, _kinds: asked.append(begin)
    demo.do("save")
    idle(demo, qtbot)
    assert asked == [tmp_path / "second.buccaphon"]
    assert path.read_bytes() == kept


def test_a_character_that_came_first_and_was_saved_keeps_its_file(window, qtbot, tmp_path, aligned_call):
    path = tmp_path / "marigold.buccaphon"
    window.session.characters.open_kit(aligned_call.kits[0])
    idle(window, qtbot)
    assert save(window, qtbot, path)
    window.open(shutil.copy(recording_path(), tmp_path / "call.flac"))
    heard(window, qtbot)
    assert window.document.project.path == path


def test_a_project_of_lately_is_opened_and_a_scene_closed(demo, qtbot, tmp_path, answers):
    for name in ("plums", "pears"):
        assert save(demo, qtbot, tmp_path / f"{name}.buccaphon")
    demo.do("close-scene")
    assert demo.document.recording is None
    assert demo.empty.isVisible()
    demo.do("open-recent")
    assert [choice.text for choice in demo.chooser.shown][:2] == ["pears", "plums"]
    QTest.keyClicks(demo.chooser.search, "plums")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    heard(demo, qtbot)
    assert demo.document.project.path == tmp_path / "plums.buccaphon"
    assert not answers[0], "nothing was changed"


def test_the_scenes_of_a_batch_are_gone_through_one_after_the_other(window, qtbot, tmp_path, aligned_call):
    ledger = Ledger(tmp_path)
    for name, issues in (("plums", ()), ("pears", ("1.00 s: shut",)), ("figs", ("1.00 s: shut", "2.00 s: shut"))):
        scene = tmp_path / f"{name}.buccaphon"
        save_project(aligned_call, scene)
        ledger.put(Outcome(name, name, "x.flac", issues=issues, seconds=11.4, files=(scene.name,), scene=scene.name))
    window.desk.ask.folder = lambda *_: tmp_path
    window.do("docket-folder")
    page = window.pages.docket
    assert [scene.title for scene in page.model.shown] == ["figs", "pears", "plums"]
    assert page.model.data(page.model.index(0, ISSUES)) == "2"
    QTest.keyClick(page.table, Qt.Key.Key_Return)
    heard(window, qtbot)
    assert window.pages.view() is View.GALLEY
    window.document.apply(SetScene(start_frame=5))
    for following in ("pears", "plums"):
        window.do("done-next")
        idle(window, qtbot)
        qtbot.waitUntil(lambda name=following: window.document.title == name)
        heard(window, qtbot)
    assert open_project(tmp_path / "figs.buccaphon").start_frame == 5, "saved on the way"
    window.do("done-next")
    qtbot.waitUntil(lambda: "All scenes" in window.notice.text.text())
    assert window.document.title == "plums"
    window.do("docket")
    assert page.isVisible()
    assert "looked at" in page.model.data(page.model.index(0, STATE))
    assert page.model.data(page.model.index(0, WHO))
    QTest.keyClicks(page.search, "pea")
    qtbot.waitUntil(lambda: len(page.model.shown) == 1)
    QTest.keyClick(page.search, Qt.Key.Key_Return)
    assert page.chosen() == [tmp_path / "pears.buccaphon"]
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert window.pages.view() is View.GALLEY
    assert all(scene.standing is Standing.LOOKED_AT for scene in read_docket(tmp_path))
