"""Whole tasks through the real window, with the events that a hand would make."""

import csv
import json
import shutil
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QMessageBox

from buccaphon.app.commands.desk import Step
from buccaphon.app.galley.look import Lane
from buccaphon.app.session.jobs import Slot
from buccaphon.app.start import make_window
from buccaphon.demo.line import demo_project, recording_path, script_text
from buccaphon.mouths.settings import SettingsChange
from buccaphon.project.edits.mouths import ChangeMouthSettings
from buccaphon.project.file.store import open_project
from tests.helpers.hands import LEFT, drag
from tests.helpers.qtest import QTest
from tests.helpers.waiting import idle, save


@pytest.fixture
def aligned_call(aligned_call):
    """The demo's line for one character alone."""
    return replace(aligned_call, kits=aligned_call.kits[:1])


@pytest.fixture
def call_file(tmp_path: Path) -> Path:
    return Path(shutil.copy(recording_path(), tmp_path / "call.flac"))


def test_before_the_script_mouths_follow_who_speaks_and_undo_knows_nothing_of_it(window, qtbot, call_file):
    document = window.session.document
    window.open(call_file)
    qtbot.waitUntil(lambda: document.derived is not None and document.derived.spoken is not None, timeout=30_000)
    idle(window, qtbot)
    assert document.project.undo_name == ""
    assert document.bake().jaw.any()
    listened = document.derived.spoken
    document.apply(ChangeMouthSettings(SettingsChange(hold=2)))
    idle(window, qtbot)
    assert document.derived.spoken is listened, "it is listened to once"


def test_from_an_empty_page_to_files_for_the_host(window, qtbot, clock, call_file, tmp_path, monkeypatch):
    session = window.session
    assert window.empty.isVisible()

    window.open(call_file)
    qtbot.waitUntil(lambda: session.document.recording is not None, timeout=30_000)
    assert not window.empty.isVisible()
    assert session.document.bake().words[30] == "", "before the script the mouth follows the loudness"

    window.script.text.setFocus()
    QTest.keyClicks(window.script.text, script_text())
    QTest.keyClick(window, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: session.document.score is not None, timeout=60_000)
    assert len(session.document.score.words) == 34
    assert "34 words aligned" in window.script.status.text()

    window.galley.setFocus()
    QTest.keyClick(window, Qt.Key.Key_Space)
    assert session.document.player.playing
    mouths = set()
    for _ in range(120):
        clock.now += 1 / 60
        session.document.player.tick()
        mouths.add(window.mirror.face.mouth)
    assert session.document.player.position == pytest.approx(2.0, abs=1 / 60)
    assert {"Press", "Open", "Rest"} <= mouths, "the mirror follows the sound"
    QTest.keyClick(window, Qt.Key.Key_Space)
    assert not session.document.player.playing

    word = session.document.score.words[1]
    at = window.galley.point_at(word.start, Lane.WORDS)
    drag(window, at, at + QPoint(6, 0), at + QPoint(12, 0))
    moved = session.document.score.words[1].start
    assert moved == pytest.approx(word.start + 12 / window.galley.layout_now.scale, abs=0.01)
    assert session.document.project.undo_name == "Move a boundary"

    exposure = session.document.bake().exposures[4]
    middle = session.document.state.rate.seconds((exposure.start + exposure.end) / 2)
    QTest.mouseClick(window.galley.viewport(), LEFT, pos=window.galley.point_at(middle, Lane.MOUTHS))
    QTest.keyClick(window, Qt.Key.Key_9)
    assert session.document.project.undo_name == "Paint Round"
    assert session.document.exposure().mouth == "Round"

    undo = (Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(window, *undo)
    QTest.keyClick(window, *undo)
    assert session.document.score.words[1].start == word.start
    redo = (Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(window, *redo)
    QTest.keyClick(window, *redo)
    assert session.document.score.words[1].start == moved

    target = tmp_path / "market.buccaphon"
    monkeypatch.setattr("PyQt6.QtWidgets.QFileDialog.getSaveFileName", lambda *_: (str(target), ""))
    assert window.isWindowModified()
    QTest.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: not window.isWindowModified(), timeout=10_000)

    window.open(target)
    qtbot.waitUntil(lambda: session.document.recording is not None, timeout=30_000)
    assert session.document.state == open_project(target)
    assert session.document.score.words[1].start == pytest.approx(moved)
    assert session.document.state.painted[0].mouth == "Round"

    session.exporting.into(tmp_path)
    session.exporting.export()
    idle(window, qtbot)
    rows = list(csv.DictReader((tmp_path / "market.keys.csv").read_text().splitlines()))
    assert rows[exposure.start]["mouth"] == "Round"
    assert json.loads((tmp_path / "market.keys.json").read_text())["length"] == len(rows)
    assert (tmp_path / "market.TextGrid").exists()


def test_existing_files_are_only_replaced_after_a_second_press(demo, qtbot, tmp_path):
    there = tmp_path / "stall_call.keys.csv"
    there.write_text("mine")
    panel = demo.export_panel
    demo.session.exporting.into(tmp_path)
    demo.session.exporting.export()
    assert there.read_text() == "mine"
    assert "stall_call.keys.csv" in panel.status.text()
    panel.keep_button.click()
    assert not (tmp_path / "stall_call.keys.json").exists()
    demo.session.exporting.into(tmp_path)
    demo.session.exporting.export()
    panel.replace_button.click()
    idle(demo, qtbot)
    assert there.read_text().startswith("frame,")


def test_a_phone_boundary_moves_alone_and_is_pinned(demo):
    session = demo.session
    word = session.document.score.words[1]
    at = demo.galley.point_at(word.phones[2].start, Lane.PHONES)
    drag(demo, at, at + QPoint(4, 0))
    after = session.document.score.words[1]
    assert after.span == word.span
    assert after.phones[2].start > word.phones[2].start
    assert len(session.document.state.pins) == 1


def test_what_is_painted_survives_another_alignment(demo, qtbot):
    session = demo.session
    session.document.player.seek(1.0)
    demo.galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_7)
    painted = session.document.state.painted
    before = session.document.score
    QTest.keyClick(demo, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: not session.jobs.busy(), timeout=60_000)
    assert session.document.score == before
    assert session.document.state.painted == painted
    QTest.keyClick(demo, Qt.Key.Key_Delete)
    assert session.document.state.painted == ()


def test_a_loop_is_drawn_on_the_ruler_and_a_click_takes_it_away(demo, clock):
    player = demo.document.player
    a, b = (demo.galley.point_at(t, Lane.RULER) for t in (0.8, 1.4))
    drag(demo, a, b)
    assert player.loop.start == pytest.approx(0.8, abs=0.01)
    assert player.loops
    demo.galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_Space)
    for _ in range(100):
        clock.now += 0.02
        player.tick()
    assert 0.8 <= player.position <= 1.4 + 0.01
    player.stop()
    QTest.mouseClick(demo.galley.viewport(), LEFT, pos=a)
    assert player.loop is None
    assert not player.loops


def test_dragging_in_the_sound_scrubs_and_stepping_is_heard(demo, clock):
    player, rate = demo.document.player, demo.document.state.rate
    a, b = (demo.galley.point_at(t, Lane.SOUND) for t in (0.5, 0.9))
    drag(demo, a, b)
    assert player.position == pytest.approx(0.9, abs=0.01)
    frame = demo.document.frame
    demo.galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_Right)
    clock.now += 0.2
    player.tick()
    assert demo.document.frame == frame + 1
    heard = len(player.device.output) / demo.document.recording.rate
    assert heard == pytest.approx(1 / 24, abs=0.001)
    first = round(rate.seconds(frame + 1) * demo.document.recording.rate)
    expected = demo.document.recording.samples[first : first + len(player.device.output), 0]
    assert player.device.output[60:-60, 0] == pytest.approx(expected[60:-60])


def test_alignment_can_be_cancelled_and_the_window_lives_meanwhile(window, qtbot):
    window.session.opening.open_prepared(demo_project())
    qtbot.waitUntil(lambda: window.document.recording is not None, timeout=30_000)
    assert window.session.jobs.busy(Slot.TAKE)
    window.resize(1100, 700)
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert not window.session.jobs.busy(Slot.TAKE)
    qtbot.wait(700)
    assert window.document.score is None
    assert window.progress.isHidden()


def test_typing_keeps_the_letters_and_undo_is_the_projects(demo):
    text = demo.script.text
    text.setFocus()
    before = text.toPlainText()
    text.moveCursor(text.textCursor().MoveOperation.End)
    QTest.keyClicks(text, " 7 l")
    assert text.toPlainText() == before + " 7 l"
    assert demo.document.state.painted == ()
    assert "changed since it was aligned" in demo.script.status.text()
    QTest.keyClick(text, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert text.toPlainText() == before


def test_rate_hold_chart_and_start_frame_follow_at_once(demo, qtbot):
    before = [word.start for word in demo.document.score.words]
    demo.take.rate.setEditText("29.97")
    demo.take.rate.lineEdit().editingFinished.emit()
    demo.take.scene.inputs["start_frame"].setValue(1001)
    demo.mouths.chart.setCurrentIndex(0)
    demo.mouths.chart.activated.emit(0)
    demo.mouths.mouth_settings.form.inputs["hold"].setCurrentIndex(1)
    demo.mouths.mouth_settings.form.inputs["hold"].activated.emit(1)
    bake = demo.document.bake()
    assert (bake.rate.label, bake.start_frame, bake.chart.name) == ("29.97", 1001, "Flap")
    assert all(exposure.start % 2 == 0 for exposure in bake.exposures)
    assert [word.start for word in demo.document.score.words] == before
    assert len(demo.grid.tiles) == 2
    qtbot.waitUntil(lambda: demo.mirror.frame_label.text() == "f 1001")
    demo.take.rate.setEditText("often")
    demo.take.rate.lineEdit().editingFinished.emit()
    assert "often" in demo.notice.text.text()
    assert demo.take.rate.currentText() == "29.97"


def test_a_dropped_recording_opens_and_bad_ones_say_why(window, qtbot, call_file, tmp_path):
    bad = tmp_path / "bad.wav"
    bad.write_bytes(b"not sound")
    for path in (bad, call_file):
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(path))])
        drop = QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, mime, LEFT, Qt.KeyboardModifier.NoModifier)
        window.dropEvent(drop)
        qtbot.waitUntil(lambda: not window.session.jobs.busy(), timeout=30_000)
        if path is bad:
            assert "bad.wav" in window.notice.text.text()
            assert window.document.recording is None
    assert window.document.recording.name == "call.flac"


def test_closing_with_changes_asks_and_cancel_keeps_the_window(demo, monkeypatch):
    answers = iter([QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Discard])
    monkeypatch.setattr(demo.desk.ask, "whether_to_save", lambda _title: next(answers))
    demo.galley.setFocus()
    demo.document.player.seek(1.0)
    QTest.keyClick(demo, Qt.Key.Key_9)
    assert not demo.close()
    assert demo.isVisible()
    demo.close()
    assert not demo.isVisible()


def test_a_project_whose_recording_is_gone_says_so(demo, tmp_path, qtbot):
    path = tmp_path / "market.buccaphon"
    save(demo, qtbot, path)
    data = json.loads(path.read_text())
    data["lines"][0]["takes"][0]["path"] = "gone.wav"
    path.write_text(json.dumps(data))
    demo.open(path)
    qtbot.waitUntil(lambda: not demo.session.jobs.busy(), timeout=30_000)
    assert "gone.wav" in demo.notice.text.text()
    assert demo.document.score is not None, "the work is still there"


@pytest.mark.parametrize(("width", "height"), [(1024, 700), (1280, 800), (1920, 1080)])
def test_the_page_holds_at_common_sizes(demo, qtbot, width, height):
    demo.resize(width, height)
    qtbot.wait(20)
    for step in range(4):
        demo.show_step(Step(step))
        qtbot.wait(20)
        assert demo.size().width() == width
        assert demo.size().height() == height
        area = demo.steps.currentWidget()
        assert area.widget().width() <= area.viewport().width()
    last = demo.grid.tiles[-1]
    assert last.mapTo(demo, last.rect().bottomRight()).y() <= height


def test_every_tile_paints_its_mouth(demo):
    demo.document.player.seek(2.0)
    for tile in demo.grid.tiles:
        QTest.mouseClick(tile, LEFT)
        assert demo.document.exposure().mouth == tile.mouth.name
        assert tile.isChecked()


def test_two_windows_can_be_made_in_turn(qapp):
    from buccaphon.app.sound.device import SimulatedDevice

    for _ in range(2):
        made = make_window(SimulatedDevice())
        made.close()
        made.deleteLater()


def test_what_can_wait_waits_until_the_words_have_times(window, qtbot):
    jobs, together = window.session.jobs, []
    jobs.changed.connect(lambda: together.append(jobs.busy(Slot.TAKE) and jobs.busy(Slot.MEASURE, Slot.LISTEN)))
    window.session.opening.open_prepared(demo_project())
    qtbot.waitUntil(
        lambda: window.document.derived is not None and window.document.derived.lufs is not None, timeout=60_000
    )
    assert window.document.score is not None
    assert not any(together)
