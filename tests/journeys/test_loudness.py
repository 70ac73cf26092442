"""Loudness by hand: thresholds and frequencies dragged over the sound, values read off the curves, and two whole jobs: a
still picture that talks by one number, and a peak that is read, rescaled and put on another character."""

import csv
import io
import shutil

import numpy as np
import pytest
import soundfile
from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QGuiApplication

from buccaphon.app.galley.gestures.sound import level_to_y
from buccaphon.app.galley.look import Lane
from buccaphon.app.session.jobs import Slot
from buccaphon.app.settings import MOTION
from buccaphon.audio.loudness_settings import Band, LoudnessSettings, Scale
from buccaphon.demo.line import recording_path
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.motion.followers import LOUDNESS, Follower, Unit
from buccaphon.motion.hand import CurvePoint, HandCurve
from buccaphon.motion.steps import Smooth
from buccaphon.project.edits.channels import PutFollower
from buccaphon.project.edits.kits import UseKit
from buccaphon.project.edits.motion import ChangeLoudness, SetCurve, SetSteps
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.edits.takes import ChangeTake
from buccaphon.project.edits.timing import MarkNotSpeech
from buccaphon.project.project import Project
from buccaphon.project.take import Take
from buccaphon.timing import Span
from tests.helpers.artwork import drawings
from tests.helpers.hands import LEFT, NONE
from tests.helpers.qtest import QTest
from tests.helpers.waiting import heard, idle


@pytest.fixture
def listened(window, qtbot, tmp_path):
    """The window with the demo's recording alone, and its loudness over the wave."""
    window.open(shutil.copy(recording_path(), tmp_path / "call.flac"))
    heard(window, qtbot)
    idle(window, qtbot)
    window.resize(1280, 800)
    window.galley.look = window.galley.look.taller(Lane.SOUND, 40)
    window.do("loudness")
    window.galley.setFocus()
    return window


def drag_in_lane(window, lane, seconds, down, by):
    """From so many pixels below a lane's upper edge, so many down."""
    galley = window.galley
    top = galley.point_at(seconds, lane).y() - galley.look.height(lane) // 2
    at = QPoint(galley.point_at(seconds, lane).x(), top + round(down))
    QTest.mousePress(galley.viewport(), LEFT, NONE, at)
    for part in (0.5, 1.0):
        QTest.mouseMove(galley.viewport(), at + QPoint(3, round(by * part)))
    QTest.mouseRelease(galley.viewport(), LEFT, NONE, at + QPoint(3, round(by)))


def opened(window) -> int:
    """Frames on which the mouth shown is not the resting one."""
    bake = window.document.bake()
    return sum(each.end - each.start for each in bake.exposures if each.mouth != bake.chart.rest.name)


def settings(window) -> LoudnessSettings:
    return window.document.state.take.loudness_settings


def test_the_threshold_is_dragged_over_the_wave_and_mouths_follow(listened):
    height = listened.galley.look.height(Lane.SOUND)
    found = [opened(listened)]
    for share in (0.3, 0.6, 0.9):
        start = level_to_y(settings(listened).opens, height)
        drag_in_lane(listened, Lane.SOUND, 1.0, start, level_to_y(share, height) - start)
        assert settings(listened).threshold == pytest.approx(share, abs=0.02)
        assert settings(listened).closes == settings(listened).opens, "one line opens and closes"
        found.append(opened(listened))
    assert found == sorted(found, reverse=True)
    assert len(set(found)) == 4, "each height shows other mouths"
    bake = listened.document.bake()
    shut = np.ones(bake.frames, np.bool_)
    for each in bake.exposures:
        shut[each.start : each.end] = each.mouth == bake.chart.rest.name
    assert not (bake.driven.gated[: bake.frames][shut] > 0).any(), "what is above the line is open"
    steps = listened.document.project.steps()[0]
    assert len(steps) == 3, "each drag is one step"
    listened.document.undo()
    assert settings(listened).threshold == pytest.approx(0.6, abs=0.02)


def test_a_second_level_is_one_field_away_and_dragged_too(listened):
    form, height = listened.motion.loudness_settings.form, listened.galley.look.height(Lane.SOUND)
    listened.do("motion-loudness")
    form.inputs["threshold"].setValue(60)
    form.inputs["closes_below"].setValue(30)
    assert (settings(listened).opens, settings(listened).closes) == (0.6, 0.3)
    start = level_to_y(0.3, height)
    drag_in_lane(listened, Lane.SOUND, 1.0, start, level_to_y(0.2, height) - start)
    assert settings(listened).closes == pytest.approx(0.2, abs=0.02)
    start = level_to_y(0.6, height)
    drag_in_lane(listened, Lane.SOUND, 1.0, start, level_to_y(0.1, height) - start)
    assert settings(listened).closes <= settings(listened).opens == pytest.approx(0.1, abs=0.02)


def test_frequencies_are_dragged_on_the_spectrum_and_heard_when_the_hand_rests(listened, qtbot):
    listened.galley.set_look(listened.galley.look.toggled(Lane.SPECTRUM))
    height = listened.galley.look.height(Lane.SPECTRUM)
    before = listened.document.bake().driven.raw.values
    drag_in_lane(listened, Lane.SPECTRUM, 1.0, height - 3, -20)
    assert settings(listened).band is Band.TYPED
    assert settings(listened).lowest == pytest.approx(20 / (height - 4) * 8000, abs=300)
    qtbot.waitUntil(lambda: len(listened.document.derived.parts) == 1, timeout=10_000)
    idle(listened, qtbot)
    assert not np.array_equal(listened.document.bake().driven.raw.values, before)
    drag_in_lane(listened, Lane.SPECTRUM, 1.0, 3, 15)
    assert settings(listened).highest < 7000
    assert settings(listened).lowest < settings(listened).highest


def test_the_scale_of_the_wave_and_values_are_read_off_and_copied(listened, qtbot):
    listened.do("motion-loudness")
    combo = listened.motion.loudness_settings.form.inputs["scale"]
    combo.setCurrentIndex(combo.findData(Scale.FULL))
    combo.activated.emit(combo.currentIndex())
    samples, rate = soundfile.read(recording_path())
    raw = listened.document.bake().driven.raw.values
    wanted = np.sqrt(np.mean(samples[round(0.735 * rate) : round(0.765 * rate)] ** 2))
    assert raw[74:76].mean() == pytest.approx(wanted, rel=0.1), "the level of the wave itself"
    listened.galley.set_look(listened.galley.look.showing(Lane.MOTION, "loudness:raw").taller(Lane.MOTION, 60))
    listened.document.player.seek(0.75)
    QTest.mouseMove(listened.galley.viewport(), listened.galley.point_at(1.0, Lane.MOTION))
    said = told_by_numbers(listened)
    bake = listened.document.bake()
    curve = bake.find("loudness:raw")[1].whole
    assert f"{curve[bake.rate.containing(0.75)]:.2f}" in said
    assert f"pointer {curve[bake.rate.containing(1.0)]:.2f}" in said
    assert f"max {curve.max():.2f}  mean {curve.mean():.2f}" in said
    listened.do("copy-value")
    assert QGuiApplication.clipboard().text() == f"{curve[listened.document.frame]:.4f}"
    listened.do("copy-greatest")
    assert QGuiApplication.clipboard().text() == f"{curve.max():.4f}"


def told_by_numbers(window) -> list[str]:
    """All that is written beside the curves, in the order in which it is painted."""
    said, values = [], window.galley.page.values
    plain = values._line
    values._line = lambda painter, x, top, parts: said.extend(text for text, _ink in parts)
    try:
        window.galley.grab()
    finally:
        values._line = plain
    return said


# --- whole jobs ---------------------------------------------------------------------------------------------------------


def test_a_still_picture_talks_by_one_number(window, qtbot, tmp_path):
    window.open(shutil.copy(recording_path(), tmp_path / "call.flac"))
    heard(window, qtbot)
    window.open(drawings(tmp_path / "face", ("shut", "open")))
    idle(window, qtbot)
    window.session.characters.use_own_chart()
    idle(window, qtbot)
    window.document.apply(ChangeLoudness(LoudnessSettings(threshold=0.45)))
    window.session.exporting.put(ExportList((Entry("changes-csv"), Entry("keys-csv", options=(("loudness", "in-use"),))),
                                            str(tmp_path / "out")), "x")  # fmt: skip
    window.do("export")
    idle(window, qtbot)
    changes, keys = (list(csv.DictReader(io.StringIO(each.read_text("utf-8-sig"))))
                     for each in sorted((tmp_path / "out").iterdir()))  # fmt: skip
    assert {row["shown"] for row in changes} == {"shut", "open"}
    openings = sum(row["shown"] == "open" for row in changes)
    assert openings > 10, "syllable by syllable"
    assert all((float(row["loudness"]) > 0) == (row["mouth"] == "open") for row in keys), "one number says it all"


def test_a_peak_is_read_rescaled_and_put_on_another_character(demo, qtbot, tmp_path):
    document = demo.document
    document.apply(ChangeLoudness(LoudnessSettings(scale=Scale.LOUDEST, loudness_only=True)))
    demo.galley.set_look(demo.galley.look.showing(Lane.MOTION, "loudness"))
    demo.do("copy-greatest")
    peak = float(QGuiApplication.clipboard().text())
    assert peak > 0.9
    document.apply(PutFollower(Follower("lips", LOUDNESS, (3.0, 30.0), (0.0, 24.0), Unit.PIXELS)))
    demo.do("motion-followers")
    section = demo.motion.followers
    assert not section.outside.isHidden(), "nothing of it is between 3 and 30"
    assert "0.00 to 1.00" in section.goes_in.text()
    section.range.setText(f"0 to {peak:g} becomes 0 to 24 px")
    section.range.editingFinished.emit()
    assert section.outside.isHidden()
    assert document.bake().channels.curve("lips").max() == pytest.approx(24.0, abs=0.1)
    document.apply(SetSteps((Smooth(),)))
    file = tmp_path / "swell.buccamotion"
    demo.desk.ask.file_to_write = lambda *_: file
    demo.do("save-motion")
    idle(demo, qtbot)
    curve = document.bake().channels.curve("lips").copy()
    other = document.state.with_role(followers=(), steps=()).with_take(Take(document.state.take.path))
    demo.session.opening.open_prepared(Project(other.with_line(script="")))
    idle(demo, qtbot)
    document.apply(UseKit(document.state.kits[1].name))
    demo.open(file)
    assert (settings(demo).scale, settings(demo).loudness_only) == (Scale.LOUDEST, True)
    assert [follower.name for follower in document.state.followers] == ["lips"]
    idle(demo, qtbot)
    assert np.array_equal(document.bake().channels.curve("lips"), curve)
    document.undo()
    assert document.state.followers == ()


def test_new_projects_begin_with_the_settings_that_were_chosen(demo, qtbot, tmp_path):
    demo.document.apply(ChangeLoudness(LoudnessSettings(response=2.0)))
    demo.document.apply(PutFollower(Follower("chin", "jaw")))
    try:
        demo.do("motion-default")
        demo.document.project.settle()
        demo.do("new-scene")
        demo.open(shutil.copy(recording_path(), tmp_path / "next.flac"))
        heard(demo, qtbot)
        assert settings(demo).response == 2.0
        assert [follower.name for follower in demo.document.state.followers] == ["chin"]
    finally:
        MOTION.write("")


def test_another_sound_without_words_takes_over_all_that_was_set(listened, qtbot, tmp_path):
    document = listened.document
    document.apply(ChangeTake(offset=4.0))
    document.apply(ChangeLoudness(LoudnessSettings(smoothing=0.06, threshold=0.4, peak=0.9, floor=-40.0)))
    document.apply(MarkNotSpeech(Span(2.0, 2.5)))
    document.apply(PutNote(Span(1.0, 1.2), "shout"))
    document.apply(PutNote(Span(8.0, 8.2), "too late"))
    document.apply(SetCurve(HandCurve("jaw", (CurvePoint(0.5, 0.2), CurvePoint(0.9, 0.8)))))
    samples, rate = soundfile.read(recording_path())
    soundfile.write(tmp_path / "again.wav", samples[: 6 * rate] * 0.8, rate)
    listened.session.replacing.bring_in(tmp_path / "again.wav")
    qtbot.waitUntil(lambda: "carried over" in listened.notice.text.text(), timeout=20_000)
    idle(listened, qtbot, Slot.TAKE)
    take = document.state.take
    assert take.title == "again"
    assert (take.offset, take.loudness_settings) == (4.0, LoudnessSettings(smoothing=0.06, threshold=0.4, peak=0.9))
    assert take.not_speech == (Span(2.0, 2.5),)
    assert [note.text for note in take.notes] == ["shout"]
    assert [point.seconds for point in take.curves[0].points] == [0.5, 0.9]
    assert [piece.what for piece in take.unplaced] == ["too late"]
    assert "Floor and ceiling" in listened.notice.text.text()
    assert "listed in Take" in listened.notice.text.text()
    document.undo()
    assert document.state.take.loudness_settings == LoudnessSettings()
