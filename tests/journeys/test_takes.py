"""The Take step through the real window."""

import shutil
from pathlib import Path

import numpy as np
import pytest
import soundfile
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QWheelEvent

from buccaphon.app.galley.look import LOOK, Lane, Wrap
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.audio.recording import Listen
from buccaphon.demo.line import recording_path
from buccaphon.errors import RecordingError
from buccaphon.timing import FrameRate
from tests.audio.test_reading import film
from tests.helpers.hands import LEFT, SHIFT
from tests.helpers.qtest import QTest
from tests.helpers.waiting import save


def idle(window) -> bool:
    return not window.session.jobs.busy()


def test_a_second_take_is_switched_to_and_back_without_losing_anything(demo, qtbot, tone):
    session = demo.session
    first = session.document.score
    session.takes.bring_in(tone("slow.wav", seconds=3.0))
    qtbot.waitUntil(lambda: len(session.document.state.takes) == 2 and idle(demo), timeout=30_000)
    assert session.document.recording.name == "slow.wav"
    assert [demo.take.takes.item(row).text() for row in range(2)] == ["stall call", "slow"]
    item = demo.take.takes.item(0)
    QTest.mouseClick(demo.take.takes.viewport(), LEFT, pos=demo.take.takes.visualItemRect(item).center())
    qtbot.waitUntil(
        lambda: session.document.recording is not None and session.document.recording.name == "stall_call.flac"
    )
    assert session.document.score is first
    session.document.undo()
    qtbot.waitUntil(lambda: session.document.recording is not None and session.document.recording.name == "slow.wav")
    demo.take.remove_button.click()
    qtbot.waitUntil(
        lambda: session.document.recording is not None and session.document.recording.name == "stall_call.flac"
    )
    assert len(session.document.state.takes) == 1


def test_trims_move_the_page_the_player_and_the_numbers(demo, clock):
    demo.take.form.inputs["trim_in"].setValue(2.0)
    demo.take.form.inputs["trim_in"].editingFinished.emit()
    demo.take.form.inputs["offset"].setValue(1.0)
    demo.take.form.inputs["offset"].editingFinished.emit()
    session = demo.session
    assert demo.galley.layout_now.strips[0].start == 2.0
    demo.galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_Home)
    assert session.document.player.position == 2.0
    assert demo.mirror.frame_label.text() == "f 24", "the used part begins a second into the scene"
    session.document.player.play()
    for _ in range(1000):
        clock.now += 0.02
        session.document.player.tick()
    assert session.document.player.position == pytest.approx(session.document.recording.duration)


def test_marking_with_shift_in_the_sound_hushes_mouth_and_words(demo, qtbot):
    session, galley = demo.session, demo.galley
    a, b = (galley.point_at(t, Lane.SOUND) for t in (0.55, 1.05))
    QTest.mousePress(galley.viewport(), LEFT, SHIFT, a)
    QTest.mouseMove(galley.viewport(), b)
    QTest.mouseRelease(galley.viewport(), LEFT, SHIFT, b)
    (marked,) = session.document.state.take.not_speech
    assert (marked.start, marked.end) == (pytest.approx(0.55, abs=0.01), pytest.approx(1.05, abs=0.01))
    rate = session.document.state.rate
    assert not session.document.bake().jaw[rate.nearest(marked.start) : rate.nearest(marked.end)].any()
    session.aligning.align()
    qtbot.waitUntil(lambda: idle(demo), timeout=60_000)
    inside = [word for word in session.document.score.words if word.span.overlap(marked) > 0.06]
    assert not inside, "a word was put where nothing is said"
    session.document.player.loop = marked
    galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_N)
    assert session.document.state.take.not_speech == ()


def test_one_channel_is_heard_and_drives_the_mouth(window, qtbot, tmp_path):
    t = np.arange(32000) / 16000
    left, right = 0.4 * np.sin(2 * np.pi * 200 * t) * (t < 1), 0.4 * np.sin(2 * np.pi * 200 * t) * (t >= 1)
    soundfile.write(tmp_path / "two.wav", np.stack([left, right], axis=1), 16000)
    window.open(tmp_path / "two.wav")
    qtbot.waitUntil(lambda: window.document.recording is not None, timeout=30_000)
    assert window.steps.currentIndex() == 0, "a new project asks for its frame rate"
    assert window.take.rate_hint.isVisible()
    window.take.form.inputs["channel"].setCurrentIndex(window.take.form.inputs["channel"].findText("Right"))
    window.take.form.inputs["channel"].activated.emit(window.take.form.inputs["channel"].currentIndex())
    qtbot.waitUntil(lambda: window.document.recording is not None and idle(window), timeout=30_000)
    jaw = window.document.bake().jaw
    assert not jaw[:22].any()
    assert jaw[30:46].all(), "a steady tone is taken for a voice after a moment only"
    assert window.document.state.take.channel == 1
    assert window.take.form.inputs["channel"].itemData(0) is Listen.MIX


def test_a_damaged_recording_offers_what_can_be_read(window, qtbot, tone, tmp_path):
    whole = tone("whole.wav", seconds=4.0).read_bytes()
    path = tmp_path / "part.wav"
    path.write_bytes(whole[: len(whole) // 2])
    window.open(path)
    qtbot.waitUntil(window.notice.isVisible, timeout=30_000)
    assert "breaks off after 2.0 s" in window.notice.text.text()
    assert window.document.recording is None
    window.notice.button.click()
    qtbot.waitUntil(lambda: window.document.recording is not None, timeout=30_000)
    assert "are missing" in window.take.facts.text()


def test_a_recording_that_moved_is_found_again(window, qtbot, tmp_path):
    path = Path(shutil.copy(recording_path(), tmp_path / "call.flac"))
    window.open(path)
    qtbot.waitUntil(lambda: window.document.recording is not None, timeout=30_000)
    assert save(window, qtbot, tmp_path / "market.buccaphon")
    (tmp_path / "sound").mkdir()
    path.rename(tmp_path / "sound" / "renamed.flac")
    window.session.takes.sounds.clear()
    window.open(tmp_path / "market.buccaphon")
    qtbot.waitUntil(lambda: window.document.recording is not None, timeout=30_000)
    assert window.document.state.take.path.name == "renamed.flac"
    assert "had moved" in window.notice.text.text()


def test_a_film_shows_its_picture_in_step(window, qtbot, tmp_path):
    window.open(film(tmp_path / "actor.mp4"))
    qtbot.waitUntil(lambda: window.document.recording is not None, timeout=30_000)
    actor = window.mirror.film
    qtbot.waitUntil(actor.isVisible, timeout=30_000)
    window.document.player.seek(1.0)
    qtbot.waitUntil(lambda: actor.shown_at == 1.0, timeout=5000)
    grey = actor.image.pixelColor(actor.image.width() // 2, actor.image.height() // 2).red()
    assert grey == pytest.approx(20 + 4 * 25, abs=4)
    window.galley.setFocus()
    QTest.keyClick(window, Qt.Key.Key_M)
    assert window.mirror.face.isHidden(), "in place of the face"
    assert actor.isVisible()
    window.actions_by_id["actor"].trigger()
    assert not actor.isVisible()
    assert window.mirror.face.isVisible()


def test_a_zoom_paints_in_frames_of_bounded_length_and_then_all_of_the_page(demo, qtbot, monkeypatch):
    galley = demo.galley
    monkeypatch.setattr("buccaphon.app.galley.view._PATIENCE", 0.0)  # nothing new fits into one frame
    galley.zoom_at(1.3, QPoint(200, 200))
    unfinished = galley.grab().toImage()
    assert not galley.settled
    monkeypatch.undo()
    qtbot.waitUntil(lambda: galley.settled, timeout=3000)
    finished = galley.grab().toImage()
    assert finished != unfinished
    galley.page.pictures.clear()
    assert galley.grab().toImage() == finished


def test_the_galley_is_set_by_hand_and_remembered(demo, qtbot):
    galley = demo.galley
    galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    assert Lane.SPECTRUM in galley.look.lanes
    height = galley.look.height(Lane.SOUND)
    edge = QPoint(6, galley.point_at(0.1, Lane.SOUND).y() + height // 2)
    QTest.mousePress(galley.viewport(), LEFT, pos=edge)
    QTest.mouseMove(galley.viewport(), edge + QPoint(0, 40))
    QTest.mouseRelease(galley.viewport(), LEFT, pos=edge + QPoint(0, 40))
    assert galley.look.height(Lane.SOUND) == pytest.approx(height + 40, abs=3)
    QTest.keyClick(demo, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    assert galley.look.wrap is Wrap.ENDLESS
    at = galley.point_at(1.0, Lane.SOUND)
    before = galley.layout_now.place(at.x() + galley.horizontalScrollBar().value(), at.y()).seconds
    wheel = QWheelEvent(
        at.toPointF(), galley.viewport().mapToGlobal(at).toPointF(), QPoint(), QPoint(0, 240), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.ControlModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    galley.wheelEvent(wheel)
    after = galley.layout_now.place(at.x() + galley.horizontalScrollBar().value(), at.y()).seconds
    assert after == pytest.approx(before, abs=0.01), "what is under the pointer stays there"
    qtbot.waitUntil(lambda: LOOK.read() == galley.look)


def test_zooming_to_the_loop_fills_the_page_with_it(demo):
    demo.document.player.loop = type(demo.document.used)(1.0, 2.0)
    demo.galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_Z)
    room = demo.galley.viewport().width()
    assert 0.75 * room < demo.galley.layout_now.scale * 1.0 < 1.15 * room


def test_the_overview_goes_where_it_is_clicked(demo):
    overview = demo.overview
    QTest.mouseClick(overview, LEFT, pos=QPoint(overview.width() - 30, 20))
    assert demo.document.player.position > 0.9 * demo.document.recording.duration
    assert demo.galley.visible_span().end == pytest.approx(demo.document.recording.duration)


def test_the_reading_goes_round_and_is_remembered(demo):
    demo.document.player.seek(2.0)
    said = []
    for _ in range(5):
        demo.mirror.frame_label.click()
        said.append(demo.mirror.frame_label.text())
    assert said == ["00:00:02:00", "3+00", "1+08", "2.000 s", "f 48"]
    assert FrameRate.parse("24").label in demo.mirror.place_label.text()


def test_an_output_that_went_away_is_taken_again_when_it_is_back(demo, qtbot, clock, monkeypatch):
    names = ["Headphones", "Simulated"]

    def device(name: str = "") -> SimulatedDevice:
        made = SimulatedDevice(clock)
        made.name = name or names[0]
        return made

    for module in ("buccaphon.app.panels.sound", "buccaphon.app.window.window"):
        monkeypatch.setattr(f"{module}.choose_device", device)
    monkeypatch.setattr("buccaphon.app.panels.sound.device_names", lambda: list(names))
    demo.take.sound.looking.setInterval(10)
    player = demo.document.player
    player.set_device(device("Headphones"))
    player.play()
    names.remove("Headphones")
    player.device.is_lost = True
    qtbot.waitUntil(lambda: player.device.name == "Simulated", timeout=3000)
    assert "Headphones was disconnected" in demo.notice.text.text()
    names.insert(0, "Headphones")
    qtbot.waitUntil(lambda: player.device.name == "Headphones", timeout=3000)
    assert demo.notice.text.text().endswith("Headphones is connected again.")
    assert demo.take.sound.device.currentText() == "Headphones"
    assert not demo.take.sound.looking.isActive()


def test_what_cannot_be_measured_is_not_tried_for_ever(window, qtbot, monkeypatch):
    tried = []

    def measure(_derived, path, _progress):
        tried.append(path)
        raise RecordingError(path.name, "it cannot be measured", "Try another")

    monkeypatch.setattr("buccaphon.app.session.takes.measure", measure)
    window.open(recording_path())
    qtbot.waitUntil(lambda: bool(tried), timeout=30_000)
    qtbot.wait(300)
    assert len(tried) == 1
