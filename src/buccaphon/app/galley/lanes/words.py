"""What is said: words as wide as they last, pauses, and the sounds of each word."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen

from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Notation
from buccaphon.app.galley.sheet import Sheet
from buccaphon.app.theme import sans, serif
from buccaphon.audio.pauses import LEAST_PAUSE
from buccaphon.score.records import DOUBTFUL, Word
from buccaphon.speech.phones import arpabet_of
from buccaphon.timing import Span

_LEAST_TEXT = 0.72  # how far a word may be narrowed before it is set smaller
_CENTRED = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom


def paint_words(painter: QPainter, sheet: Sheet, height: int) -> None:
    _pauses(painter, sheet, height)
    pinned = sheet.pinned()
    for number, word in sheet.words():
        left, right = sheet.x(word.start), sheet.x(word.end)
        _tick(painter, sheet, left, height, word.start in pinned)
        _tick(painter, sheet, right, height, word.end in pinned)
        if word.start >= sheet.strip.start - 1e-6:
            _set_word(painter, sheet, word, left + 4, right - left - 5, height)
            if number in sheet.missing or word.confidence < DOUBTFUL:
                _wave_under(painter, sheet, left + 4, max(right - 3, left + 12), height - 6)


def _pauses(painter: QPainter, sheet: Sheet, height: int) -> None:
    """Long pauses, with their length: between the words, or in the sound while there are no words yet."""
    strip = Span(sheet.strip.start, sheet.strip.end)
    painter.setFont(sans(10))
    for span in sheet.pauses():
        if span.overlap(strip) < LEAST_PAUSE - 1e-6:
            continue
        left, right = sheet.x(strip.clamp(span.start)), sheet.x(strip.clamp(span.end))
        if right - left < 34:
            continue
        painter.setPen(QPen(sheet.theme.color("ink_soft"), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QLineF(left + 5, height - 7, right - 5, height - 7))
        painter.setPen(sheet.theme.color("ink_soft"))
        painter.drawText(QRectF(left, 2, right - left, height - 11), _CENTRED, f"{span.length:.2f} s")


def _tick(painter: QPainter, sheet: Sheet, x: float, height: int, pinned: bool) -> None:
    if not MARGIN - 1 <= x <= sheet.right + 1:
        return
    painter.setPen(QPen(sheet.theme.color("pin" if pinned else "edge"), 1.6 if pinned else 1))
    painter.drawLine(QLineF(x, 2, x, height))
    if pinned:
        painter.setBrush(sheet.theme.color("pin"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(x, 3), 3, 3)


def _set_word(painter: QPainter, sheet: Sheet, word: Word, x: float, room: float, height: int) -> None:
    """The word as wide as it lasts: narrowed, then set smaller, when it is said faster than it is written."""
    font = serif(19)
    natural = QFontMetricsF(font).horizontalAdvance(word.text)
    squeeze = min(room / natural, 1.0) if natural else 1.0
    if squeeze < _LEAST_TEXT:
        font = serif(max(19 * squeeze / _LEAST_TEXT, 8))
        natural = QFontMetricsF(font).horizontalAdvance(word.text)
        squeeze = min(room / natural, 1.0)
    painter.save()
    painter.translate(x, height - 11)
    painter.scale(squeeze, 1)
    painter.setFont(font)
    painter.setPen(sheet.theme.color("ink"))
    painter.drawText(QPointF(0, 0), word.text)
    painter.restore()


def _wave_under(painter: QPainter, sheet: Sheet, left: float, right: float, y: float) -> None:
    """A proof-reader's wavy line."""
    path = QPainterPath(QPointF(left, y))
    x, up = left, True
    while x < right:
        path.quadTo(QPointF(x + 2, y + (-2.4 if up else 2.4)), QPointF(x + 4, y))
        x, up = x + 4, not up
    painter.setPen(QPen(sheet.theme.color("doubt"), 1.3))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def paint_phones(painter: QPainter, sheet: Sheet, height: int) -> None:
    painter.setFont(serif(15))
    metrics = QFontMetricsF(painter.font())
    pinned = sheet.pinned()
    for _, word in sheet.words():
        for place, phone in enumerate(word.phones):
            left, right = sheet.x(phone.start), sheet.x(phone.end)
            if right < MARGIN or left > sheet.right:
                continue
            if place:
                _tick(painter, sheet, left, height - 3, phone.start in pinned)
            painter.setPen(sheet.theme.color("ink" if phone.stress == 1 else "ink_soft"))
            text = _written(sheet, phone.symbol)
            wide = metrics.horizontalAdvance(text)
            painter.save()
            painter.translate((left + right) / 2, height - 7)
            painter.scale(min((right - left) / max(wide + 1, 1), 1.0), 1)
            painter.drawText(QPointF(-wide / 2, 0), text)
            painter.restore()


def _written(sheet: Sheet, symbol: str) -> str:
    notation = sheet.layout.look.notation
    if notation is Notation.IPA:
        return symbol
    chart = sheet.bake.chart
    return arpabet_of(symbol) if notation is Notation.ARPABET else chart.names[chart.answer(symbol)]
