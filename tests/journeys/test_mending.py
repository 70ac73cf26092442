"""Mending by keyboard and with modifiers: nudges, ripples, holds, copies, history, finding."""

import pytest
from PyQt6.QtCore import QPoint, Qt

from buccaphon.app.galley.look import Lane
from buccaphon.app.settings import THEME
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.file.store import open_project
from buccaphon.timing import Span
from tests.helpers.hands import ALT, CTRL, LEFT, SHIFT
from tests.helpers.qtest import QTest
from tests.helpers.waiting import save


def drag(window, number: int, pixels: int, held) -> None:
    view, at = window.galley.viewport(), window.galley.point_at(window.document.score.words[number].start, Lane.WORDS)
    QTest.mousePress(view, LEFT, held, at)
    for step in (pixels // 2, pixels):
        move(view, at + QPoint(step, 0), held)
    QTest.mouseRelease(view, LEFT, held, at + QPoint(pixels, 0))


def move(view, at: QPoint, held) -> None:
    """A mouse move with keys held, which QTest cannot make."""
    from PyQt6.QtCore import QEvent, QPointF
    from PyQt6.QtGui import QMouseEvent
    from PyQt6.QtWidgets import QApplication

    where = QPointF(at)
    QApplication.sendEvent(view, QMouseEvent(QEvent.Type.MouseMove, where, view.mapToGlobal(where), LEFT, LEFT, held))


def starts(window) -> list[float]:
    return [word.start for word in window.document.score.words]


def test_nudges_move_the_boundary_at_the_playhead_and_pin_it(demo):
    before = starts(demo)
    demo.document.player.seek(before[5] + 0.01)
    for key, held, by in (
        (Qt.Key.Key_Period, Qt.KeyboardModifier.NoModifier, 1 / 24),
        (Qt.Key.Key_Comma, CTRL, -0.010),
        (Qt.Key.Key_Comma, ALT, -0.001),
    ):
        at = starts(demo)[5]
        QTest.keyClick(demo, key, held)
        assert starts(demo)[5] - at == pytest.approx(by)
    assert demo.document.player.position == pytest.approx(starts(demo)[5])
    assert [pin.boundary.word for pin in demo.document.state.pins] == [5]
    demo.document.undo()
    assert starts(demo) == before, "nudges of one boundary are one step"


def test_alt_moves_only_the_boundary_and_shift_all_that_follows(demo):
    before = demo.document.score
    drag(demo, 5, 12, ALT | CTRL)
    after = demo.document.score
    by = after.words[5].start - before.words[5].start
    assert by > 0.02
    assert after.words[5].phones[1].start == before.words[5].phones[1].start
    demo.document.undo()
    drag(demo, 5, -10, SHIFT | CTRL)
    rippled = demo.document.score
    by = rippled.words[5].start - before.words[5].start
    assert by < -0.02
    for number in (5, 9, 33):
        assert rippled.words[number].start - before.words[number].start == pytest.approx(by)
    assert rippled.words[:4] == before.words[:4]
    demo.document.undo()
    assert demo.document.score == before


def test_a_drag_snaps_to_frames_unless_ctrl_is_held(demo):
    rate = demo.document.state.rate
    start = demo.document.score.words[5].start
    frame = rate.seconds(rate.nearest(start) + 2)
    pixels = round((frame - start) * demo.galley.layout_now.scale) + 1
    drag(demo, 5, pixels, Qt.KeyboardModifier.NoModifier)
    assert demo.document.score.words[5].start == pytest.approx(frame, abs=1e-9)
    demo.document.undo()
    drag(demo, 5, pixels, CTRL)
    assert demo.document.score.words[5].start != pytest.approx(frame, abs=1e-6)


def test_a_mouth_is_held_longer_and_anticipated_by_single_keys(demo):
    demo.document.player.seek(1.3)
    exposure = demo.document.exposure()
    QTest.keyClick(demo, Qt.Key.Key_X)
    assert demo.document.exposure().end == exposure.end + 1
    held = demo.document.exposure()
    QTest.keyClick(demo, Qt.Key.Key_A)
    assert demo.document.exposure().start <= held.start - 1
    assert demo.document.project.undo_name == "Anticipate"


def test_mouths_are_copied_and_pasted_elsewhere(demo):
    rate = demo.document.state.rate
    demo.document.player.loop = Span(rate.seconds(24), rate.seconds(36))
    QTest.keyClick(demo, Qt.Key.Key_C, CTRL)
    pattern = [exposure_at(demo.document.bake().exposures, frame).mouth for frame in range(24, 36)]
    demo.document.player.seek(rate.seconds(120))
    QTest.keyClick(demo, Qt.Key.Key_V, CTRL)
    pasted = [exposure_at(demo.document.bake().exposures, frame).mouth for frame in range(120, 132)]
    assert pasted == pattern
    assert demo.document.project.undo_name == "Paste mouths"
    demo.document.player.seek(rate.seconds(25))
    QTest.keyClick(demo, Qt.Key.Key_F)
    filled = {exposure_at(demo.document.bake().exposures, frame).mouth for frame in range(24, 36)}
    assert filled == {pattern[1]}


def test_pins_of_a_word_are_released(demo):
    demo.document.player.seek(starts(demo)[5] + 0.01)
    QTest.keyClick(demo, Qt.Key.Key_Period)
    QTest.keyClick(demo, Qt.Key.Key_Delete, SHIFT)
    assert demo.document.state.pins == ()


def test_the_history_goes_to_any_step(demo):
    before = demo.document.state
    for mouth in ("Round", "Open", "Bite"):
        demo.document.paint(mouth)
    QTest.keyClick(demo, Qt.Key.Key_H, CTRL)
    assert demo.chooser.isVisible()
    QTest.keyClicks(demo.chooser.search, "round")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.document.project.undo_name == "Paint Round"
    assert demo.document.project.redo_name == "Paint Open"
    demo.document.go_to_step(demo.document.project.steps()[1] - 1)
    assert demo.document.state == before


@pytest.mark.parametrize("typed", ["frame 9999", "-1", "f", "1:2", "00:59:00:00", "99999999999999999999"])
def test_a_frame_that_is_not_there_is_not_found(demo, typed):
    demo.do("find")
    QTest.keyClicks(demo.chooser.search, typed)
    assert not any(choice.text.startswith("frame") for choice in demo.chooser.shown)


def test_everything_is_found_by_typing_and_the_palette_does_it(demo):
    QTest.keyClick(demo, Qt.Key.Key_F, CTRL)
    QTest.keyClicks(demo.chooser.search, "marrows")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.document.score.words[demo.document.score.word_at(demo.document.player.position)].text == "marrows,"
    assert demo.galley.hasFocus()
    QTest.keyClick(demo, Qt.Key.Key_F, CTRL)
    QTest.keyClicks(demo.chooser.search, "00:00:02:03")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.document.frame == 51
    demo.do("find")
    QTest.keyClicks(demo.chooser.search, "frame 100")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.document.frame == 100
    QTest.keyClick(demo, Qt.Key.Key_K, CTRL)
    QTest.keyClicks(demo.chooser.search, "paint bite")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.document.exposure().mouth == "Bite"
    QTest.keyClick(demo, Qt.Key.Key_K, CTRL)
    QTest.keyClicks(demo.chooser.search, "n")  # a letter here, not a command
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Escape)
    assert demo.chooser.isHidden()


def test_an_earlier_version_is_opened_and_the_newest_stays_on_the_disk(demo, tmp_path, qtbot):
    path = tmp_path / "market.buccaphon"
    save(demo, qtbot, path)
    demo.document.player.seek(1.3)
    demo.document.paint("Bite")
    save(demo, qtbot, path)
    newest = path.read_bytes()
    demo.actions_by_id["versions"].trigger()
    assert len(demo.chooser.shown) == 1
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.document.state.painted == ()
    assert demo.document.state.take.path.name == "stall_call.flac"
    assert demo.document.project.is_changed
    assert path.read_bytes() == newest


def test_a_note_is_written_found_changed_and_taken_away(demo, tmp_path, qtbot):
    demo.document.player.seek(2.0)
    QTest.keyClick(demo, Qt.Key.Key_N, SHIFT)
    QTest.keyClicks(demo.inline, "brow up, n and m")
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    (note,) = demo.document.state.take.notes
    assert note.text == "brow up, n and m"
    assert note.span.length == pytest.approx(1 / 24)
    assert Lane.NOTES in demo.galley.layout_now.look.lanes
    demo.galley.grab()
    save(demo, qtbot, tmp_path / "noted.buccaphon")
    assert open_project(tmp_path / "noted.buccaphon").take.notes == (note,)
    demo.document.player.seek(0.0)
    QTest.keyClick(demo, Qt.Key.Key_F, CTRL)
    QTest.keyClicks(demo.chooser.search, "brow")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.document.player.position == pytest.approx(note.span.start)
    QTest.keyClick(demo, Qt.Key.Key_N, SHIFT)
    assert demo.inline.text() == note.text
    demo.inline.clear()
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    assert demo.document.state.take.notes == ()
    assert Lane.NOTES not in demo.galley.layout_now.look.lanes


def test_the_night_theme_comes_at_once_and_is_remembered(demo):
    paper = demo.galley.grab().toImage()
    QTest.keyClick(demo, Qt.Key.Key_T, CTRL)
    night = demo.galley.grab().toImage()
    assert night.pixelColor(4, 4).lightness() < 70 < paper.pixelColor(4, 4).lightness()
    assert THEME.read() == "night"
    QTest.keyClick(demo, Qt.Key.Key_T, CTRL)
    assert demo.galley.grab().toImage() == paper


def test_a_whole_word_is_dragged_and_its_neighbours_give_way(demo):
    before = demo.document.score
    word = before.words[6]
    view, at = demo.galley.viewport(), demo.galley.point_at((word.start + word.end) / 2, Lane.WORDS)
    QTest.mouseClick(view, LEFT, pos=at)
    assert demo.document.score is before, "a click moves nothing"
    QTest.mousePress(view, LEFT, CTRL, at)
    for step in (6, 9):
        move(view, at + QPoint(step, 0), CTRL)
    QTest.mouseRelease(view, LEFT, CTRL, at + QPoint(9, 0))
    after = demo.document.score.words[6]
    assert after.start - word.start == pytest.approx(9 / demo.galley.layout_now.scale, abs=0.01)
    assert after.end - after.start == pytest.approx(word.end - word.start)
    assert {pin.boundary.word for pin in demo.document.state.pins} <= {6, 7}
    assert demo.document.project.undo_name == "Move a word"
    demo.document.undo()
    assert demo.document.score == before


def test_sounds_can_be_written_in_three_ways(demo):
    ipa = demo.galley.grab().toImage()
    pictures = [ipa]
    for name in ("ARPAbet", "mouth names", "IPA"):
        QTest.keyClick(demo, Qt.Key.Key_Y)
        assert name in demo.notice.text.text()
        demo.notice.hide()
        pictures.append(demo.galley.grab().toImage())
    assert pictures[3] == ipa
    assert pictures[1] != ipa != pictures[2] != pictures[1]


def test_what_is_at_the_playhead_has_a_name_to_read_aloud(demo):
    demo.document.player.seek(demo.document.score.words[1].phones[0].start + 0.01)
    spoken = demo.mirror.place_label.accessibleName()
    assert spoken == f"f {demo.document.frame}: word plums,, sound p, mouth {demo.document.exposure().mouth}"
    assert demo.mirror.place_label.focusPolicy() & Qt.FocusPolicy.TabFocus


def idle(window, qtbot) -> None:
    qtbot.waitUntil(lambda: not window.session.jobs.busy() and not window.document.state.needs_aligning, timeout=60_000)


def test_a_word_is_retyped_split_and_taken_out_where_it_stands(demo, qtbot):
    before = demo.document.score
    for text, words in (("rotten", ["and", "rotten", "pears!"]), ("right old", ["and", "right", "old", "pears!"])):
        demo.document.player.seek(demo.document.score.words[3].start + 0.02)
        QTest.keyClick(demo, Qt.Key.Key_R)
        demo.inline.clear()
        QTest.keyClicks(demo.inline, text)
        QTest.keyClick(demo.inline, Qt.Key.Key_Return)
        idle(demo, qtbot)
        assert [word.text for word in demo.document.score.words[2 : 2 + len(words)]] == words
    assert demo.document.score.words[:3] == before.words[:3]
    assert demo.document.score.words[7:] == before.words[6:]
    demo.document.player.seek(demo.document.score.words[4].start + 0.02)
    QTest.keyClick(demo, Qt.Key.Key_R)
    demo.inline.clear()
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    idle(demo, qtbot)
    assert [word.text for word in demo.document.score.words[2:5]] == ["and", "right", "pears!"]


def test_a_sound_is_typed_over_split_and_taken_out(demo, qtbot):
    def sounds() -> list[str]:
        return [phone.symbol for phone in demo.document.score.words[1].phones]

    others = demo.document.score.words[2:]
    for place, typed, expected in ((2, "UH1", "p l ʊ m z"), (4, "D Z", "p l ʊ m d z"), (1, "", "p ʊ m d z")):
        demo.document.player.seek(demo.document.score.words[1].phones[place].start + 1e-4)
        QTest.keyClick(demo, Qt.Key.Key_R, SHIFT)
        demo.inline.clear()
        QTest.keyClicks(demo.inline, typed)
        QTest.keyClick(demo.inline, Qt.Key.Key_Return)
        idle(demo, qtbot)
        assert sounds() == expected.split()
    assert demo.document.score.words[2:] == others
    QTest.keyClick(demo, Qt.Key.Key_R, SHIFT)
    QTest.keyClicks(demo.inline, "QQ")
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    assert "neither IPA nor ARPAbet" in demo.notice.text.text()
    assert sounds() == ["p", "ʊ", "m", "d", "z"]
    QTest.keyClick(demo, Qt.Key.Key_R, SHIFT)
    QTest.keyClick(demo.inline, Qt.Key.Key_Escape)
    assert demo.inline.isHidden()


@pytest.mark.parametrize(("typed", "seconds"), [("2.5", 2.5), ("2.52 s", 2.52), ("f 58", 58 / 24)])
def test_a_boundary_is_put_at_a_typed_time(demo, typed, seconds):
    demo.document.player.seek(starts(demo)[5] + 0.005)
    QTest.keyClick(demo, Qt.Key.Key_Equal)
    assert demo.inline.text() == f"{starts(demo)[5]:.3f}"
    QTest.keyClicks(demo.inline, typed)
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    assert starts(demo)[5] == pytest.approx(seconds)
    QTest.keyClick(demo, Qt.Key.Key_Equal)
    QTest.keyClicks(demo.inline, "soon")
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    assert "is not a time" in demo.notice.text.text()
    assert starts(demo)[5] == pytest.approx(seconds)
