"""Motion: a cut-out brought to life by loudness alone, cleaned, drawn over; followers; and a take swapped for another."""

import shutil

import numpy as np
import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt
from PyQt6.QtGui import QDropEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication

from buccaphon.app.commands.desk import Step
from buccaphon.app.galley.look import Lane
from buccaphon.audio.loudness_settings import LoudnessSettings
from buccaphon.demo.line import demo_project, recording_path
from buccaphon.kits.kit import CutOut
from buccaphon.motion.followers import Follower, Unit
from buccaphon.motion.hand import CurvePoint, HandCurve, Interpolation
from buccaphon.motion.steps import CloseSilences, FewerKeys, Smooth
from buccaphon.painting.artwork.pixels import as_array
from buccaphon.project.edits.channels import PutFollower
from buccaphon.project.edits.kits import UseKit
from buccaphon.project.edits.motion import ChangeLoudness, SetCurve
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.edits.script import SetScript
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.file.store import open_project
from buccaphon.score.edits import Boundary
from buccaphon.timing import Span
from tests.helpers.hands import ALT, CTRL, LEFT, NONE, SHIFT
from tests.helpers.qtest import QTest
from tests.helpers.waiting import aligned, idle, save


@pytest.fixture
def moving(demo):
    """The demo, aligned, at the step Motion."""
    demo.show_step(Step.MOTION)
    return demo


def place(window, seconds, share, lane=Lane.MOTION):
    """Where a moment and a share of the range lie in a lane of motion."""
    at = window.galley.point_at(seconds, lane)
    height = window.galley.layout_now.look.height(lane)
    top = at.y() - height // 2
    return QPoint(at.x(), round(top + height - 1 - share * (height - 6)))


def drag_holding(window, held, *ways):
    """In the galley, from place to place with a key held."""
    view = window.galley.viewport()
    QTest.mousePress(view, LEFT, held, ways[0])
    for way in ways[1:]:
        at = QPointF(way)
        event = QMouseEvent(
            QMouseEvent.Type.MouseMove, at, QPointF(view.mapToGlobal(way)), Qt.MouseButton.NoButton, LEFT, held
        )
        QApplication.sendEvent(view, event)
    QTest.mouseRelease(view, LEFT, held, ways[-1])


def at(window, seconds, channel="jaw"):
    bake = window.document.bake()
    return float(bake.channels.curve(channel)[bake.rate.containing(seconds)])


# --- loudness ---------------------------------------------------------------------------------------------------------


def test_a_cut_out_comes_to_life_from_loudness_alone_in_six_gestures_is_cleaned_and_compared(window, qtbot, tmp_path):
    # 1 and 2: the recording, and the cut-out
    shutil.copy(recording_path(), tmp_path / "call.flac")
    window.open(tmp_path / "call.flac")
    idle(window, qtbot)
    project = demo_project()
    for kit in project.state.kits:
        if isinstance(kit.look, CutOut):
            window.session.characters.open_kit(kit)
    idle(window, qtbot)
    document, panel = window.document, window.motion
    assert document.score is None
    # 3: the step
    QTest.mouseClick(window.rail.steps[Step.MOTION], LEFT)
    # 4: the floor is dragged on the histogram
    histogram = panel.loudness_settings.histogram
    before = document.bake().jaw.copy()
    x = round(histogram._x(histogram._edges[0][0]))
    QTest.mousePress(histogram, LEFT, NONE, QPoint(x, 20))
    QTest.mouseMove(histogram, QPoint(x + 30, 20))
    QTest.mouseMove(histogram, QPoint(x + 45, 20))
    QTest.mouseRelease(histogram, LEFT, NONE, QPoint(x + 45, 20))
    assert document.state.take.loudness_settings.floor is not None
    assert document.project.steps()[0][-1] == "Change the loudness settings"
    after = document.bake().jaw
    assert after.mean() < before.mean()
    # 5: a set of followers; 6: the clean-up
    panel.followers.begin_from("Puppet jaw, two axes")
    panel.clean_up.add(CloseSilences)
    assert {"jaw turn", "jaw drop"} <= set(document.bake().channels.ids)
    loudest = document.state.rate.seconds(float(after.argmax()) + 0.5)
    faces = []
    for seconds in (loudest, 0.0):
        document.player.seek(seconds)
        faces.append(as_array(window.mirror.face.grab().toImage()))
    assert (faces[0] != faces[1]).any(), "it opens its mouth where it is loud"
    panel.clean_up.add(FewerKeys)
    window.do("motion-clean-up")
    assert "keys before" in panel.clean_up.result.text()
    counts = [int(word) for word in panel.clean_up.result.text().split() if word.isdigit()]
    assert counts[1] < counts[0]
    while document.project.undo_name:
        document.undo()
    idle(window, qtbot)
    assert np.array_equal(document.bake().jaw, before), "all of it is undone"


def test_floor_and_ceiling_can_be_moved_by_keys_and_given_back(moving):
    histogram, document = moving.motion.loudness_settings.histogram, moving.document
    assert document.state.take.loudness_settings == LoudnessSettings()
    QTest.keyClick(histogram, Qt.Key.Key_Right)
    floor = document.state.take.loudness_settings.floor
    QTest.keyClick(histogram, Qt.Key.Key_Right)
    assert document.state.take.loudness_settings.floor == pytest.approx(floor + 1)
    QTest.keyClick(histogram, Qt.Key.Key_Down)
    QTest.keyClick(histogram, Qt.Key.Key_Left)
    assert document.state.take.loudness_settings.ceiling is not None
    QTest.keyClick(histogram, Qt.Key.Key_Delete)
    assert document.state.take.loudness_settings.ceiling is None
    QTest.mouseClick(moving.motion.loudness_settings.usual, LEFT)
    assert document.state.take.loudness_settings == LoudnessSettings()


def test_loudness_drives_alone_where_it_is_asked_to_also_where_there_are_words(moving, qtbot):
    document, panel = moving.document, moving.motion.loudness_settings
    for entry, value in (
        ("attack", 40), ("release", 120), ("smoothing", 20), ("threshold", 30), ("closes_below", 10), ("response", 2),
        ("peak", 80), ("syllables", 50), ("lowest", 400), ("highest", 2000),
    ):  # fmt: skip
        count = document.project.steps()[1]
        widget = panel.form.inputs[entry]
        for part in (0.5, 1.0):
            widget.setValue(value * part)
        assert document.project.steps()[1] == count + 1, entry
        assert getattr(document.state.take.loudness_settings, entry) != getattr(LoudnessSettings(), entry)


# --- followers --------------------------------------------------------------------------------------------------------


def test_a_follower_is_added_named_written_and_turned(moving):
    document, section = moving.document, moving.motion.followers
    moving.do("motion-followers")
    QTest.mouseClick(section.add_button, LEFT)
    section.named.inputs["name"].lineEdit().selectAll()
    QTest.keyClicks(section.named.inputs["name"], "chin")
    QTest.keyClick(section.named.inputs["name"], Qt.Key.Key_Return)
    section.range.selectAll()
    QTest.keyClicks(section.range, "0.1 to 0.7 becomes 0 to 12 px")
    QTest.keyClick(section.range, Qt.Key.Key_Return)
    (chin,) = document.state.followers
    assert (chin.name, chin.takes, chin.gives, chin.unit) == ("chin", (0.1, 0.7), (0.0, 12.0), Unit.PIXELS)
    assert document.bake().channels.curve("chin").max() == pytest.approx(12.0, abs=0.5)
    section.form.inputs["gain"].setValue(40.0)
    assert document.state.followers[0].gain == pytest.approx(40.0)
    section.range.selectAll()
    QTest.keyClicks(section.range, "rubbish")
    QTest.keyClick(section.range, Qt.Key.Key_Return)
    assert "not understood" in section.told.text()
    assert document.state.followers[0].gain == pytest.approx(40.0)


def test_a_circle_is_refused_with_its_way_and_nothing_is_lost(moving):
    document, section = moving.document, moving.motion.followers
    for name, follows in (("a", "jaw"), ("b", "a"), ("c", "b")):
        document.apply(PutFollower(Follower(name, follows)))
    moving.do("motion-followers")
    section.choose("a")
    section.named.inputs["follows"].setCurrentIndex(section.named.inputs["follows"].findData("c"))
    section.named.inputs["follows"].activated.emit(section.named.inputs["follows"].currentIndex())
    assert "follows" in section.told.text()
    assert [f.follows for f in document.state.followers] == ["jaw", "a", "b"]
    assert section.named.inputs["follows"].currentData() == "jaw"
    QTest.mousePress(section.driving, LEFT, NONE, section.driving._box("c").center().toPoint())
    assert section.follower.name == "c"


def test_what_follows_something_that_is_gone_rests_and_says_so(moving):
    document, section = moving.document, moving.motion.followers
    for name, follows in (("a", "jaw"), ("b", "a")):
        document.apply(PutFollower(Follower(name, follows, gives=(0.25, 1.0))))
    section.choose("a")
    QTest.mouseClick(section.drop_button, LEFT)
    assert np.allclose(document.bake().channels.curve("b"), 0.25)
    section.choose("b")
    assert "(missing)" in section.named.inputs["follows"].currentText()


def test_a_piece_of_the_cut_out_follows_the_channel_of_its_name(moving, qtbot):
    document, characters = moving.document, moving.session.characters
    kit = next(kit for kit in document.state.kits if isinstance(kit.look, CutOut))
    document.apply(UseKit(kit.name))
    idle(moving, qtbot)
    section = moving.motion.followers
    name = f"The pieces of {kit.name}"
    assert name in section.sets()
    section.begin_from(name)
    part = kit.look.parts[0]
    assert part.name in [follower.name for follower in document.state.followers]
    loudest = document.state.rate.seconds(float(document.bake().jaw.argmax()) + 0.5)
    document.player.seek(loudest)
    with_it = as_array(moving.mirror.face.grab().toImage())
    assert characters.moment().own[part.name][0] != 0
    document.apply(PutFollower(Follower(part.name, "gone"), part.name))
    qtbot.wait(1)
    assert (as_array(moving.mirror.face.grab().toImage()) != with_it).any()


# --- clean-up ---------------------------------------------------------------------------------------------------------


def test_steps_are_added_switched_off_moved_and_taken_out_each_undone(moving):
    document, section = moving.document, moving.motion.clean_up
    moving.do("motion-clean-up")
    plain = document.bake().jaw.copy()
    for kind in (CloseSilences, Smooth, FewerKeys):
        section.add(kind)
    cleaned = document.bake().jaw.copy()
    assert (cleaned != plain).any()
    assert np.array_equal(document.derived.before_clean_up("jaw"), plain)
    steps = document.project.steps()
    document.undo()
    document.redo()
    assert document.project.steps() == steps, "listing them is no edit"
    section.rows.item(1).setCheckState(Qt.CheckState.Unchecked)
    assert not document.state.steps[1].on
    section.rows.setCurrentRow(2)
    QTest.keyClick(section.rows, Qt.Key.Key_Up, ALT)
    assert [type(step) for step in document.state.steps] == [CloseSilences, FewerKeys, Smooth]
    section.rows.setCurrentRow(1)
    section.form.inputs["error"].setValue(8.0)
    assert document.state.steps[1].error == 8.0
    section.channel.setCurrentIndex(section.channel.findData("round"))
    section.channel.activated.emit(section.channel.currentIndex())
    assert document.state.steps[1].channels == ("round",)
    QTest.mouseClick(section.drop_button, LEFT)
    assert len(document.state.steps) == 2
    while document.state.steps:
        document.undo()
    assert np.array_equal(document.bake().jaw, plain)


def test_a_step_is_dragged_to_another_place_and_stays_chosen(moving):
    document, section = moving.document, moving.motion.clean_up
    moving.do("motion-clean-up")
    for kind in (CloseSilences, Smooth, FewerKeys):
        section.add(kind)
    rows = section.rows

    def drop(row, at):
        rows.setCurrentRow(row)
        copy, none = Qt.DropAction.MoveAction, Qt.KeyboardModifier.NoModifier
        rows.dropEvent(QDropEvent(QPointF(at), copy, QMimeData(), LEFT, none))
        return [type(step) for step in document.state.steps]

    first, last = (rows.visualItemRect(rows.item(row)) for row in (0, 2))
    assert drop(2, first.topLeft() + QPoint(9, 2)) == [FewerKeys, CloseSilences, Smooth]
    assert rows.currentRow() == 0
    assert drop(0, last.bottomLeft() + QPoint(9, -2)) == [CloseSilences, Smooth, FewerKeys]
    assert drop(1, last.bottomLeft() + QPoint(9, 40)) == [CloseSilences, FewerKeys, Smooth]
    assert [rows.item(row).text() for row in range(3)] == [step.TITLE for step in document.state.steps]
    before = document.project.steps()
    drop(1, rows.visualItemRect(rows.item(1)).topLeft() + QPoint(9, 2))
    assert document.project.steps() == before, "put down where it was"


# --- by hand ----------------------------------------------------------------------------------------------------------


def test_a_curve_is_drawn_with_the_pencil_and_goes_where_the_hand_went(moving):
    document = moving.document
    ways = [place(moving, 0.6 + 0.03 * n, 0.5 + 0.4 * np.sin(n / 4)) for n in range(30)]
    drag_holding(moving, SHIFT, *ways)
    (curve,) = document.state.take.curves
    assert 5 < len(curve.points) < 31
    assert document.project.steps()[0][-1] == "Draw over jaw"
    for n in (5, 15, 25):
        assert at(moving, 0.6 + 0.03 * n) == pytest.approx(0.5 + 0.4 * np.sin(n / 4), abs=0.12)
    document.undo()
    assert document.state.take.curves == ()


def test_points_are_put_dragged_leant_led_on_typed_and_taken_out(moving):
    document, view = moving.document, moving.galley.viewport()
    for seconds, value in ((1.0, 0.3), (1.5, 0.8), (2.0, 0.2)):
        QTest.mouseClick(view, LEFT, CTRL, place(moving, seconds, value))
    assert at(moving, 1.5) == pytest.approx(0.8, abs=0.03)
    drag_holding(moving, NONE, place(moving, 1.5, 0.8), place(moving, 1.52, 0.6), place(moving, 1.6, 0.5))
    assert at(moving, 1.6) == pytest.approx(0.5, abs=0.03)
    assert len(document.state.take.curves[0].points) == 3
    chosen = document.chosen_point
    assert chosen[1] == pytest.approx(1.6, abs=0.03)
    moving.do("lead-on")
    assert document.state.take.curves[0].points[1].interpolation is Interpolation.LINEAR
    moving.do("curve-value")
    QTest.keyClicks(moving.inline, "0.9")
    QTest.keyClick(moving.inline, Qt.Key.Key_Return)
    assert at(moving, chosen[1]) == pytest.approx(0.9, abs=0.01)
    moving.do("give-back")
    assert len(document.state.take.curves[0].points) == 2
    assert document.chosen_point is None


def test_tangents_follow_the_hand(moving):
    document, view = moving.document, moving.galley.viewport()
    for seconds, value in ((1.0, 0.5), (1.5, 0.5), (2.0, 0.5)):
        QTest.mouseClick(view, LEFT, CTRL, place(moving, seconds, value))
    QTest.mouseClick(view, LEFT, NONE, place(moving, 1.5, 0.5))
    middle = place(moving, document.chosen_point[1], 0.5)
    right = middle + QPoint(26, 0)
    drag_holding(moving, NONE, right, right + QPoint(0, -10), right + QPoint(0, -20))
    point = document.state.take.curves[0].points[1]
    assert point.out > 0.5
    assert point.into == point.out
    assert at(moving, 1.65) > 0.55
    moving.drawing.plain.click()
    assert document.state.take.curves[0].points[1].out is None


def test_a_stretch_of_the_machines_own_curve_is_raised_and_scaled(moving):
    document = moving.document
    document.player.loop = Span(1.0, 1.8)
    inside, outside = document.bake().jaw[26:42].copy(), document.bake().jaw[60:].copy()
    drag_holding(moving, ALT, place(moving, 1.4, 0.3), place(moving, 1.4, 0.35), place(moving, 1.4, 0.5))
    assert np.allclose(document.bake().jaw[26:42], np.clip(inside + 0.2, 0, 1), atol=0.04)
    assert np.array_equal(document.bake().jaw[60:], outside)
    document.undo()
    drag_holding(moving, ALT | SHIFT, place(moving, 1.4, 0.4), place(moving, 1.4, 0.3), place(moving, 1.4, 0.2))
    assert np.allclose(document.bake().jaw[26:42], inside / 2, atol=0.05)
    moving.do("give-curve-back")
    assert np.allclose(document.bake().jaw[26:42], inside)


def test_any_channel_is_shown_in_a_lane_and_up_to_three_at_once(moving):
    document = moving.document
    document.apply(PutFollower(Follower("cheek", "jaw", gives=(0.0, -5.0), unit=Unit.PIXELS)))
    moving.do("motion-drawing")
    combo = moving.drawing.lanes[Lane.MOTION]
    combo.setCurrentIndex(combo.findData("cheek"))
    combo.activated.emit(combo.currentIndex())
    assert moving.galley.look.curve(Lane.MOTION) == "cheek"
    for count in (2, 3, 1):
        moving.do("more-lanes")
        assert sum(lane in moving.galley.look.lanes for lane in (Lane.MOTION, Lane.MOTION_2, Lane.MOTION_3)) == count
    for _ in range(4):  # past the three of loudness
        moving.do("next-curve")
    assert moving.galley.look.curve(Lane.MOTION) == "jaw"
    document.undo()
    moving.galley.set_look(moving.galley.look.showing(Lane.MOTION, "cheek"))
    moving.galley.grab()
    moving.do("next-curve")
    assert moving.galley.look.curve(Lane.MOTION) == "jaw"


def test_what_is_drawn_wins_over_every_step_and_is_kept_in_the_project(moving, qtbot, tmp_path):
    document = moving.document
    drawn = HandCurve("jaw", (CurvePoint(1.0, 0.7, Interpolation.LINEAR), CurvePoint(2.0, 0.7, Interpolation.LINEAR)))
    document.apply(SetCurve(drawn))
    for kind in (CloseSilences, Smooth, FewerKeys):
        moving.motion.clean_up.add(kind)
    assert np.allclose(document.bake().jaw[26:46], 0.7, atol=1e-5)
    assert save(moving, qtbot, tmp_path / "m.buccaphon")
    again = open_project(tmp_path / "m.buccaphon")
    assert again.take.curves == (drawn,)
    assert again.steps == document.state.steps
    assert len(again.steps) == 3


# --- another take -----------------------------------------------------------------------------------------------------


def test_a_take_is_swapped_and_what_was_made_by_hand_comes_along_by_meaning(moving, qtbot):
    document = moving.document
    five, farthing = document.score.words[5], document.score.words[8]
    document.apply(MoveBoundary(Boundary(5, 0), five.start + 0.03))
    document.select_mouths(Span(farthing.start + 0.05, farthing.start + 0.05))
    document.paint("Pucker")
    document.select_nothing()
    document.apply(PutNote(Span(five.start, five.end), "sing it"))
    document.apply(SetCurve(HandCurve("jaw", (CurvePoint(farthing.start, 0.3), CurvePoint(farthing.end, 0.9)))))
    document.apply(ChangeLoudness(LoudnessSettings(response=1.5, floor=-40.0)))
    moving.do("demo-take")
    aligned(moving, qtbot)
    idle(moving, qtbot)
    take, words = document.state.take, document.score.words
    assert take.title == "stall call again"
    assert take.pins[0].boundary == Boundary(5, 0)
    assert words[8].start - 0.1 < take.painted[0].span.start < words[8].end
    assert take.notes[0].span.start == pytest.approx(words[5].start, abs=0.06)
    assert [p.seconds for p in take.curves[0].points] == pytest.approx([words[8].start, words[8].end], abs=0.02)
    assert (take.loudness_settings.response, take.loudness_settings.floor) == (1.5, None), (
        "a floor is that of the other recording"
    )
    assert take.unplaced == ()
    document.player.seek(words[8].start + 0.02)
    moving.do("go-between")
    idle(moving, qtbot)
    assert document.state.take.title == "stall call"
    assert farthing.start <= document.player.position < farthing.start + 0.1
    moving.do("go-between")
    idle(moving, qtbot)
    assert document.player.position == pytest.approx(words[8].start + 0.02, abs=0.01)


def test_what_has_no_place_in_the_new_take_is_listed_played_and_put_where_it_belongs(moving, qtbot):
    document = moving.document
    five, last = document.score.words[5], document.score.words[-1]
    document.apply(PutNote(Span(five.start, five.end), "sing it"))
    document.apply(SetCurve(HandCurve("jaw", (CurvePoint(five.start + 0.02, 0.3), CurvePoint(five.end - 0.02, 0.9)))))
    document.select_mouths(Span(last.start + 0.05, last.start + 0.05))
    document.paint("Pucker")
    document.select_nothing()
    document.apply(SetScript(document.state.script.replace("Five for a farthing", "Two for a farthing")))
    before = document.state
    moving.do("demo-take")
    aligned(moving, qtbot)
    idle(moving, qtbot)
    left = document.state.take.unplaced
    assert sorted(piece.kind for piece in left) == ["curve", "note"]
    assert {piece.word for piece in left} == {five.text}
    assert document.state.take.painted, "what has a place has come along"
    moving.show_step(Step.TAKE)
    section = moving.take.unplaced
    assert section.isVisible()
    section.hear(left[0])
    document.player.seek(5.0)
    moving.do("place-unplaced")
    QTest.keyClick(moving.chooser.search, Qt.Key.Key_Return)
    assert len(document.state.take.unplaced) == 1
    note = next((n for n in document.state.take.notes if n.span.start == pytest.approx(5.0)), None)
    curve = next((c for c in document.state.take.curves if c.points[0].seconds == pytest.approx(5.0)), None)
    assert note is not None or curve is not None
    document.undo()
    assert len(document.state.take.unplaced) == 2
    while document.project.undo_name and document.state != before:
        document.undo()
    assert document.state == before
