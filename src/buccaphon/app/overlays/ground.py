"""What the pages stand on: whatever comes over a page for a moment lies on it, so that it is seen on every page."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget


class Ground(QWidget):
    """pages: the widget that holds all of them."""

    resized = pyqtSignal()

    def __init__(self, pages: QWidget) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(pages)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resized.emit()
