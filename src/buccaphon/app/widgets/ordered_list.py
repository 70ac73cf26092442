"""A list whose rows have an order of their own: dragged elsewhere, or moved by Alt with up and down; ticked on or off."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QDropEvent, QKeyEvent
from PyQt6.QtWidgets import QAbstractItemView, QListWidget

_WAYS: dict[int, int] = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}


class OrderedList(QListWidget):
    """moved: the entry of a row is to come before that of another (as many as there are: to the end). dropped: the chosen one
    is to go."""

    moved = pyqtSignal(int, int)
    dropped = pyqtSignal()

    def __init__(self, name: str, hint: str) -> None:
        super().__init__()
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setAccessibleName(name)
        self.setToolTip(hint)

    def event(self, event: QEvent) -> bool:
        """Delete is for the chosen entry while the list has the focus, and no command of the window's."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and _is_delete(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        way = _WAYS.get(event.key())
        if way is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            row = self.currentRow()
            if 0 <= row + way < self.count():
                self.moved.emit(row, row + (2 if way > 0 else -1))
        elif _is_delete(event):
            self.dropped.emit()
        else:
            super().keyPressEvent(event)

    def dropEvent(self, event: QDropEvent) -> None:
        """The list is set anew from the project; the view itself is to move nothing."""
        at = event.position().toPoint()
        item = self.itemAt(at)
        before = self.count() if item is None else self.row(item) + (at.y() > self.visualItemRect(item).center().y())
        event.setDropAction(Qt.DropAction.CopyAction)
        event.accept()
        self.moved.emit(self.currentRow(), before)


def _is_delete(event: QKeyEvent) -> bool:
    return event.key() == Qt.Key.Key_Delete and event.modifiers() == Qt.KeyboardModifier.NoModifier
