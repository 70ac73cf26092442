"""What is heard: the wave, its loudness, the spectrum, and what is marked as not speech."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QImage, QPainter, QPen

from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.pixels import curve_pixels, draw_pixels, wave_pixels
from buccaphon.app.galley.sheet import Sheet
from buccaphon.app.theme import sans
from buccaphon.audio.spectrum import spectrogram
from buccaphon.timing import Span


def paint_sound(painter: QPainter, sheet: Sheet, height: int) -> None:
    width, look, peaks = int(sheet.right - MARGIN), sheet.layout.look, sheet.derived.peaks
    columns = peaks.columns(sheet.strip.start, sheet.strip.end, width)
    middle, half = height / 2, height / 2 - 3
    painter.setPen(QPen(sheet.theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, middle, sheet.right, middle))
    tall = look.gain / max(peaks.loudest(), 1e-6) * half
    inks = sheet.theme.wave_inks[look.wave_ink]
    draw_pixels(painter, MARGIN, 0, wave_pixels(columns, middle, tall, half, inks))
    if look.loudness:
        _loudness_curve(painter, sheet, height)
    _not_speech(painter, sheet, height)


def _loudness_curve(painter: QPainter, sheet: Sheet, height: int) -> None:
    loud = sheet.derived.loudness(sheet.bake.rate)
    draw_pixels(painter, MARGIN, 0, curve_pixels(sheet.frames_of_columns(), loud, height, sheet.theme.ink))


def _not_speech(painter: QPainter, sheet: Sheet, height: int) -> None:
    """Hatched, and said in words."""
    take = sheet.state.take
    strip = Span(sheet.strip.start, sheet.strip.end)
    for span in take.not_speech if take else ():
        if span.overlap(strip) <= 0:
            continue
        left, right = sheet.x(strip.clamp(span.start)), sheet.x(strip.clamp(span.end))
        area = QRectF(left, 0, right - left, height)
        veil = QColor(sheet.theme.paper)
        veil.setAlphaF(0.72)
        painter.fillRect(area, veil)
        painter.fillRect(area, QBrush(sheet.theme.color("ink_soft"), Qt.BrushStyle.BDiagPattern))
        if right - left > 70:
            painter.setFont(sans(11))
            tag = QRectF(left + 4, height / 2 - 9, 66, 18)
            painter.fillRect(tag, sheet.theme.color("paper"))
            painter.setPen(sheet.theme.color("ink"))
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, "not speech")


def paint_spectrum(painter: QPainter, sheet: Sheet, height: int) -> None:
    width = int(sheet.right - MARGIN)
    if width < 2 or height < 4:
        return
    strength = spectrogram(sheet.derived.recording, Span(sheet.strip.start, sheet.strip.end), width, height - 4)
    picture = QImage(
        np.ascontiguousarray(strength * 255, np.uint8), width, height - 4, width, QImage.Format.Format_Indexed8
    )
    paper, ink = sheet.theme.color("paper"), sheet.theme.color("ink")
    picture.setColorTable([_between(paper, ink, level / 255) for level in range(256)])
    painter.drawImage(QPointF(MARGIN, 2), picture)


def _between(paper: QColor, ink: QColor, share: float) -> int:
    parts = zip((paper.red(), paper.green(), paper.blue()), (ink.red(), ink.green(), ink.blue()), strict=True)
    return QColor(*(round(a + (b - a) * share) for a, b in parts)).rgb()
