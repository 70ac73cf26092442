"""A line to write in, right over the page: notes, words, sounds and mouths are written where they belong."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QLabel, QWidget

from buccaphon.app.galley.look import Lane
from buccaphon.app.widgets.focus import focus_again
from buccaphon.app.widgets.written_line import WrittenLine
from buccaphon.painting.theme import serif

_WIDTH, _TOP = 300, 24  # pixels


class InlineEdit(WrittenLine):
    """A line over a lane at a moment; over a page that shows no such place it stands at its head."""

    _name: QLabel | None = None  # what is asked for, while something stands in the line

    def __init__(self, over: QWidget, place_of: Callable[[float, Lane], QPoint | None]) -> None:
        """place_of: where a lane is at a moment on the page that is seen, brought into view; None where it shows none."""
        super().__init__(over)
        self._place_of = place_of
        self._name = name = QLabel(over)
        name.setObjectName("inlinename")
        name.hide()
        self._before: QWidget | None = None
        self._done: Callable[[str], None] = lambda _text: None
        self.setFont(serif(17))
        self.taken.connect(self._hand_over)
        self.left.connect(self._go_back)

    def ask(self, seconds: float, lane: Lane, name: str, text: str, done: Callable[[str], None]) -> None:
        """name: of what is asked for. done: is called with what was written."""
        self._ask(self._place_of(seconds, lane), name, text, done)

    def ask_at_head(self, name: str, text: str, done: Callable[[str], None]) -> None:
        """The same at the head of the page, with its name over it, for what belongs to no place."""
        self._ask(None, name, text, done)

    def _ask(self, at: QPoint | None, name: str, text: str, done: Callable[[str], None]) -> None:
        if not self.isVisible():
            self._before = self.window().focusWidget()
        over = self.parentWidget()
        self._done = done
        self.setPlaceholderText(name)
        self.setAccessibleName(name)
        self.setText(text)
        width = min(max(_WIDTH, self.fontMetrics().horizontalAdvance(name) + 40), over.width() - 16)
        self.resize(width, self.sizeHint().height())
        x, y = (at.x(), at.y() - self.height() // 2) if at is not None else ((over.width() - width) // 2, _TOP)
        self.move(max(min(x, over.width() - width - 8), 8), max(min(y, over.height() - self.height() - 8), 8))
        if self._name is not None:
            self._name.setText(name)
            self._name.adjustSize()
            self._name.move(self.x(), self.y() + self.height() + 3)
            self._name.setVisible(at is None or bool(text))
            self._name.raise_()
        self.show()
        self.raise_()
        self.setFocus()
        self.selectAll()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        if self._name is not None:
            self._name.hide()

    def _hand_over(self, text: str) -> None:
        self._done(text)

    def _go_back(self) -> None:
        focus_again(self._before)
