"""A card of the mouths on paper: each with its number, name, key and sounds, to lie beside the keyboard."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPdfWriter, QPen

from buccaphon.formats.pictures import Paper
from buccaphon.mouths.chart import Mouth
from buccaphon.painting.pictures.paper import MM, pdf, print_font
from buccaphon.texts import _

COLUMNS, ROWS = 4, 5  # of a page
_HEAD, _GAP = 16 * MM, 3 * MM
_INK, _SOFT = QColor("#222"), QColor("#777")
_LEFT, _RIGHT = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignRight
_MIDDLE = Qt.AlignmentFlag.AlignVCenter


@dataclass(frozen=True, slots=True)
class OnCard:
    """One mouth. number, called: as sheet and files have them. key: what paints it; '' for none. sounds: that it covers, with
    silence in words."""

    mouth: Mouth
    number: int
    called: str
    key: str
    sounds: str


def card_pdf(
    title: str,
    mouths: Sequence[OnCard],
    draw: Callable[[QPainter, Mouth, QRectF], None],
    paper: Paper = Paper.A4,
) -> bytes:
    """draw: paints a mouth in a box. The application must exist, for its fonts."""

    def paint(writer: QPdfWriter, painter: QPainter) -> None:
        width = (writer.width() - (COLUMNS - 1) * _GAP) / COLUMNS
        height = (writer.height() - _HEAD - (ROWS - 1) * _GAP) / ROWS
        for number, each in enumerate(mouths):
            place = number % (COLUMNS * ROWS)
            if place == 0:
                if number:
                    writer.newPage()
                _write(painter, QRectF(0, 0, writer.width(), 8 * MM), title, print_font(15, bold=True))
            x, y = place % COLUMNS * (width + _GAP), _HEAD + place // COLUMNS * (height + _GAP)
            _paint_one(painter, QRectF(x, y, width, height), each, draw)

    return pdf(_("{title}: mouths", title=title), paper, paint)


def _paint_one(painter: QPainter, box: QRectF, each: OnCard, draw: Callable[[QPainter, Mouth, QRectF], None]) -> None:
    painter.setPen(QPen(_SOFT, 0.15 * MM))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(box, 1.5 * MM, 1.5 * MM)
    inner = box.adjusted(2 * MM, 1.5 * MM, -2 * MM, -1.5 * MM)
    head = QRectF(inner.left(), inner.top(), inner.width(), 7 * MM)
    _write(painter, head, str(each.number), print_font(16, bold=True))
    if each.key:
        _write(painter, head, _("key {key}", key=each.key), print_font(9), _RIGHT, _SOFT)
    draw(painter, each.mouth, inner.adjusted(0, 8 * MM, 0, -13 * MM))
    name = QRectF(inner.left(), inner.bottom() - 12 * MM, inner.width(), 5 * MM)
    _write(painter, name, each.called, print_font(10, bold=True))
    if each.called != each.mouth.name:
        _write(painter, name, each.mouth.name, print_font(8), _RIGHT, _SOFT)
    painter.setFont(print_font(10, words=True))
    painter.setPen(_INK)
    sounds = QRectF(inner.left(), inner.bottom() - 7 * MM, inner.width(), 7 * MM)
    painter.drawText(sounds, int(Qt.TextFlag.TextWordWrap) | int(_LEFT | Qt.AlignmentFlag.AlignTop), each.sounds)


def _write(
    painter: QPainter, box: QRectF, text: str, font: QFont, along: Qt.AlignmentFlag = _LEFT, ink: QColor = _INK
) -> None:
    painter.setFont(font)
    painter.setPen(ink)
    room = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width()))
    painter.drawText(box, int(along | _MIDDLE), room)
