"""What is said: words as wide as they last, and pauses."""

from __future__ import annotations

from operator import itemgetter

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.boundary import boundary_grip
from buccaphon.app.galley.gestures.words import press_words
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.lanes.ticks import paint_ticks
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.audio.pauses import LEAST_PAUSE
from buccaphon.painting.theme import sans, serif, serif_width
from buccaphon.score.records import DOUBTFUL, Word
from buccaphon.texts import N_
from buccaphon.timing import Span

_LEAST_TEXT = 0.72  # how far a word may be narrowed before it is set smaller
_CENTRED = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom


def paint_words(painter: QPainter, content: StripContent, height: int) -> None:
    _pauses(painter, content, height)
    words = content.words()
    paint_ticks(painter, content, (moment for _, word in words for moment in (word.start, word.end)), height)
    for number, word in words:
        left, right = content.x(word.start), content.x(word.end)
        if word.start >= content.strip.start - 1e-6:
            _set_word(painter, content, word, left + 4, right - left - 5, height)
            if number in content.missing or word.confidence < DOUBTFUL:
                _wave_under(painter, content, left + 4, max(right - 3, left + 12), height - 6)


def _pauses(painter: QPainter, content: StripContent, height: int) -> None:
    """Long pauses, with their length: between the words, or in the sound while there are no words yet."""
    strip = Span(content.strip.start, content.strip.end)
    painter.setFont(sans(10))
    for span in content.pauses():
        if span.overlap(strip) < LEAST_PAUSE - 1e-6:
            continue
        left, right = content.x(strip.clamp(span.start)), content.x(strip.clamp(span.end))
        if right - left < 34:
            continue
        painter.setPen(QPen(content.theme.color("ink_soft"), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QLineF(left + 5, height - 7, right - 5, height - 7))
        painter.setPen(content.theme.color("ink_soft"))
        painter.drawText(QRectF(left, 2, right - left, height - 11), _CENTRED, f"{span.length:.2f} s")


def _set_word(painter: QPainter, content: StripContent, word: Word, x: float, room: float, height: int) -> None:
    """The word as wide as it lasts: narrowed, then set smaller, when it is said faster than it is written."""
    pixels = 19
    natural = serif_width(word.text, pixels)
    squeeze = min(room / natural, 1.0) if natural else 1.0
    if squeeze < _LEAST_TEXT:
        pixels = max(round(pixels * squeeze / _LEAST_TEXT), 8)
        squeeze = min(room / serif_width(word.text, pixels), 1.0)
    painter.save()
    painter.translate(x, height - 11)
    painter.scale(squeeze, 1)
    painter.setFont(serif(pixels))
    painter.setPen(content.theme.color("ink"))
    painter.drawText(QPointF(0, 0), word.text)
    painter.restore()


def _wave_under(painter: QPainter, content: StripContent, left: float, right: float, y: float) -> None:
    """A proof-reader's wavy line."""
    path = QPainterPath(QPointF(left, y))
    x, up = left, True
    while x < right:
        path.quadTo(QPointF(x + 2, y + (-2.4 if up else 2.4)), QPointF(x + 4, y))
        x, up = x + 4, not up
    painter.setPen(QPen(content.theme.color("doubt"), 1.3))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def _shows(content: StripContent) -> Shown:
    missing = content.missing
    said = [(word.start, word.end, (word, number in missing)) for number, word in content.words()]
    silent = [(span.start, span.end, None) for span in content.pauses()]
    pins = [(moment, moment, None) for moment in content.pinned()]
    return Shown(None, tuple(sorted((*said, *silent, *pins), key=itemgetter(0, 1))))


SPEC = LaneSpec(
    Lane.WORDS,
    (
        N_(
            "Drag a word, or a line to move where it starts or ends\nAlt: this boundary only · Shift: "
            "move everything after it · Ctrl: no snapping\nCtrl or Shift and click: select words · "
            "double-click: pronunciation"
        )
    ),
    paint_words,
    _shows,
    press_words,
    boundary_grip,
)
