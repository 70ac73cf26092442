"""A line to write in, right over the page: notes, words, sounds and mouths are written where they belong."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QWidget

from buccaphon.app.galley.look import Lane
from buccaphon.app.style.theme import serif
from buccaphon.app.widgets.written_line import WrittenLine

_WIDTH, _TOP = 300, 24  # pixels


class InlineEdit(WrittenLine):
    """A line over a lane at a moment; over a page that shows no such place it stands at its head."""

    def __init__(self, over: QWidget, place_of: Callable[[float, Lane], QPoint | None]) -> None:
        """place_of: where a lane is at a moment on the page that is seen, brought into view; None where it shows none."""
        super().__init__(over)
        self._place_of = place_of
        self._before: QWidget | None = None
        self._done: Callable[[str], None] = lambda _text: None
        self.setFont(serif(17))
        self.taken.connect(self._hand_over)
        self.left.connect(self._go_back)

    def ask(self, seconds: float, lane: Lane, name: str, text: str, done: Callable[[str], None]) -> None:
        """name: of what is asked for. done: is called with what was written."""
        if not self.isVisible():
            self._before = self.window().focusWidget()
        at, over = self._place_of(seconds, lane), self.parentWidget()
        self._done = done
        self.setPlaceholderText(name)
        self.setAccessibleName(name)
        self.setText(text)
        width = min(max(_WIDTH, self.fontMetrics().horizontalAdvance(name) + 40), over.width() - 16)
        self.resize(width, self.sizeHint().height())
        x, y = (at.x(), at.y() - self.height() // 2) if at is not None else ((over.width() - width) // 2, _TOP)
        self.move(max(min(x, over.width() - width - 8), 8), max(min(y, over.height() - self.height() - 8), 8))
        self.show()
        self.raise_()
        self.setFocus()
        self.selectAll()

    def _hand_over(self, text: str) -> None:
        self._done(text)

    def _go_back(self) -> None:
        if self._before is not None:
            self._before.setFocus()
