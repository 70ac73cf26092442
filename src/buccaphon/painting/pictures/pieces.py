"""What a character is made of, piece by piece, in its artwork's own size."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QImage, QPainter

from buccaphon.formats.pictures import Piece
from buccaphon.painting.artwork.pixels import Picture, as_array, painted
from buccaphon.painting.characters.character import Character
from buccaphon.painting.characters.cut_out import CutOutCharacter
from buccaphon.painting.characters.drawn import DrawnCharacter


def pieces_of(character: Character | None) -> list[Piece]:
    """From the lowest up. character: played, and read with nothing made smaller; none of a head or of Marigold by poses."""
    if isinstance(character, DrawnCharacter):
        return [_piece(name, role, _on_canvas(character, paint)) for name, role, paint in character.layers()]
    if isinstance(character, CutOutCharacter):
        layers = character.layers()
        return [
            _piece(name, role, _on_canvas(character, _laid(picture)), pivot) for name, role, picture, pivot in layers
        ]
    return []


def _laid(picture: Picture) -> Callable[[QPainter], None]:
    def paint(painter: QPainter) -> None:
        if not picture.is_empty:
            painter.drawImage(QPointF(picture.x, picture.y), picture.image)

    return paint


def _on_canvas(character: Character, paint: Callable[[QPainter], None]) -> QImage:
    width, height = character.size()
    return painted(round(width), round(height), paint)


def _piece(name: str, role: str, image: QImage, pivot: tuple[float, float] | None = None) -> Piece:
    pixels = as_array(image)
    ys, xs = np.nonzero(pixels[..., 3])
    if not len(ys):
        return Piece(name, role, pixels, 0, 0, 0, 0, pivot or (0.0, 0.0))
    x, y = int(xs.min()), int(ys.min())
    width, height = int(xs.max()) - x + 1, int(ys.max()) - y + 1
    return Piece(name, role, pixels, x, y, width, height, pivot or (x + width / 2, y + height / 2))
