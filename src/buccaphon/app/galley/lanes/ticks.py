"""Where words and sounds begin and end: fine lines, brass where a hand has put them."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.layout import MARGIN


def paint_ticks(painter: QPainter, content: StripContent, moments: Iterable[float], height: int) -> None:
    pinned = content.pinned()
    inside = [(content.x(moment), moment in pinned) for moment in moments]
    inside = [(x, by_hand) for x, by_hand in inside if MARGIN - 1 <= x <= content.right + 1]
    painter.setPen(QPen(content.theme.color("edge"), 1))
    if lines := [QLineF(x, 2, x, height) for x, by_hand in inside if not by_hand]:
        painter.drawLines(*lines)
    painter.setBrush(content.theme.color("pin"))
    for x in (x for x, by_hand in inside if by_hand):
        painter.setPen(QPen(content.theme.color("pin"), 1.6))
        painter.drawLine(QLineF(x, 2, x, height))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(x, 3), 3, 3)
