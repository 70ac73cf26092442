"""A panel that scrolls where the window is too low for it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget


def scrolling(panel: QWidget) -> QScrollArea:
    """The panel in an area that scrolls; as wide with the scroll bar as without."""
    area = QScrollArea()
    area.setWidget(panel)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.viewport().setAutoFillBackground(False)
    bar = area.verticalScrollBar()

    def keep_width(_least: int, most: int) -> None:
        area.setViewportMargins(0, 0, 0 if most else bar.sizeHint().width(), 0)

    bar.rangeChanged.connect(keep_width)
    keep_width(0, 0)
    return area
