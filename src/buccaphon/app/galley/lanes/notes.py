"""What was written beside the line."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from buccaphon.app.galley.sheet import Sheet
from buccaphon.app.theme import sans
from buccaphon.timing import Span


def paint_notes(painter: QPainter, sheet: Sheet, height: int) -> None:
    take, strip = sheet.state.take, Span(sheet.strip.start, sheet.strip.end)
    painter.setFont(sans(12))
    notes = [note for note in (take.notes if take else ()) if strip.start <= note.span.start < strip.end]
    for number, note in enumerate(notes):
        left = sheet.x(note.span.start)
        right = sheet.x(notes[number + 1].span.start) if number + 1 < len(notes) else sheet.right
        painter.setPen(QPen(sheet.theme.color("ink_soft"), 1.4))
        painter.drawLine(QLineF(left, 2, left, height - 2))
        painter.drawLine(QLineF(left, 3, sheet.x(min(note.span.end, strip.end)), 3))
        painter.setPen(sheet.theme.color("ink"))
        room = QRectF(left + 5, 2, max(right - left - 10, 0), height - 2)
        text = QFontMetricsF(painter.font()).elidedText(note.text, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, text)
