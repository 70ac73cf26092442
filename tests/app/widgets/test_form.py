from dataclasses import dataclass, replace
from fractions import Fraction

import pytest
from PyQt6.QtCore import QPoint, Qt

from buccaphon.app.widgets.form import Form, SidewaysLabel
from buccaphon.audio.loudness_settings import Band
from buccaphon.setting import require_valid_settings, setting, settings_of, values_of, with_setting
from buccaphon.timing import FrameRate
from tests.helpers.qtest import QTest

LEFT = Qt.MouseButton.LeftButton
FILM, HALF = FrameRate(Fraction(24)), FrameRate(Fraction(12))


@dataclass(frozen=True)
class Lantern:
    height: float = setting(0.5, "Height", "How high it hangs", least=0.0, most=2.0, scale=100, unit="cm", step=10)
    late: float = setting(0.0, "Late", least=-1.0, most=1.0, in_frames=True, unit="frames", step=0.5, decimals=1)
    limit: float | None = setting(None, "Limit", least=0.0, most=1.0, scale=100, unit="%", none="none")
    band: Band = setting(Band.WHOLE, "Band", choices=Band)
    lit: bool = setting(True, "Lit")
    glow: float = setting(0.0, "Glow", least=0.0, most=4.0, ends=("dim", "bright"))
    wicks: int = setting(1, "Wicks", least=1, most=9)


@pytest.fixture
def form(qtbot):
    made = Form(settings_of(Lantern))
    qtbot.addWidget(made)
    made.resize(300, 300)
    made.show()
    made.fill(values_of(Lantern()), values_of(Lantern()), FILM)
    return made


@pytest.fixture
def told(form) -> list[tuple[str, object]]:
    """What the form says was changed."""
    found: list[tuple[str, object]] = []
    form.changed.connect(lambda name, value: found.append((name, value)))
    return found


def test_filling_tells_nothing_and_shows_values_in_their_units(form, told):
    form.fill(values_of(Lantern(height=1.2, late=0.25, limit=0.4, band=Band.UPPER, lit=False, glow=2.0)), None, FILM)
    assert told == []
    shown = {name: form.inputs[name] for name in form.inputs}
    assert (shown["height"].text(), shown["late"].text(), shown["limit"].text()) == ("120 cm", "6.0 frames", "40 %")
    assert (shown["band"].currentText(), shown["lit"].isChecked(), shown["glow"].value()) == (
        "High frequencies",
        False,
        50,
    )
    form.fill({"late": 0.25}, None, HALF)
    assert shown["late"].text() == "3.0 frames", "the same time at another frame rate"
    form.fill({"limit": None})
    assert shown["limit"].text() == "none"
    assert told == []


def test_what_a_hand_changes_is_told_as_it_is_stored(form, told):
    form.inputs["height"].setValue(150)
    form.inputs["late"].setValue(-12)
    form.inputs["limit"].setValue(30)
    form.inputs["limit"].setValue(form.inputs["limit"].minimum())
    form.inputs["band"].setCurrentIndex(1)
    form.inputs["band"].activated.emit(1)
    form.inputs["lit"].click()
    form.inputs["glow"].setValue(100)
    assert told == [
        ("height", 1.5), ("late", -0.5), ("limit", 0.3), ("limit", None), ("band", Band.VOICE), ("lit", False), ("glow", 4.0),
    ]  # fmt: skip


def test_a_label_dragged_sideways_steps_its_number_in_one_gesture(form, told, qtbot):
    label = next(each for each in form.findChildren(SidewaysLabel) if each.text() == "Height")
    ended = []
    form.let_go.connect(lambda: ended.append(len(told)))
    QTest.mousePress(label, LEFT, pos=QPoint(2, 5))
    for x in (8, 14, 26):
        QTest.mouseMove(label, QPoint(x, 5))
    QTest.mouseRelease(label, LEFT, pos=QPoint(26, 5))
    assert told[-1] == ("height", pytest.approx(0.9))
    assert ended == [len(told)]


def test_what_differs_is_marked_and_reset_by_a_click(form):
    asked = []
    form.reset.connect(asked.append)
    marks = dict(form._marks)
    assert not any(mark.isVisible() for mark in marks.values())
    form.fill(values_of(Lantern(height=1.0)), values_of(Lantern()), FILM)
    assert [name for name, mark in marks.items() if mark.isVisible()] == ["height"]
    assert marks["height"].toolTip() == "Reset to 50 cm"
    QTest.mouseClick(marks["height"], LEFT)
    assert asked == ["height"]


def test_what_is_being_typed_stays_as_it_is_typed(form, qtbot):
    field = form.inputs["height"]
    form.activateWindow()
    field.setFocus()
    qtbot.waitUntil(field.hasFocus)
    field.selectAll()
    QTest.keyClicks(field, "7")
    form.fill(values_of(Lantern()), values_of(Lantern()), FILM)
    assert field.lineEdit().text().startswith("7")


def test_values_are_held_to_their_ranges_and_checked_by_them():
    lantern = with_setting(Lantern(), "height", 9.0)
    assert lantern.height == 2.0
    assert with_setting(Lantern(), "wicks", 2.6) == replace(Lantern(), wicks=3)
    assert with_setting(Lantern(limit=0.5), "limit", None).limit is None
    require_valid_settings(lantern)
    for wrong in (3.0, float("nan")):
        with pytest.raises(ValueError, match=r"height is .*, but goes from 0 to 2"):
            require_valid_settings(replace(lantern, height=wrong))
