"""Scenes of several lines and roles: brought in, gone between, placed, given to characters, heard and exported."""

import shutil
from pathlib import Path

import numpy as np
import pytest
import soundfile
from PyQt6.QtCore import QPoint, Qt

from buccaphon.app.commands.desk import Step
from buccaphon.audio.reading import read_recording
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.project.file.store import open_project
from tests.conftest import DATA
from tests.helpers.hands import LEFT, NONE
from tests.helpers.qtest import QTest
from tests.helpers.waiting import PATIENCE, idle, save


@pytest.fixture
def folder(tmp_path) -> Path:
    """Two recordings with their words beside them, both in one recording, and a bang."""
    heard = [read_recording(DATA / f"{name}.flac") for name in ("slt07", "awb00")]
    for name in ("slt07", "awb00"):
        for suffix in (".flac", ".txt"):
            shutil.copy(DATA / f"{name}{suffix}", tmp_path / f"{name}{suffix}")
    one, two = ((DATA / f"{name}.txt").read_text().strip() for name in ("slt07", "awb00"))
    soundfile.write(tmp_path / "talk.wav", np.concatenate([each.samples for each in heard]), heard[0].rate)
    (tmp_path / "talk.txt").write_text(f"MAREN: {one}\nTIMO: {two}\n")
    noise = np.random.default_rng(7).normal(size=8000) * np.exp(-np.arange(8000) / 1500)
    soundfile.write(tmp_path / "bang.wav", 0.3 * noise, 16_000)
    return tmp_path


def lines_aligned(window, qtbot) -> None:
    def are_all() -> bool:
        spoken = [line for line in window.document.state.lines if line.script.strip()]
        return bool(spoken) and all(line.take.score is not None for line in spoken) and not window.session.jobs.busy()

    qtbot.waitUntil(are_all, timeout=PATIENCE)


@pytest.fixture
def clips(window, qtbot, folder):
    """Two lines and a bang that is heard only; the first one is open."""
    window.open(folder / "slt07.flac", folder / "awb00.flac")
    lines_aligned(window, qtbot)
    window.open(folder / "bang.wav")
    idle(window, qtbot)
    assert "another line of the scene, or another take of" in window.notice.text.text()
    QTest.keyClick(window.notice.button, Qt.Key.Key_L)
    idle(window, qtbot)
    window.do("heard-only")
    window.session.lines.open(0)
    return window


def test_clips_dropped_together_are_lines_with_words_of_their_own(clips, qtbot):
    state = clips.document.state
    assert [line.title for line in state.lines] == ["awb00", "slt07", "bang"]
    assert [line.script.split()[0] for line in state.lines[:2]] == ["Plums,", "No,"]
    assert [line.take.offset for line in state.lines] == [0.0, pytest.approx(4.85, abs=0.01), 0.0]
    assert state.lines[2].heard_only
    assert clips.document.title == "awb00", "of the first line, whichever is open"
    QTest.keyClick(clips.galley, Qt.Key.Key_PageDown)
    assert clips.document.state.line.title == "slt07"
    assert clips.script.text.toPlainText().startswith("No, no")
    assert clips.document.recording.duration == pytest.approx(3.675)
    clips.document.player.seek(1.0)
    QTest.keyClick(clips.galley, Qt.Key.Key_PageUp)
    QTest.keyClick(clips.galley, Qt.Key.Key_PageDown)
    assert clips.document.player.position == pytest.approx(1.0), "the playhead is where it stood"


def test_an_edit_is_the_lines_alone_and_undoing_it_shows_the_line(clips, qtbot):
    clips.session.lines.open(1)
    clips.document.player.seek(1.0)
    clips.document.paint("Round")
    clips.session.lines.open(0)
    assert clips.document.state.painted == ()
    clips.do("undo")
    assert (clips.document.state.line.title, clips.document.state.painted) == ("slt07", ())
    clips.do("redo")
    assert len(clips.document.state.painted) == 1


def test_a_line_is_dragged_to_its_place_in_the_scene_bar(clips, qtbot):
    bar = clips.scene_bar
    assert bar.isVisible()
    assert not clips.overview.isVisible()
    block = next(each for each in bar._layout.blocks if each.number == 2)
    at, by = bar._box(block).center().toPoint(), 60
    QTest.mousePress(bar, LEFT, NONE, at)
    for step in range(0, by + 1, 10):
        QTest.mouseMove(bar, at + QPoint(step, 0))
    QTest.mouseRelease(bar, LEFT, NONE, at + QPoint(by, 0))
    offset = clips.document.state.lines[2].take.offset
    assert offset > 0.3
    assert offset * 24 == pytest.approx(round(offset * 24)), "on a frame"
    assert clips.document.state.open_line == 0
    clips.do("undo")
    assert clips.document.state.lines[2].take.offset == 0.0, "the drag was one step"
    bar.setFocus()
    clips.session.lines.open(0)
    QTest.keyClick(bar, Qt.Key.Key_Down)
    QTest.keyClick(bar, Qt.Key.Key_Right)
    QTest.keyClick(bar, Qt.Key.Key_M)
    moved = next(line for line in clips.document.state.lines if line.key == bar.chosen)
    assert moved.muted
    QTest.keyClick(bar, Qt.Key.Key_Return)
    assert clips.document.state.line.key == bar.chosen


def test_the_scene_is_heard_together_and_the_page_follows(clips, qtbot, clock):
    document = clips.document
    document.player.seek(4.2)
    clips.do("play-scene")
    assert clips.session.scene_playing.playing
    for _ in range(8):
        clock.now += 0.25
        clips.session.scene_playing.player.tick()
    assert document.state.line.title == "slt07", "gone over to the line that is heard"
    assert clips.session.lines.here == pytest.approx(6.2, abs=0.1)
    heard = np.concatenate(document.player.device.rendered)
    slt = read_recording(DATA / "slt07.flac").samples[:, 0]
    begins = round((6.2 - 116 / 24) * 16_000) - 4000
    now = heard[round(2.0 * 16_000) - 4000 : round(2.0 * 16_000) - 2000, 0]
    assert max(np.correlate(slt[begins - 400 : begins + 2400], now, "valid")) > 0.9 * float(now @ now)
    clips.do("play-scene")
    assert not clips.session.scene_playing.playing


def test_a_dialogue_in_one_recording_moves_two_mouths(window, qtbot, folder, tmp_path):
    window.open(folder / "talk.wav")
    lines_aligned(window, qtbot)
    window.show_step(Step.SCRIPT)
    window.script.roles.catch_up()
    box = window.script.roles.characters["TIMO"]
    box.setCurrentIndex(box.findData(""))
    box.activated.emit(box.currentIndex())
    state = window.document.state
    assert [role.name for role in state.roles] == ["Maren", "Timo"], "the other speaker gets a name as well"
    document = window.document
    document.player.seek(state.score.words[1].start + 0.01)
    assert document.state.role.name == "Maren"
    answer = state.score.words[12]
    document.player.seek(answer.start + 0.01)
    assert document.state.role.name == "Timo", "the mouth of the one who speaks"
    document.paint("Round")
    assert window.session.lines.beside(), "the other's mouths stand beside"
    window.session.lines.open(0, "Maren")
    assert document.state.painted == ()
    window.session.exporting.put(ExportList((Entry("keys-csv"), Entry("vtt")), str(tmp_path / "out")), "list")
    window.do("export")
    idle(window, qtbot)
    names = {path.name for path in (tmp_path / "out").iterdir()}
    assert names == {"talk_Maren.keys.csv", "talk_Timo.keys.csv", "talk.vtt"}
    rows = (tmp_path / "out" / "talk_Timo.keys.csv").read_text().splitlines()[1:]
    mouths = [row.split(",")[2] for row in rows]
    assert set(mouths[: round(3.4 * 24)]) == {"Rest"}
    assert "Round" in mouths[round(answer.start * 24) :]
    assert save(window, qtbot, tmp_path / "talk.buccaphon")
    again = open_project(tmp_path / "talk.buccaphon")
    assert [role.name for role in again.roles] == ["Maren", "Timo"]
    assert again.at_line(0, "Timo").painted


def test_a_second_take_of_the_same_words_asks_nothing(window, qtbot, folder):
    window.open(folder / "slt07.flac")
    lines_aligned(window, qtbot)
    for suffix in (".flac", ".txt"):
        shutil.copy(folder / f"slt07{suffix}", folder / f"again{suffix}")
    window.open(folder / "again.flac")
    idle(window, qtbot)
    assert (len(window.document.state.takes), len(window.document.state.lines)) == (2, 1)


def test_lines_are_aligned_while_another_is_open_and_nothing_is_lost_in_between(window, qtbot, folder):
    window.open(folder / "slt07.flac", folder / "awb00.flac")
    qtbot.waitUntil(lambda: len(window.document.state.lines) == 2, timeout=PATIENCE)
    window.do("next-line")
    window.do("previous-line")
    lines_aligned(window, qtbot)
    assert [line.take.aligned_script for line in window.document.state.lines] == [
        line.script for line in window.document.state.lines
    ]
    for line in list(window.document.state.lines):
        window.session.lines.open(window.document.state.number_of(line.key))
        window.do("remove-line")
    idle(window, qtbot)
    assert window.document.state.is_empty
    window.do("undo")
    assert len([line for line in window.document.state.lines if line.takes]) == 1


def test_the_panel_names_lines_and_gives_them_to_roles(clips, qtbot):
    clips.rail.step_wanted.emit(0)
    section = clips.take.lines
    section.catch_up()
    assert [section.lines.item(row).text().split("  ")[1] for row in range(3)] == ["awb00", "slt07", "bang"]
    section.form.inputs["name"].setText("the answer")
    section.form.inputs["name"].editingFinished.emit()
    assert clips.document.state.line.title == "the answer"
    section.form.inputs["muted"].click()
    assert clips.document.state.line.muted
    section.lines.itemClicked.emit(section.lines.item(1))
    assert clips.document.state.line.title == "slt07"


def test_all_roles_are_seen_side_by_side_and_one_is_clicked(window, qtbot):
    window.do("open-demo-scene")
    lines_aligned(window, qtbot)
    window.document.player.seek(1.0)
    window.do("mirror-company")
    company = window.mirror.company
    qtbot.waitUntil(lambda: set(company._painters) == {"Marigold", "Timo"}, timeout=PATIENCE)
    assert not window.mirror.face.isVisible()
    before = company.grab().toImage()
    window.document.player.seek(5.0)
    assert company.grab().toImage() != before
    marigold = company._boxes()[0][1].center().toPoint()
    assert window.document.state.role.name == "Timo"
    QTest.mouseClick(company, LEFT, NONE, marigold)
    assert window.document.state.role.name == "Marigold"
    window.do("mirror-company")
    assert window.mirror.face.isVisible()


def test_a_switch_beside_play_has_the_scene_played(clips, qtbot):
    button = clips.mirror.scene_button
    assert button.isVisible()
    button.click()
    assert button.isChecked()
    clips.mirror.play_button.click()
    assert clips.session.scene_playing.playing
    clips.mirror.play_button.click()
    assert not clips.session.scene_playing.playing
    clips.do("scene-on")
    assert not button.isChecked()


def test_a_hand_that_holds_a_line_holds_nothing_of_another_scene(clips, qtbot):
    bar = clips.scene_bar
    block = next(each for each in bar._layout.blocks if each.number == 0)
    at = bar._box(block).center().toPoint()
    QTest.mousePress(bar, LEFT, NONE, at)
    QTest.mouseMove(bar, at + QPoint(20, 0))
    clips.document.project.settle()
    clips.do("open-demo-scene")
    before = [line.take.offset for line in clips.document.state.lines]
    QTest.mouseMove(bar, at + QPoint(70, 0))
    QTest.mouseRelease(bar, LEFT, NONE, at + QPoint(70, 0))
    assert [line.take.offset for line in clips.document.state.lines] == before
    lines_aligned(clips, qtbot)
