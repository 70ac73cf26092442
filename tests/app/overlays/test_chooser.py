"""A list to search and choose from."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit, QWidget

from buccaphon.app.overlays.chooser import Choice, Chooser
from tests.helpers.qtest import QTest


@pytest.fixture
def asked(qtbot):
    """A chooser over a page, what was chosen in it, and the field that had the focus before."""
    page = QWidget()
    page.resize(700, 500)
    field = QLineEdit(page)
    chooser = Chooser(page)
    qtbot.addWidget(page)
    page.show()
    field.setFocus()
    taken: list[str] = []
    names = [("Play or stop", "Space"), ("Stop the work", "Esc"), ("Paint Round", "9"), ("Loop", "L")]
    chooser.ask("Choose", "", [Choice(name, note, lambda name=name: taken.append(name)) for name, note in names], at=1)
    yield chooser, taken, field


def shown(chooser: Chooser) -> list[str]:
    return [choice.text for choice in chooser.shown]


def test_all_parts_of_what_is_typed_must_be_there_and_beginnings_come_first(asked):
    chooser, _, _ = asked
    QTest.keyClicks(chooser.search, "stop")
    assert shown(chooser) == ["Stop the work", "Play or stop"]
    QTest.keyClicks(chooser.search, " pl")
    assert shown(chooser) == ["Play or stop"]
    chooser.search.setText("space")
    assert shown(chooser) == ["Play or stop"], "the note is searched as well"
    chooser.search.setText("nothing of this")
    assert shown(chooser) == []
    QTest.keyClick(chooser.search, Qt.Key.Key_Return)
    assert chooser.isVisible(), "there is nothing to take"


def test_it_is_walked_with_the_arrows_taken_with_return_and_left_with_escape(asked):
    chooser, taken, field = asked
    assert chooser.list.currentRow() == 1
    QTest.keyClick(chooser.search, Qt.Key.Key_Down)
    QTest.keyClick(chooser.search, Qt.Key.Key_Return)
    assert taken == ["Paint Round"]
    assert chooser.isHidden()
    assert field.hasFocus(), "as before"
    chooser.ask("Again", "", chooser.choices)
    QTest.keyClick(chooser.search, Qt.Key.Key_Up)
    assert chooser.list.currentRow() == 3, "round to the end"
    QTest.keyClick(chooser.search, Qt.Key.Key_Escape)
    assert taken == ["Paint Round"]


def test_a_click_takes_a_choice(asked):
    chooser, taken, _ = asked
    box = chooser.list.visualItemRect(chooser.list.item(3))
    QTest.mouseClick(chooser.list.viewport(), Qt.MouseButton.LeftButton, pos=box.center())
    assert taken == ["Loop"]


def test_a_long_list_is_shown_in_part_and_searched_whole(asked):
    chooser, _, _ = asked
    chooser.ask("Frames", "", [Choice(f"frame {number}", "", lambda: None) for number in range(5000)])
    assert len(shown(chooser)) == 300
    QTest.keyClicks(chooser.search, "4321")
    assert shown(chooser) == ["frame 4321"]
