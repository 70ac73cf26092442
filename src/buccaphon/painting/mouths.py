"""Shapes from the core, painted with Qt."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPixmap

from buccaphon.mouths.drawing import Shape, lips
from buccaphon.mouths.pose import Pose
from buccaphon.painting.artwork.shapes import paint_shapes as shapes_in_colors
from buccaphon.painting.characters.character import PaintPlainly
from buccaphon.painting.theme import Theme


def paint_shapes(painter: QPainter, shapes: Iterable[Shape], theme: Theme) -> None:
    """Paint in the painter's current coordinates, in the theme's colours."""
    shapes_in_colors(painter, shapes, theme.color)


def paint_mouth(painter: QPainter, pose: Pose, box: QRectF, theme: Theme) -> None:
    """A mouth as large as fits a box."""
    scale = min(box.width() / 2.1, box.height() / 1.32)
    painter.save()
    painter.translate(box.center().x(), box.center().y() - 0.18 * scale)
    painter.scale(scale, scale)
    paint_shapes(painter, lips(pose), theme)
    painter.restore()


def plainly(theme: Theme) -> PaintPlainly:
    """Draws a mouth by its pose in the theme's colours."""

    def paint(painter: QPainter, pose: Pose, box: QRectF) -> None:
        paint_mouth(painter, pose, box, theme)

    return paint


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
