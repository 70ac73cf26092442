"""A line to write in, right over the page: notes, words and sounds are written where they belong."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit

from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.style.theme import serif

_WIDTH = 260


class InlineEdit(QLineEdit):
    """Return takes what is written, Esc leaves everything as it was."""

    def __init__(self, galley: GalleyView) -> None:
        super().__init__(galley.viewport())
        self._galley = galley
        self._done: Callable[[str], None] = lambda _text: None
        self.setFont(serif(17))
        self.returnPressed.connect(self._take)
        self.hide()

    def ask(self, seconds: float, lane: Lane, name: str, text: str, done: Callable[[str], None]) -> None:
        """Over a lane at a moment, if that is on the page. name: of what is asked for. done: is called with what was
        written."""
        self._galley.show_time(seconds)
        if self._galley.point_at(seconds, lane) is None:
            return
        self._done = done
        self.setPlaceholderText(name)
        self.setAccessibleName(name)
        self.setText(text)
        at = self._galley.point_at(seconds, lane)
        self.resize(_WIDTH, self.sizeHint().height())
        room = self._galley.viewport().width() - _WIDTH - 8
        self.move(max(min(at.x(), room), 8), at.y() - self.height() // 2)
        self.show()
        self.setFocus()
        self.selectAll()

    def _take(self) -> None:
        text = self.text().strip()
        self._leave()
        self._done(text)

    def _leave(self) -> None:
        self.hide()
        self._galley.setFocus()

    def event(self, event: QEvent) -> bool:
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.ShortcutOverride
            and event.key() == Qt.Key.Key_Escape
        ):
            event.accept()  # it leaves the line, not the work under way
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._leave()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.hide()
