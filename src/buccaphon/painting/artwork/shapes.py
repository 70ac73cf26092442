"""Shapes from the core, painted."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import lru_cache

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen

from buccaphon.mouths.drawing import Path, Shape


@lru_cache(maxsize=2000)
def painter_path(path: Path) -> QPainterPath:
    drawn = QPainterPath()
    for name, *numbers in path:
        points = [QPointF(float(x), float(y)) for x, y in zip(numbers[::2], numbers[1::2], strict=True)]
        if name == "M":
            drawn.moveTo(points[0])
        elif name == "L":
            drawn.lineTo(points[0])
        elif name == "C":
            drawn.cubicTo(*points)
        else:
            drawn.closeSubpath()
    return drawn


def paint_shapes(painter: QPainter, shapes: Iterable[Shape], color: Callable[[str], QColor]) -> None:
    """Paint in the painter's current coordinates. color: of a role, or of '#rrggbb'."""
    for shape in shapes:
        path = painter_path(shape.path)
        ink = color(shape.paint)
        if shape.alpha < 1:
            ink = QColor(ink)
            ink.setAlphaF(shape.alpha)
        if shape.clip is not None:
            painter.save()
            painter.setClipPath(painter_path(shape.clip), Qt.ClipOperation.IntersectClip)
        if shape.stroke:
            pen = QPen(ink, shape.stroke)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.strokePath(path, pen)
        else:
            painter.fillPath(path, ink)
        if shape.clip is not None:
            painter.restore()
