"""The spectrogram."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QImage, QPainter

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.sound import press_sound
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.audio.spectrum import spectrogram
from buccaphon.texts import N_
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


def _between(paper: QColor, ink: QColor, share: float) -> int:
    parts = zip((paper.red(), paper.green(), paper.blue()), (ink.red(), ink.green(), ink.blue()), strict=True)
    return QColor(*(round(a + (b - a) * share) for a, b in parts)).rgb()


def _shows(content: StripContent) -> Shown:
    return Shown(id(content.derived))


SPEC = LaneSpec(
    Lane.SPECTRUM,
    N_("Spectrogram up to 8 kHz · drag to scrub"),
    paint_spectrum,
    _shows,
    press_sound,
)
