"""Shapes from the core, painted with Qt."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPixmap

from buccaphon.app.style.theme import Theme
from buccaphon.mouths.drawing import Path, Shape, lips
from buccaphon.mouths.pose import Pose


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


def paint_shapes(painter: QPainter, shapes: Iterable[Shape], theme: Theme) -> None:
    """Paint in the painter's current coordinates."""
    for shape in shapes:
        path = painter_path(shape.path)
        color = theme.color(shape.paint)
        if shape.alpha < 1:
            color = QColor(color)
            color.setAlphaF(shape.alpha)
        if shape.clip is not None:
            painter.save()
            painter.setClipPath(painter_path(shape.clip), Qt.ClipOperation.IntersectClip)
        if shape.stroke:
            pen = QPen(color, shape.stroke)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.strokePath(path, pen)
        else:
            painter.fillPath(path, color)
        if shape.clip is not None:
            painter.restore()


def paint_mouth(painter: QPainter, pose: Pose, box: QRectF, theme: Theme) -> None:
    """A mouth as large as fits a box."""
    scale = min(box.width() / 2.1, box.height() / 1.32)
    painter.save()
    painter.translate(box.center().x(), box.center().y() - 0.18 * scale)
    painter.scale(scale, scale)
    paint_shapes(painter, lips(pose), theme)
    painter.restore()


@lru_cache(maxsize=1500)
def mouth_picture(pose: Pose, width: int, height: int, ratio: float, theme: Theme) -> QPixmap:
    """A mouth in a box of whole pixels, drawn once for each size."""
    picture = blank(width, height, ratio)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint_mouth(painter, pose, QRectF(0, 0, width, height), theme)
    painter.end()
    return picture


def blank(width: int, height: int, ratio: float) -> QPixmap:
    """A transparent picture for a screen with `ratio` dots a pixel."""
    picture = QPixmap(max(round(width * ratio), 1), max(round(height * ratio), 1))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    return picture
