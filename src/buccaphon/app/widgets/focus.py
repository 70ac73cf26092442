"""The keyboard's focus: given back to what had it, and Return on a button that has it."""

from __future__ import annotations

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractButton, QWidget


def focus_again(before: QWidget | None) -> None:
    """Give the focus back to what had it, unless that has gone since: a chart that was changed draws its tiles anew."""
    if before is not None and not sip.isdeleted(before):
        before.setFocus()


class ReturnPresses(QObject):
    """Return presses the focused button, since Space plays."""

    def watch(self, widget: QWidget) -> None:
        """The buttons that are in a widget now."""
        for button in widget.findChildren(QAbstractButton):
            button.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if (
            isinstance(watched, QAbstractButton)
            and isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.KeyPress
            and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        ):
            watched.click()
            return True
        return super().eventFilter(watched, event)
