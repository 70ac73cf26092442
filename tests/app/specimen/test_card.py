"""A card takes sounds that are dropped anywhere on it, and nothing else; chips are taken out by key."""

import pytest
from PyQt6.QtCore import QByteArray, QMimeData, QPoint, QPointF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication

from buccaphon.app.specimen.chips import KIND, ChipKind
from tests.helpers.qtest import QTest

NONE, LEFT = Qt.KeyboardModifier.NoModifier, Qt.MouseButton.LeftButton
MOVE = Qt.DropAction.MoveAction


@pytest.fixture
def page(demo):
    demo.do("specimen")
    return demo.specimen


def drop(widget, kind: str, content: bytes) -> bool:
    """As the window system does: it enters, and is let go. Whether it was taken."""
    data = QMimeData()
    data.setData(kind, QByteArray(content))
    enter = QDragEnterEvent(QPoint(5, 5), MOVE, data, LEFT, NONE)
    QApplication.sendEvent(widget, enter)
    if not enter.isAccepted():
        return False
    QApplication.sendEvent(widget, QDropEvent(QPointF(5, 5), MOVE, data, LEFT, NONE))
    return True


def test_a_sound_is_dragged_from_card_to_card(page, demo):
    assert drop(page.cards[4], KIND, b"p")
    chart = demo.document.chart
    assert chart.mouths[chart.answer("p")].name == "Teeth"
    assert "p" not in [chip.sound for chip in page.cards[1].sounds.chips]
    assert drop(page.cards[1].sounds, KIND, b"p")
    assert demo.document.chart.mouths[demo.document.chart.answer("p")].name == "Press"


@pytest.mark.parametrize(("kind", "content"), [("text/plain", b"p"), ("text/uri-list", b"file:///x")])
def test_what_is_no_sound_is_not_taken(page, demo, kind, content):
    before = demo.document.state
    taken = drop(page.cards[2], kind, content)
    assert taken == (kind == "text/uri-list"), "files go on to the window, which says what they are"
    assert demo.document.state == before


def test_a_chip_is_taken_out_by_key_and_waits_in_the_margin(page, demo):
    chip = page.cards[1].sounds.chips[0]
    assert (chip.sound, chip.property("role")) == ("p", ChipKind.SOUND.value)
    QTest.keyClick(chip, Qt.Key.Key_Delete)
    assert page.chart.missing == ("p",)
    assert [chip.sound for chip in page.margin.chips] == ["p"]
    assert drop(page.margin, KIND, b"b")
    assert page.chart.missing == ("b", "p")


def test_rubbish_typed_as_a_sound_is_told_and_changes_nothing(page, demo):
    told = []
    demo.document.said.connect(told.append)
    before = demo.document.state
    QTest.keyClicks(page.cards[1].answers, "7 #")
    QTest.keyClick(page.cards[1].answers, Qt.Key.Key_Return)
    assert any("not a sound in IPA or ARPAbet" in text for text in told)
    assert demo.document.state == before


def test_mouths_change_places_names_stay_apart_and_the_host_may_count_from_one(page, demo):
    page.cards[9].earlier.click()
    assert [m.name for m in page.chart.mouths][8:] == ["Pucker", "Round"]
    page.cards[0].name.setText("Press")
    page.cards[0].name.editingFinished.emit()
    assert page.chart.mouths[0].name == "Press 2"
    page.index.setCurrentIndex(1)
    page.index.activated.emit(1)
    assert page.cards[0].number.text().startswith("1 · ")
    page.cards[5].remove.click()
    assert len(page.cards) == len(page.chart.mouths) == 9


def test_any_mouth_is_made_the_one_of_silence_by_a_click(page, demo):
    assert [card.rests.isChecked() for card in page.cards] == [True, *[False] * 9]
    page.cards[5].rests.click()
    assert demo.document.chart.rest.name == "Ajar"
    assert [card.rests.isChecked() for card in page.cards].index(True) == 5
    assert demo.document.bake().exposures[0].mouth == "Ajar"
    page.cards[5].rests.click()
    assert page.cards[5].rests.isChecked(), "one of them always is"
    demo.document.undo()
    assert demo.document.chart.rest.name == "Rest"


def test_a_part_of_a_pose_is_typed_as_a_number(page, demo):
    number = page.cards[6].pose.numbers["jaw"]
    number.setValue(42)
    number.editingFinished.emit()
    assert page.chart.mouths[6].pose.jaw == pytest.approx(0.42)
    assert page.cards[6].pose.inputs["jaw"].value() == 42
    demo.document.undo()
    assert number.value() == 100
