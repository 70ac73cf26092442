"""Where words and sounds begin and end: fine lines, brass where a hand has put them."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.layout import MARGIN


def paint_tick(painter: QPainter, content: StripContent, x: float, height: int, pinned: bool) -> None:
    if not MARGIN - 1 <= x <= content.right + 1:
        return
    painter.setPen(QPen(content.theme.color("pin" if pinned else "edge"), 1.6 if pinned else 1))
    painter.drawLine(QLineF(x, 2, x, height))
    if pinned:
        painter.setBrush(content.theme.color("pin"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(x, 3), 3, 3)
