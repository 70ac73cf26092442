"""Rows with a note at the right."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage

from buccaphon.app.widgets.noted_list import ROW, NotedList
from buccaphon.app.widgets.parts import fit_rows


@pytest.fixture
def listed(qtbot):
    found = NotedList()
    qtbot.addWidget(found)
    found.resize(220, 200)
    found.show()
    return found


def inked(found: NotedList, row: int) -> np.ndarray:
    """(columns,) whether anything is drawn there in a row."""
    picture = found.viewport().grab().toImage().convertToFormat(QImage.Format.Format_Grayscale8)
    bits = picture.constBits()
    bits.setsize(picture.sizeInBytes())
    grey = np.frombuffer(bits, np.uint8).reshape(picture.height(), picture.bytesPerLine())[:, : picture.width()]
    part = grey[row * ROW + 4 : (row + 1) * ROW - 4]
    return (part != part[0, 0]).any(0)


def test_a_note_stands_at_the_right_and_a_long_text_makes_room_for_it(listed):
    listed.add("short", "")
    listed.add("short", "fits 99%")
    listed.add("a text that goes on and on and on and on and on and on", "fits 1%")
    half = listed.viewport().width() // 2
    assert not inked(listed, 0)[half:].any()
    assert inked(listed, 1)[-20:].any()
    columns = np.flatnonzero(inked(listed, 2))
    assert columns[-1] > listed.viewport().width() - 20
    assert np.diff(columns[columns > half]).max() >= 10, "the text ends well before the note begins"


def test_a_long_note_leaves_the_text_its_place(listed):
    listed.add("short", "")
    listed.add("short", "a reason that goes on and on and on and on and on and on and on")
    text, both = (np.flatnonzero(inked(listed, row)) for row in (0, 1))
    assert (both[: len(text)] == text).all(), "the text is all there"
    assert both[-1] < listed.viewport().width()


def test_a_row_is_read_out_with_its_note(listed):
    item = listed.add("Loop", "L")
    assert item.data(Qt.ItemDataRole.AccessibleTextRole) == "Loop, L"
    assert listed.add("Close", "").data(Qt.ItemDataRole.AccessibleTextRole) == "Close"


@pytest.mark.parametrize(("rows", "high"), [(0, 1), (1, 1), (3, 3), (9, 4)])
def test_a_list_is_as_high_as_whole_rows(listed, rows, high):
    for number in range(rows):
        listed.add(f"row {number}", "")
    fit_rows(listed, 4)
    assert abs(listed.height() - high * ROW - 2 * listed.frameWidth()) <= (4 if rows == 0 else 0)
