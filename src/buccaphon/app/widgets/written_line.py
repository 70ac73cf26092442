"""A line that is written right where it belongs, over a page."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget


class WrittenLine(QLineEdit):
    """Return takes what is written (taken), Esc leaves everything as it was (left)."""

    taken = pyqtSignal(str)
    left = pyqtSignal()

    def __init__(self, over: QWidget | None) -> None:
        super().__init__(over)
        self.returnPressed.connect(self._take)
        self.hide()

    def _take(self) -> None:
        text = self.text().strip()
        self._leave()
        self.taken.emit(text)

    def _leave(self) -> None:
        self.hide()
        self.left.emit()

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
