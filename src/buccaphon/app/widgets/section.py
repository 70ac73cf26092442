"""A part of a panel that looks again when what it shows is another, but only while it is seen."""

from __future__ import annotations

from PyQt6.QtCore import pyqtBoundSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget


class Section(QWidget):
    """Folded away or on another step it waits: a drag must not wait for what nobody sees."""

    def __init__(self) -> None:
        super().__init__()
        self._is_behind = True

    def follow(self, *signals: pyqtBoundSignal) -> None:
        """Look again at each of these signals."""
        for signal in signals:
            signal.connect(self._look)

    def refresh(self) -> None:
        """Show what is there now."""
        raise NotImplementedError

    def catch_up(self) -> None:
        """Show it also while nobody sees it: something in here is about to be chosen."""
        self._is_behind = False
        self.refresh()

    def _look(self, _what: object = None) -> None:
        if self.isVisible():
            self.refresh()
        else:
            self._is_behind = True

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if self._is_behind:
            self.catch_up()
