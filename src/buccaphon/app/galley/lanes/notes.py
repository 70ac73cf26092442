"""What was written beside the line."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.notes import note_grip, press_notes
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.painting.theme import sans
from buccaphon.texts import N_
from buccaphon.timing import Span


def paint_notes(painter: QPainter, content: StripContent, height: int) -> None:
    take, strip = content.state.take, Span(content.strip.start, content.strip.end)
    painter.setFont(sans(12))
    notes = [note for note in (take.notes if take else ()) if strip.start <= note.span.start < strip.end]
    for number, note in enumerate(notes):
        left = content.x(note.span.start)
        right = content.x(notes[number + 1].span.start) if number + 1 < len(notes) else content.right
        painter.setPen(QPen(content.theme.color("ink_soft"), 1.4))
        painter.drawLine(QLineF(left, 2, left, height - 2))
        painter.drawLine(QLineF(left, 3, content.x(min(note.span.end, strip.end)), 3))
        painter.setPen(content.theme.color("ink"))
        room = QRectF(left + 5, 2, max(right - left - 10, 0), height - 2)
        text = QFontMetricsF(painter.font()).elidedText(note.text, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, text)


def _shows(content: StripContent) -> Shown:
    return Shown(content.state.take and content.state.take.notes)


SPEC = LaneSpec(
    Lane.NOTES,
    N_("Notes · click one to go there, drag it to move it, Shift+N adds one"),
    paint_notes,
    _shows,
    press_notes,
    note_grip,
)
