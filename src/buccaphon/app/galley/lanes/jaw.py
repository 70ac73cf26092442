"""How far the jaw is open, as a filled curve."""

from __future__ import annotations

from PyQt6.QtCore import QLineF
from PyQt6.QtGui import QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.gesture import PlacePlayhead
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.pixels import curve_pixels, draw_pixels


def paint_jaw(painter: QPainter, content: StripContent, height: int) -> None:
    base = height - 1.0
    painter.setPen(QPen(content.theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, base, content.right, base))
    draw_pixels(
        painter,
        MARGIN,
        0,
        curve_pixels(
            content.frames_of_columns(), content.bake.jaw, height, content.theme.curve, content.theme.curve_fill
        ),
    )


def _shows(content: StripContent) -> object:
    first, last = content.frames()
    return content.bake.rate, content.bake.jaw[max(first - 1, 0) : last + 1].tobytes()


SPEC = LaneSpec(
    Lane.JAW,
    "How far the jaw is open",
    paint_jaw,
    _shows,
    PlacePlayhead,
)
