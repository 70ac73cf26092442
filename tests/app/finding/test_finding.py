"""What people call things leads to them: commands, fields and formats, in the palette."""

import csv
import io
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from buccaphon.app.commands.catalogue import COMMANDS
from buccaphon.app.commands.desk import View
from buccaphon.app.finding.everyday import everyday_words
from buccaphon.formats.registry import FORMATS, format_named
from tests.helpers.qtest import QTest

WORDS = Path(__file__).with_name("everyday_words.csv")
LABELS = {command.id: command.label for command in COMMANDS}
LOOKED_AT = 5  # of what is found


def found(window, typed: str) -> list[str]:
    window.chooser.search.setText(typed)
    return [choice.text for choice in window.chooser.shown[:LOOKED_AT]]


def is_meant(text: str, meant: str) -> bool:
    kind, _, name = meant.partition(":")
    if kind == "field":
        return text.startswith(f"{name}…")
    if kind == "format":
        return text == f"Export as {format_named(name).name}"
    return text == LABELS[meant]


def test_everyday_words_find_what_is_meant_among_the_first_five(demo):
    demo.do("palette")
    rows = list(csv.DictReader(io.StringIO(WORDS.read_text("utf-8"))))
    missed = {}
    for row in rows:
        first = found(demo, row["word"])
        if not any(is_meant(text, meant) for text in first for meant in row["finds"].split("|")):
            missed[row["word"]] = first
    assert len(rows) >= 100
    assert len(missed) <= 0.05 * len(rows), missed


@pytest.mark.parametrize(
    ("typed", "meant"),
    [("change language", "Language…"), ("how do i undo", "Undo"), ("hide the backdrop", "Background")],
)
def test_words_that_say_nothing_are_no_hindrance(demo, typed, meant):
    demo.do("palette")
    assert any(text.startswith(meant) for text in found(demo, typed))
    assert found(demo, "xyzzy") == []


def test_the_list_is_long_and_names_only_what_there_is(demo):
    words = everyday_words()
    assert len({word for each in words.values() for word in each.split()}) >= 200
    labels = {field.label for _, field in demo.desk.fields()}
    formats = {form.id for form in FORMATS}
    known = {"command": LABELS, "format": formats}
    parts = [key.partition(" ") for key in words]
    assert [(kind, name) for kind, _, name in parts if name not in known.get(kind, labels)] == []


@pytest.mark.parametrize(
    ("typed", "value", "holds"),
    [
        ("fps", "25", lambda state: state.rate.label == "25"),
        ("start frame", "101", lambda state: state.start_frame == 101),
        ("begins at", "2.5", lambda state: state.take.offset == 2.5),
        ("attack", "40", lambda state: state.take.loudness_settings.attack == pytest.approx(0.04)),
        ("use until", "8", lambda state: state.take.trim_out == 8.0),
    ],
)
def test_a_value_is_typed_from_the_palette(demo, typed, value, holds):
    demo.do("palette")
    QTest.keyClicks(demo.chooser.search, typed)
    row = next(n for n, choice in enumerate(demo.chooser.shown) if choice.text.endswith("…") and " in " in choice.note)
    demo.chooser.list.setCurrentRow(row)
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.inline.isVisible()
    QTest.keyClicks(demo.inline, value)
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    assert holds(demo.document.state)
    demo.document.undo()
    assert not holds(demo.document.state)


def test_what_cannot_be_is_said_and_a_few_words_are_chosen_from(demo):
    field = next(f for _, f in demo.desk.fields() if f.label == "Volume")
    assert field.where == "Take"
    assert field.put("200") == "“Volume” goes from 0 to 100."
    assert "not a number" in field.put("loud")
    drawings = next(f for _, f in demo.desk.fields() if f.label == "Hold")
    assert drawings.put("On twos") == ""
    assert demo.document.state.mouth_settings.hold == 2
    assert "Choose one of" in drawings.put("On nines")
    skip_quick_sounds = next(f for _, f in demo.desk.fields() if f.label.startswith("Skip quick"))
    before = skip_quick_sounds.value
    assert skip_quick_sounds.put("") == ""
    assert skip_quick_sounds.value != before


def test_fields_of_the_character_are_found_too_and_its_page_comes_up(demo):
    demo.do("palette")
    QTest.keyClicks(demo.chooser.search, "size of mouths")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert demo.desk.view() is View.KIT
    QTest.keyClicks(demo.inline, "80")
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    assert demo.session.characters.kit.look.place.scale == pytest.approx(0.8)


def test_pose_sliders_are_typed(demo):
    demo.do("palette")
    QTest.keyClicks(demo.chooser.search, "rest: jaw")
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    QTest.keyClicks(demo.inline, "30")
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    assert demo.document.chart.mouths[0].pose.jaw == pytest.approx(0.3)


def test_a_format_is_added_from_the_palette_and_never_twice(demo):
    before = len(demo.document.state.exports.entries)
    for _ in range(2):
        demo.do("palette")
        QTest.keyClicks(demo.chooser.search, "transparent")
        row = next(n for n, choice in enumerate(demo.chooser.shown) if "MOV" in choice.text)
        demo.chooser.list.setCurrentRow(row)
        QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    assert len(demo.document.state.exports.entries) == before + 1


def test_the_take_is_muted_trimmed_and_removed_by_name(demo):
    demo.do("mute-take")
    assert demo.document.state.take.muted
    demo.document.player.seek(2.0)
    demo.do("trim-start")
    demo.document.player.seek(8.0)
    demo.do("trim-end")
    used = demo.document.used
    assert (used.start, used.end) == pytest.approx((2.0, 8.0))
    demo.do("remove-take")
    assert demo.document.state.take is None


def test_a_field_that_only_had_the_focus_moves_nothing(demo):
    from buccaphon.project.edits.scene import SetScene
    from buccaphon.project.edits.takes import ChangeTake
    from buccaphon.timing import FrameRate

    demo.document.apply(SetScene(rate=FrameRate.parse("60")))
    demo.document.apply(ChangeTake(offset=35_000.0))
    before = demo.document.state
    for box in (
        demo.take.form.inputs["offset"],
        demo.take.form.inputs["offset_frame"],
        demo.take.form.inputs["trim_in"],
        demo.take.form.inputs["trim_out"],
    ):
        box.editingFinished.emit()
    assert demo.document.state == before
    assert demo.take.form.inputs["offset_frame"].value() == 35_000 * 60


def test_a_mono_take_after_a_stereo_one_offers_no_left_and_right(demo, tone, qtbot):
    for name, channels in (("two.wav", 2), ("one.wav", 1)):
        demo.session.takes.bring_in(tone(name, 1.0, 16000, channels))
        qtbot.waitUntil(lambda: not demo.session.jobs.busy() and demo.document.recording is not None, timeout=30_000)
        names = [
            demo.take.form.inputs["channel"].itemText(row) for row in range(demo.take.form.inputs["channel"].count())
        ]
        assert ("Left" in names) == (channels == 2), names


def test_the_frame_rate_that_is_asked_for_is_typed_over(window, tone, qtbot):
    window.show()
    window.open(tone())
    qtbot.waitUntil(lambda: not window.session.jobs.busy() and window.document.recording is not None, timeout=30_000)
    assert window.take.rate.lineEdit().selectedText() == "24"
    QTest.keyClicks(window.take.rate.lineEdit(), "25")
    QTest.keyClick(window.take.rate.lineEdit(), Qt.Key.Key_Return)
    assert window.document.state.rate.label == "25"
