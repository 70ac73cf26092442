"""Cutting a piece out of a picture along curves: masks with soft edges, and how pieces move.

All in the coordinates of the picture as it is kept.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPainterPath, QTransform

from buccaphon.kits.kit import CutOut, Move, Moving, Point
from buccaphon.numerics import scipy_part
from buccaphon.painting.artwork.pixels import Picture, as_array, from_array, painted, painting_on

_DEFAULT_DEPTH = 0.55  # of the mouth's width: how far down a piece goes that nobody closed with a curve


def smooth_curve(points: Sequence[Point], *, closed: bool = False) -> QPainterPath:
    """A curve through all points (Catmull-Rom, as cubic Béziers), back to the first if it is closed; a line where there are
    two. A point that stands twice is a corner, and between two corners the line is straight."""
    path = QPainterPath()
    if not points:
        return path
    at = [QPointF(*point) for point in points]
    count = len(at)
    path.moveTo(at[0])
    for number in range(count if closed else count - 1):
        here, there = at[number], at[(number + 1) % count]
        if here == there:
            continue
        before = at[number - 1] if closed or number else here
        after = at[(number + 2) % count] if closed or number + 2 < count else there
        path.cubicTo(here + (there - before) / 6, there - (after - here) / 6, there)
    if closed:
        path.closeSubpath()
    return path


def from_left(points: Sequence[Point]) -> list[Point]:
    """A lip line from its left to its right corner, however it was drawn."""
    return list(points) if not points or points[0][0] <= points[-1][0] else list(reversed(points))


def piece_path(look: CutOut) -> QPainterPath:
    """Around the piece: along the lip line, and back along the chin."""
    lip = from_left(look.lip_line)
    path = smooth_curve(lip)
    if len(lip) < 2:
        return path
    left, right = lip[0], lip[-1]
    if len(look.chin) >= 2:
        chin = list(reversed(from_left(look.chin)))
        path.lineTo(QPointF(*chin[0]))
        path.connectPath(smooth_curve(chin))
    else:
        deep = _DEFAULT_DEPTH * max(right[0] - left[0], 1.0)
        lowest = max(y for _, y in lip) + deep
        path.cubicTo(QPointF(right[0], lowest), QPointF(left[0], lowest), QPointF(*left))
    path.closeSubpath()
    return path


def outline_path(points: Sequence[Point]) -> QPainterPath:
    """Around a part: a closed smooth curve through its points; nothing where there are fewer than three."""
    return smooth_curve(points, closed=True) if len(points) > 2 else QPainterPath()


def cut(image: QImage, path: QPainterPath, soft: float, overlap: float = 0.0) -> Picture:
    """What lies inside a path, with a soft edge `soft` pixels wide outwards, and `overlap` pixels more on the upper side."""
    reach = round(2 * soft + overlap) + 2
    box = path.boundingRect().adjusted(-reach, -reach, reach, reach).toAlignedRect() & image.rect()
    if box.isEmpty():
        return Picture(QImage(), 0, 0)
    mask = painted(box.width(), box.height(), lambda painter: _fill(painter, path, box.x(), box.y(), overlap))
    alpha = as_array(mask)[..., 3].astype(np.float32)
    if soft > 0:
        gaussian_filter = scipy_part("ndimage").gaussian_filter

        alpha = np.clip(2.0 * gaussian_filter(alpha, soft / 2, mode="nearest"), 0, 255)  # opaque inside, soft outside
    pixels = as_array(image.copy(box))
    pixels[..., 3] = (pixels[..., 3] * (alpha / 255.0)).astype(np.uint8)
    return Picture(from_array(pixels), box.x(), box.y())


def _fill(painter: QPainter, path: QPainterPath, x: int, y: int, overlap: float) -> None:
    painter.translate(-x, -y)
    painter.fillPath(path, Qt.GlobalColor.black)
    if overlap > 0:
        painter.fillPath(path.translated(0, -overlap), Qt.GlobalColor.black)


@dataclass(frozen=True, slots=True)
class OwnMove:
    """How a piece moves besides its way with the jaw: slid by x and y pixels, turned by degrees, grown by factors across
    and down."""

    x: float = 0.0
    y: float = 0.0
    degrees: float = 0.0
    width: float = 1.0
    height: float = 1.0

    @property
    def is_still(self) -> bool:
        return self == OwnMove()


def moved_by_itself(own: OwnMove, about: Point) -> QTransform:
    """Turned and grown about a point, then slid."""
    x, y = about
    turned = QTransform.fromTranslate(x + own.x, y + own.y).rotate(own.degrees)
    return turned.scale(own.width, own.height).translate(-x, -y)


def moved_by(move: Move, share: float) -> QTransform:
    """Where a piece comes to be at a share of its move."""
    if move.moving is Moving.SLIDES:
        return QTransform.fromTranslate(move.x * share, move.y * share)
    x, y = move.pivot
    return QTransform.fromTranslate(x, y).rotate(move.degrees * share).translate(-x, -y)


def hole_path(look: CutOut, move: QTransform) -> QPainterPath:
    """What is seen into: between the lip line and where the piece's own edge has gone."""
    lip = from_left(look.lip_line)
    path = smooth_curve(lip)
    if len(lip) < 2:
        return path
    gone = move.map(smooth_curve(list(reversed(lip))))
    path.connectPath(gone)
    path.closeSubpath()
    return path


def erased(image: QImage, path: QPainterPath, soft: float) -> QImage:
    """The picture without what lies inside a path."""
    taken = cut(image, path, soft)
    left = image.copy()
    if taken.is_empty:
        return left
    with painting_on(left) as painter:
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_DestinationOut)
        painter.drawImage(taken.x, taken.y, taken.image)
    return left


def mouth_box(look: CutOut) -> QRectF:
    """The mouth with what opens below it."""
    box = piece_path(look).boundingRect()
    deep = abs(look.move.y) if look.move.moving is Moving.SLIDES else 0.35 * box.height()
    return box.adjusted(-0.1 * box.width(), -0.25 * box.height(), 0.1 * box.width(), deep)
