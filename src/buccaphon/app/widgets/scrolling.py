"""A panel that scrolls where the window is too low for it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget


class Scrolling(QScrollArea):
    """A panel in an area that scrolls; as wide with the scroll bar as without."""

    def __init__(self, panel: QWidget) -> None:
        super().__init__()
        self.setWidget(panel)
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.viewport().setAutoFillBackground(False)
        self.verticalScrollBar().rangeChanged.connect(self._keep_width)
        self._keep_width()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.StyleChange:  # the bar is of another width now
            self._keep_width()

    def _keep_width(self) -> None:
        bar = self.verticalScrollBar()
        self.setViewportMargins(0, 0, 0 if bar.maximum() else bar.sizeHint().width(), 0)
