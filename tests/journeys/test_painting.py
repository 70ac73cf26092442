"""A hand on the mouths: exactly the frames that are meant, in the line and on the sheet, from a blank line too."""

import itertools

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication

from buccaphon.app.commands.desk import View
from buccaphon.app.galley.look import Lane
from buccaphon.mouths.exposures import exposure_at
from buccaphon.mouths.settings import SettingsChange
from buccaphon.project.edits.mouths import ChangeMouthSettings
from buccaphon.project.edits.scene import PutNote, SetScene
from buccaphon.project.file.store import open_project
from buccaphon.timing import FrameRate, Span
from tests.helpers.hands import LEFT, NONE
from tests.helpers.qtest import QTest
from tests.helpers.waiting import save

ALT = Qt.KeyboardModifier.AltModifier
KEYS = "1234567890"
FRAMES = (1, 3, 5, 10, 13, 15, 19, 21, 28, 32)


def row_of(demo) -> list[str]:
    return [each.mouth for each in demo.document.bake().exposures for _ in range(each.length)]


def long_hold(demo, least: int = 7):
    return next(e for e in demo.document.bake().exposures if e.length >= least and e.start > 5)


def stand_on(demo, frame: int) -> None:
    demo.document.player.seek(demo.document.state.rate.seconds(frame))


def other_key(demo, *mouths: str) -> tuple[str, str]:
    """A key, and the mouth that it paints, which is none of these."""
    names = demo.document.chart.names
    number = next(n for n, name in enumerate(names) if name not in mouths)
    return KEYS[number], names[number]


def on_line(demo, frame: float, down: float = 0.5) -> QPoint:
    """Where a frame lies in the lane of mouths."""
    galley, seconds = demo.galley, demo.document.state.rate.seconds(frame)
    galley.show_time(seconds)
    return galley.point_at(seconds, Lane.MOUTHS)


def on_sheet(demo, frame: float, column: int) -> QPoint:
    rows = demo.sheet.rows
    return QPoint(rows.edges[column] + 30, round(rows.top(frame)))


def drag(widget, start: QPoint, end: QPoint, held=NONE) -> None:
    QTest.mousePress(widget, LEFT, held, start)
    for share in (0.3, 0.7, 1.0):
        QTest.mouseMove(widget, start + (end - start) * share)
    QTest.mouseRelease(widget, LEFT, held, end)


def test_a_number_paints_from_the_playhead_to_the_next_change(demo):
    hold, before = long_hold(demo), row_of(demo)
    key, mouth = other_key(demo, hold.mouth)
    stand_on(demo, hold.start + 3)
    assert f"frames {hold.start + 3} to {hold.end - 1}" in demo.grid.target.text(), "told before the key is pressed"
    QTest.keyClick(demo, key)
    wanted = [*before[: hold.start + 3], *[mouth] * (hold.length - 3), *before[hold.end :]]
    assert row_of(demo) == wanted
    demo.document.undo()
    assert row_of(demo) == before


def test_one_frame_inside_a_hold_is_exchanged_on_the_ruler_and_only_it_given_back(demo):
    hold, before = long_hold(demo), row_of(demo)
    key, mouth = other_key(demo, hold.mouth)
    rate, frame = demo.document.state.rate, hold.start + 3
    demo.document.player.loop = Span(rate.seconds(frame), rate.seconds(frame + 1))
    stand_on(demo, frame)
    QTest.keyClick(demo, key)
    assert [n for n, (a, b) in enumerate(zip(before, row_of(demo), strict=True)) if a != b] == [frame]
    assert row_of(demo)[frame] == mouth
    QTest.keyClick(demo, Qt.Key.Key_Delete)
    assert row_of(demo) == before
    stand_on(demo, 0)
    QTest.keyClick(demo, key)
    assert row_of(demo)[frame] == before[frame], "a loop to listen to is no target once the playhead has left it"


def test_a_drag_inside_a_hold_selects_its_frames_by_whole_drawings(demo):
    demo.document.apply(ChangeMouthSettings(SettingsChange(hold=2)))
    hold, before = long_hold(demo, 8), row_of(demo)
    key, _mouth = other_key(demo, hold.mouth)
    view = demo.galley.viewport()
    drag(view, on_line(demo, hold.start + 2.5), on_line(demo, hold.start + 4.5))
    QTest.keyClick(demo, key)
    changed = [n for n, (a, b) in enumerate(zip(before, row_of(demo), strict=True)) if a != b]
    assert changed == list(range(hold.start + 2, hold.start + 6)), "two whole drawings on twos"
    demo.document.undo()
    drag(view, on_line(demo, hold.start + 3.3), on_line(demo, hold.start + 5.2), ALT)
    QTest.keyClick(demo, key)
    changed = [n for n, (a, b) in enumerate(zip(before, row_of(demo), strict=True)) if a != b]
    assert changed == [hold.start + 3, hold.start + 4, hold.start + 5], "any frames"


def test_on_the_sheet_rows_are_exact_and_edges_dragged(demo):
    demo.do("sheet")
    hold, before, view = long_hold(demo), row_of(demo), demo.sheet.viewport()
    key, mouth = other_key(demo, hold.mouth)
    demo.sheet.show_time(demo.document.state.rate.seconds(hold.start))
    QTest.mouseClick(view, LEFT, NONE, on_sheet(demo, hold.start + 2.5, 4))
    assert not demo.document.selection, "a click only puts the playhead there"
    drag(view, on_sheet(demo, hold.start + 1.5, 4), on_sheet(demo, hold.start + 3.5, 4))
    QTest.keyClick(demo, key)
    changed = [n for n, (a, b) in enumerate(zip(before, row_of(demo), strict=True)) if a != b]
    assert changed == [hold.start + 1, hold.start + 2, hold.start + 3]
    demo.document.select_nothing()
    drag(view, on_sheet(demo, hold.start + 4, 4), on_sheet(demo, hold.start + 5, 4))
    assert row_of(demo)[hold.start : hold.start + 5] == [hold.mouth, *[mouth] * 4], "the edge went a frame down"
    demo.document.undo()
    demo.document.undo()
    assert row_of(demo) == before


def test_ten_numbers_typed_on_ten_frames_of_a_blank_line_in_any_order(demo, qtbot, tmp_path):
    demo.do("sheet")
    demo.do("blank")
    names = demo.document.chart.names
    assert set(row_of(demo)) == {names[0]}
    for number in (4, 9, 0, 7, 2, 8, 1, 6, 3, 5):
        stand_on(demo, FRAMES[number])
        QTest.keyClick(demo, KEYS[number])
    edges = (*FRAMES, demo.document.bake().frames)
    wanted = [names[0]] * FRAMES[0]
    for number, (first, end) in enumerate(itertools.pairwise(edges)):
        wanted += [names[number]] * (end - first)
    assert row_of(demo) == wanted
    assert save(demo, qtbot, tmp_path / "blank.buccaphon")
    assert open_project(tmp_path / "blank.buccaphon").take.blanks == demo.document.state.take.blanks
    demo.session.issues.look()
    assert not any(mark.kind.is_of_choosing for mark in demo.session.issues.found), "a hand need not follow the words"
    demo.do("choose-again")
    assert row_of(demo)[FRAMES[-1]] == names[9], "what was painted stays"
    demo.document.undo()
    for _ in range(11):
        demo.document.undo()
    assert not demo.document.state.take.blanks


def test_mouths_are_typed_frame_after_frame_without_leaving_the_line(demo):
    demo.do("blank")
    for view in (View.GALLEY, View.SHEET):
        demo.desk.show_view(view)
        demo.do("type-mouths")
        for typed in ("12 Open", "f 20 bite", "31 7", "Round"):
            assert demo.inline.isVisible()
            QTest.keyClicks(demo.inline, typed)
            QTest.keyClick(demo.inline, Qt.Key.Key_Return)
        row = row_of(demo)
        assert [row[n] for n in (11, 12, 19, 20, 30, 31, 200)] == [
            "Rest",
            "Open",
            "Open",
            "Bite",
            "Bite",
            "Round",
            "Round",
        ]
        QTest.keyClicks(demo.inline, "12 grimace")
        QTest.keyClick(demo.inline, Qt.Key.Key_Return)
        assert "no mouth of the chart" in demo.notice.text.text()
        QTest.keyClick(demo.inline, Qt.Key.Key_Escape)
        assert not demo.inline.isVisible()


def test_a_list_is_pasted_and_opened_as_a_file(demo, tmp_path):
    before = row_of(demo)
    clipboard = QGuiApplication.clipboard()
    clipboard.setText("frame\tmouth\n30\tOpen\n33\tBite\n40\tRest")
    demo.do("paste")
    row = row_of(demo)
    assert row[30:40] == ["Open"] * 3 + ["Bite"] * 7
    assert row[:30] == before[:30]
    demo.document.undo()
    path = tmp_path / "mouths.txt"
    path.write_text("30 6\n33 2\n40 Rest\n")
    demo.desk.ask.file_to_open = lambda *_: path
    demo.do("mouth-list")
    assert row_of(demo) == row
    path.write_text("30 Nose\n")
    demo.do("mouth-list")
    assert row_of(demo) == row
    assert "Nose" in demo.notice.text.text()


def test_a_mouth_is_taken_out_and_the_one_before_held(demo):
    exposures, before = demo.document.bake().exposures, row_of(demo)
    target = exposures[4]
    stand_on(demo, target.start + target.length // 2)
    QTest.keyClick(demo, Qt.Key.Key_Backspace)
    row = row_of(demo)
    assert row[target.start : target.end] == [exposures[3].mouth] * target.length
    assert [row[: target.start], row[target.end :]] == [before[: target.start], before[target.end :]]


def test_silence_here_and_painting_while_it_plays(demo, clock):
    hold = long_hold(demo)
    rate = demo.document.state.rate
    demo.document.player.loop = Span(rate.seconds(hold.start + 1), rate.seconds(hold.start + 3))
    stand_on(demo, hold.start + 1)
    demo.do("rest-here")
    assert row_of(demo)[hold.start + 1 : hold.start + 3] == ["Rest"] * 2
    demo.document.undo()
    key, mouth = other_key(demo, hold.mouth)
    stand_on(demo, hold.start + 2)
    demo.document.player.play()
    QTest.keyClick(demo, key)
    demo.document.player.stop()
    assert row_of(demo)[hold.start + 2 : hold.end] == [mouth] * (hold.length - 2), (
        "from the frame heard, never the loop"
    )


def test_a_double_click_offers_the_chart(demo):
    hold = long_hold(demo)
    QTest.mouseDClick(demo.galley.viewport(), LEFT, NONE, on_line(demo, hold.start + 3.5))
    assert demo.chooser.isVisible()
    QTest.keyClicks(demo.chooser.search, "pucker")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert row_of(demo)[hold.start : hold.end] == ["Pucker"] * hold.length
    demo.document.undo()
    demo.do("sheet")
    demo.sheet.show_time(demo.document.state.rate.seconds(hold.start))
    QTest.mouseDClick(demo.sheet.viewport(), LEFT, NONE, on_sheet(demo, hold.start + 3.5, 4))
    QTest.keyClicks(demo.chooser.search, "pucker")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert row_of(demo)[hold.start + 3 : hold.end] == ["Pucker"] * (hold.length - 3), "on the sheet from that row on"


def test_on_the_sheet_a_loop_is_dragged_and_a_note_moved(demo):
    demo.do("sheet")
    view, document = demo.sheet.viewport(), demo.document
    drag(view, on_sheet(demo, 4.5, 0), on_sheet(demo, 8.5, 0))
    rate = document.state.rate
    assert document.player.loop == Span(rate.seconds(4), rate.seconds(9))
    QTest.keyClick(demo, "7")
    assert row_of(demo)[4:9] == [document.chart.names[6]] * 5
    QTest.mouseClick(view, LEFT, NONE, on_sheet(demo, 4.5, 0))
    assert document.player.loop is None
    document.apply(PutNote(Span(rate.seconds(3), rate.seconds(4)), "blink"))
    drag(view, on_sheet(demo, 3.5, 6), on_sheet(demo, 9.5, 6), ALT)
    (note,) = document.state.take.notes
    assert rate.nearest(note.span.start) == 9
    document.undo()
    assert rate.nearest(document.state.take.notes[0].span.start) == 3, "one step"


def test_keys_go_to_the_onsets_of_the_sound(demo):
    stand_on(demo, 0)
    places = []
    for _ in range(4):
        demo.do("next-onset")
        places.append(demo.document.player.position)
    assert places == sorted(set(places))
    assert min(b - a for a, b in itertools.pairwise(places)) > 0.02
    demo.do("previous-onset")
    assert demo.document.player.position == pytest.approx(places[-2], abs=1e-6)


def test_paint_stays_on_its_frames_whatever_the_machine_does_then(demo):
    stand_on(demo, 30)
    demo.do("blank")
    demo.document.apply(SetScene(rate=FrameRate.parse("60")))
    demo.do("choose-again")
    hold = long_hold(demo)
    key, mouth = other_key(demo, hold.mouth)
    stand_on(demo, hold.start + 2)
    QTest.keyClick(demo, key)
    demo.document.apply(ChangeMouthSettings(SettingsChange(hold=3)))
    assert row_of(demo)[hold.start + 2 : hold.end] == [mouth] * (hold.length - 2)
    assert exposure_at(demo.document.bake().exposures, hold.start + 2).start == hold.start + 2, (
        "a hand wins over threes"
    )
