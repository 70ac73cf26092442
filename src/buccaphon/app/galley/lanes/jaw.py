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
from buccaphon.app.galley.shown import Shown

_PIECE = 8  # frames that are painted again together


def paint_jaw(painter: QPainter, content: StripContent, height: int) -> None:
    base = height - 1.0
    painter.setPen(QPen(content.theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, base, content.right, base))
    theme = content.theme
    pixels = curve_pixels(content.frames_of_columns(), content.bake.jaw, height, theme.curve, theme.curve_fill)
    draw_pixels(painter, MARGIN + content.columns()[0], 0, pixels)


def _shows(content: StripContent) -> Shown:
    rate, jaw = content.bake.rate, content.bake.jaw
    first, last = content.frames()
    pieces = range(max(first - 1, 0) // _PIECE * _PIECE, last + 1, _PIECE)
    parts = ((rate.seconds(at - 1), rate.seconds(at + _PIECE + 1), jaw[at : at + _PIECE].tobytes()) for at in pieces)
    return Shown(rate, tuple(parts))


SPEC = LaneSpec(
    Lane.JAW,
    "How far the jaw is open",
    paint_jaw,
    _shows,
    PlacePlayhead,
)
