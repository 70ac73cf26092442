"""Our few icons, drawn as strokes in a box of 24."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPainterPath, QPen, QPixmap

from buccaphon.mouths.drawing import Path
from buccaphon.painting.artwork.shapes import painter_path

_STROKES: dict[str, tuple[Path, ...]] = {
    "take": tuple((("M", x, 12 - h), ("L", x, 12 + h)) for x, h in ((4, 2), (8, 6), (12, 9), (16, 5), (20, 2.5))),
    "script": tuple((("M", 4, y), ("L", x, y)) for y, x in ((6, 20), (11, 17), (16, 20), (21, 11))),
    "mouths": (
        (("M", 2.5, 12), ("C", 7, 6, 9.5, 6, 12, 8), ("C", 14.5, 6, 17, 6, 21.5, 12)),
        (("M", 2.5, 12), ("C", 7, 20.5, 17, 20.5, 21.5, 12)),
        (("M", 6, 12), ("C", 10, 14, 14, 14, 18, 12)),
    ),
    "motion": (
        (("M", 3, 18), ("C", 7, 18, 7, 6, 11, 6), ("C", 15, 6, 14, 15, 17, 15), ("C", 19, 15, 19, 11, 21, 10)),
        (("M", 9.6, 4.6), ("L", 12.4, 4.6), ("L", 12.4, 7.4), ("L", 9.6, 7.4), ("L", 9.6, 4.6)),
    ),
    "export": (
        (("M", 12, 3), ("L", 12, 15)),
        (("M", 7, 10), ("L", 12, 15), ("L", 17, 10)),
        (("M", 4, 16), ("L", 4, 21), ("L", 20, 21), ("L", 20, 16)),
    ),
    "menu": tuple((("M", 4, y), ("L", 20, y)) for y in (8, 14)),
    "loop": (
        (("M", 5, 13), ("C", 5, 5, 15, 5, 19, 9)),
        (("M", 19, 4), ("L", 19, 9), ("L", 14, 9)),
        (("M", 19, 12), ("C", 19, 20, 9, 20, 5, 16)),
        (("M", 5, 21), ("L", 5, 16), ("L", 10, 16)),
    ),
    "back": ((("M", 15, 5), ("L", 8, 12), ("L", 15, 19)), (("M", 4, 5), ("L", 4, 19))),
    "forward": ((("M", 9, 5), ("L", 16, 12), ("L", 9, 19)), (("M", 20, 5), ("L", 20, 19))),
}


def icon(name: str, color: str, pixels: int = 20) -> QIcon:
    return QIcon(_pixmap(name, color, pixels))


def two_state_icon(name: str, off: str, on: str, pixels: int = 20) -> QIcon:
    """An icon with another colour while its button is checked."""
    found = QIcon(_pixmap(name, off, pixels))
    found.addPixmap(_pixmap(name, on, pixels), QIcon.Mode.Normal, QIcon.State.On)
    return found


def _pixmap(name: str, color: str, pixels: int) -> QPixmap:
    ratio = 2
    picture = QPixmap(QSize(pixels * ratio, pixels * ratio))
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(pixels * ratio / 24, pixels * ratio / 24)
    if name == "play":
        shape = QPainterPath(QPointF(7, 4))
        shape.lineTo(20, 12)
        shape.lineTo(7, 20)
        shape.closeSubpath()
        painter.fillPath(shape, QColor(color))
    elif name == "stop":
        for x in (6, 14):
            painter.fillRect(QRectF(x, 4, 4.5, 16), QColor(color))
    else:
        pen = QPen(QColor(color), 1.9, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin)
        for stroke in _STROKES[name]:
            painter.strokePath(painter_path(stroke), pen)
    painter.end()
    picture.setDevicePixelRatio(ratio)
    return picture
