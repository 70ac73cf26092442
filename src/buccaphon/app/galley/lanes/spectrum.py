"""The spectrogram, with the frequencies that loudness is taken from."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QColor, QImage, QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.spectrum import HertzScale, lifts_cut, press_spectrum
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.audio.spectrum import highest_of, spectrogram
from buccaphon.painting.theme import sans
from buccaphon.texts import N_, _
from buccaphon.timing import Span


def paint_spectrum(painter: QPainter, content: StripContent, height: int) -> None:
    width = int(content.right - MARGIN)
    if width < 2 or height < 4:
        return
    strength = spectrogram(content.derived.recording, Span(content.strip.start, content.strip.end), width, height - 4)
    pixels = np.ascontiguousarray(strength * 255, np.uint8).tobytes()
    picture = QImage(pixels, width, height - 4, width, QImage.Format.Format_Indexed8)
    paper, ink = content.theme.color("paper"), content.theme.color("ink")
    picture.setColorTable([_between(paper, ink, level / 255) for level in range(256)])
    painter.drawImage(QPointF(MARGIN, 2), picture)
    _paint_range(painter, content, height)


def _paint_range(painter: QPainter, content: StripContent, height: int) -> None:
    """Lines to be dragged, where not all frequencies are used; what is left out is veiled."""
    take = content.state.take
    if take is None or not any(take.loudness_settings.edges):
        return
    scale = HertzScale(highest_of(content.derived.recording.rate), height)
    low, high = scale.edges(take.loudness_settings)
    bottom, top = scale.y(low), scale.y(high)
    veil = QColor(content.theme.paper)
    veil.setAlphaF(0.6)
    width = content.right - MARGIN
    painter.fillRect(QRectF(MARGIN, 0, width, top), veil)
    painter.fillRect(QRectF(MARGIN, bottom, width, height - bottom), veil)
    painter.setPen(QPen(content.theme.color("pin"), 1.4))
    for y in (bottom, top):
        painter.drawLine(QLineF(MARGIN, y, content.right, y))
    if not content.strip.number:
        painter.setFont(sans(10))
        painter.drawText(
            QPointF(MARGIN + 3, min(top + 11, height - 3)), _("{low:.0f} to {high:.0f} Hz", low=low, high=high)
        )


def _between(paper: QColor, ink: QColor, share: float) -> int:
    parts = zip((paper.red(), paper.green(), paper.blue()), (ink.red(), ink.green(), ink.blue()), strict=True)
    return QColor(*(round(a + (b - a) * share) for a, b in parts)).rgb()


def _shows(content: StripContent) -> Shown:
    take = content.state.take
    return Shown((id(content.derived), take and take.loudness_settings.edges))


SPEC = LaneSpec(
    Lane.SPECTRUM,
    N_(
        "Spectrogram up to 8 kHz · drag to scrub\nDrag its lower or upper edge to choose the frequencies that loudness uses"
    ),
    paint_spectrum,
    _shows,
    press_spectrum,
    lifts=lifts_cut,
)
