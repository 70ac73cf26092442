"""Selecting many things at once with hand and keyboard, and what is done with all of them."""

import pytest
from PyQt6.QtCore import QPoint, Qt

from buccaphon.app.galley.look import Lane
from buccaphon.demo.line import NIGHT_CALL, demo_project
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.edits.script import SetScript
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.score.edits import Boundary
from tests.helpers.hands import CTRL, SHIFT, click, drag
from tests.helpers.qtest import QTest


def middle(window, number: int) -> QPoint:
    word = window.document.score.words[number]
    return window.galley.point_at((word.start + word.end) / 2, Lane.WORDS)


def inside(session, seconds: float) -> float:
    """The middle of the exposure that is shown at a moment: away from the lines that can be dragged."""
    span = session.document.span_of(
        exposure_at(session.document.bake().exposures, session.document.state.rate.containing(seconds))
    )
    return (span.start + span.end) / 2


def settled(window, qtbot) -> None:
    session = window.session
    qtbot.waitUntil(lambda: not session.jobs.busy() and not session.document.state.needs_aligning, timeout=30_000)


def test_a_drag_over_mouths_selects_across_strips_and_a_number_paints_them_all(demo):
    session, galley = demo.session, demo.galley
    below = galley.layout_now.strip_of(1.0).end + 0.4
    start, end = (galley.point_at(inside(session, at), Lane.MOUTHS) for at in (1.0, below))
    assert end.y() > start.y(), "it goes from one strip to the next"
    drag(demo, start, end)
    rate, chosen = session.document.state.rate, session.document.selection.mouths
    assert len(chosen) > 4
    before = session.document.bake().exposures
    QTest.keyClick(demo, "7")
    frames = range(rate.nearest(chosen[0].start), rate.nearest(chosen[-1].end))
    assert {exposure_at(session.document.bake().exposures, frame).mouth for frame in frames} == {
        session.document.chart.names[6]
    }
    QTest.keyClick(demo, Qt.Key.Key_Delete)
    assert session.document.bake().exposures == before
    assert session.document.project.undo_name == "Reset the mouth to automatic"
    for _ in range(2):
        session.document.undo()
    assert not session.document.state.painted, "each was one step"


def test_mouths_are_added_with_ctrl_and_reached_with_shift(demo):
    session, galley = demo.session, demo.galley
    moments = [session.document.span_of(session.document.bake().exposures[n]) for n in (2, 6, 4)]
    points = [galley.point_at((span.start + span.end) / 2, Lane.MOUTHS) for span in moments]
    click(demo, points[0])
    click(demo, points[1], CTRL)
    assert session.document.selection.mouths == (moments[0], moments[1])
    click(demo, points[1], CTRL)
    assert session.document.selection.mouths == (moments[0],)
    click(demo, points[2], SHIFT)
    assert len(session.document.selection.mouths) == 3
    QTest.keyClick(demo, Qt.Key.Key_Escape)
    assert not session.document.selection


def test_a_click_between_two_mouths_selects_the_one_it_falls_on(demo):
    session = demo.session
    after = session.document.bake().exposures[4]
    click(demo, demo.galley.point_at(session.document.state.rate.seconds(after.start) + 0.004, Lane.MOUTHS))
    assert session.document.selection.mouths == (session.document.span_of(after),)
    assert not session.document.state.painted


def test_when_every_word_is_cut_their_times_go_and_the_mouths_follow_the_loudness(demo, qtbot):
    session = demo.session
    click(demo, middle(demo, 2))
    session.document.apply(MoveBoundary(Boundary(2, 0), session.document.score.words[2].start - 0.02))
    before = session.document.state
    session.rewording.take_out(range(len(session.document.score.words)))
    assert session.document.score is None
    assert [lost.word for lost in session.document.state.take.without_word] == [before.score.words[2].text]
    assert {exposure.mouth for exposure in session.document.bake().exposures} > {"Rest"}, "by loudness"
    session.document.undo()
    session.document.undo()
    assert session.document.state == before
    demo.script.text.setPlainText("")
    qtbot.waitUntil(lambda: session.document.score is None, timeout=10_000)


def test_a_group_of_words_moves_as_one_and_its_inside_keeps_its_shape(demo):
    session = demo.session
    before = session.document.score
    click(demo, middle(demo, 2), CTRL)
    click(demo, middle(demo, 3), SHIFT)
    assert session.document.selection.words == (2, 3)
    at = middle(demo, 3)
    drag(demo, at, at - QPoint(14, 0))
    after = session.document.score
    by = after.words[2].start - before.words[2].start
    assert by < -0.02
    for number in (2, 3):
        for old, new in zip(before.words[number].phones, after.words[number].phones, strict=True):
            assert new.start - old.start == pytest.approx(by)
    assert after.words[5] == before.words[5]
    assert session.document.state.pins[0].boundary.word == 2
    assert len(session.document.state.pins) == 2, "where the group begins and where it ends"
    QTest.keyClick(demo, Qt.Key.Key_Period, CTRL)
    assert session.document.score.words[3].start - after.words[3].start == pytest.approx(0.010)
    session.document.undo()
    session.document.undo()
    assert session.document.score == before


def test_a_drag_over_the_sounds_selects_their_words(demo):
    words = demo.document.score.words
    ends = [(words[n].phones[-1].start + words[n].end) / 2 for n in (0, 2)]
    drag(demo, *(demo.galley.point_at(at, Lane.PHONES) for at in ends))
    assert demo.document.selection.words == (0, 1, 2)


def test_the_line_between_two_mouths_is_dragged(demo):
    session = demo.session
    left = next(e for e in session.document.bake().exposures if e.length >= 3 and e.start > 20)
    at = demo.galley.point_at(session.document.state.rate.seconds(left.end), Lane.MOUTHS)
    frame = demo.galley.layout_now.scale / float(session.document.state.rate.value)
    drag(demo, at, at + QPoint(round(frame), 0))
    assert exposure_at(session.document.bake().exposures, left.end).mouth == left.mouth
    assert len(session.document.state.painted) == 2
    assert session.document.project.undo_name == "Move where a mouth changes"
    session.document.undo()
    assert not session.document.state.painted


def test_the_keyboard_selects_words_speakers_doubts_and_all_of_a_mouth(demo):
    session = demo.session
    session.document.player.seek(session.document.score.words[5].start + 0.02)
    for _ in range(2):
        QTest.keyClick(demo, Qt.Key.Key_G)
    assert session.document.selection.words == (5, 6)
    assert "2 words selected, from 0:02." in demo.mirror.place_label.accessibleName()
    QTest.keyClick(demo, Qt.Key.Key_G, SHIFT)
    assert len(session.document.selection.words) == len(session.document.score.words), "Marigold says all of it"
    QTest.keyClick(demo, Qt.Key.Key_G, CTRL | SHIFT)
    assert list(session.document.selection.words) == session.comparing.doubts()
    QTest.keyClick(demo, Qt.Key.Key_J, SHIFT)
    here = session.document.exposure().mouth
    assert len(session.document.selection.mouths) == sum(e.mouth == here for e in session.document.bake().exposures)
    QTest.keyClick(demo, Qt.Key.Key_Escape)
    QTest.keyClick(demo, Qt.Key.Key_J)
    QTest.keyClick(demo, Qt.Key.Key_J)
    assert len(session.document.selection.mouths) == 2
    QTest.keyClick(demo, Qt.Key.Key_A, CTRL)
    assert len(session.document.selection.mouths) == len(session.document.bake().exposures)


def test_words_are_cut_and_pasted_and_only_they_are_aligned(demo, qtbot):
    session = demo.session
    before = session.document.score
    click(demo, middle(demo, 5), CTRL)
    QTest.keyClick(demo, Qt.Key.Key_X, CTRL)
    settled(demo, qtbot)
    assert [word.text for word in session.document.score.words[4:6]] == ["pears!", "for"]
    assert session.document.score.words[20] == before.words[21]
    session.document.player.seek(session.document.score.words[5].start - 0.01)
    QTest.keyClick(demo, Qt.Key.Key_V, CTRL)
    settled(demo, qtbot)
    assert [word.text for word in session.document.score.words] == [word.text for word in before.words]
    assert session.document.score.words[5].start == pytest.approx(before.words[5].start, abs=0.03)


def test_what_is_selected_is_marked_on_the_ruler_by_a_key(demo):
    session = demo.session
    words = session.document.score.words
    session.document.player.seek(words[5].start + 0.02)
    QTest.keyClick(demo, Qt.Key.Key_K)
    assert session.document.player.loop == words[5].span
    QTest.keyClick(demo, Qt.Key.Key_G)
    QTest.keyClick(demo, Qt.Key.Key_G)
    QTest.keyClick(demo, Qt.Key.Key_K)
    assert (session.document.player.loop.start, session.document.player.loop.end) == (words[5].start, words[6].end)
    QTest.keyClick(demo, Qt.Key.Key_K)
    assert session.document.player.loop is None


def test_words_are_not_cut_while_the_script_says_others(demo):
    session = demo.session
    click(demo, middle(demo, 5), CTRL)
    chosen = session.document.selection
    session.document.apply(SetScript("MARIGOLD: Other words. " + session.document.state.script))
    session.document.select(chosen)
    script = session.document.state.script
    QTest.keyClick(demo, Qt.Key.Key_X, CTRL)
    assert session.document.state.script == script
    assert "Align it first" in demo.notice.text.text()


def test_mouths_are_pasted_into_another_project(demo, qtbot):
    session = demo.session
    drag(demo, *(demo.galley.point_at(inside(session, at), Lane.MOUTHS) for at in (0.6, 1.1)))
    rate, chosen = session.document.state.rate, session.document.selection.mouths
    first, end = rate.nearest(chosen[0].start), rate.nearest(chosen[-1].end)
    pattern = [exposure_at(session.document.bake().exposures, frame).mouth for frame in range(first, end)]
    QTest.keyClick(demo, Qt.Key.Key_C, CTRL)
    session.document.project.settle()
    session.opening.open_prepared(demo_project(NIGHT_CALL))
    qtbot.waitUntil(lambda: session.document.score is not None and not session.jobs.busy(), timeout=60_000)
    session.document.player.seek(session.document.state.rate.seconds(10))
    QTest.keyClick(demo, Qt.Key.Key_V, CTRL)
    pasted = [exposure_at(session.document.bake().exposures, 10 + n).mouth for n in range(end - first)]
    assert pasted == pattern


def test_what_was_found_is_gone_through(demo):
    session = demo.session
    QTest.keyClick(demo, Qt.Key.Key_F, CTRL)
    QTest.keyClicks(demo.chooser.search, "/p/")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    wanted = [phone.start for phone in session.document.score.phones() if phone.symbol == "p"]
    seen = [session.document.player.position]
    for _ in range(len(wanted)):
        QTest.keyClick(demo, Qt.Key.Key_B)
        seen.append(session.document.player.position)
    assert sorted(set(seen)) == pytest.approx(wanted)
    QTest.keyClick(demo, Qt.Key.Key_B, SHIFT)
    assert session.document.player.position == pytest.approx(seen[-2])


def test_selected_words_are_retyped_as_one(demo, qtbot):
    session = demo.session
    before = session.document.score
    click(demo, middle(demo, 2), CTRL)
    click(demo, middle(demo, 3), SHIFT)
    QTest.keyClick(demo, Qt.Key.Key_R)
    assert demo.inline.text() == "and ripe"
    QTest.keyClicks(demo.inline, "unripe")
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    settled(demo, qtbot)
    assert [word.text for word in session.document.score.words[1:4]] == ["plums,", "unripe", "pears!"]
    assert session.document.score.words[20] == before.words[21]
    session.document.undo()
    session.document.undo()
    assert session.document.score == before
