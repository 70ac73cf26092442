"""Pictures as they are looked at, to find out what each is for."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

from PyQt6.QtGui import QPainter

from buccaphon.kits.own.seen import OPAQUE, Pixels
from buccaphon.painting.artwork.pixels import Picture, as_array, painted, scaled


class LookedPicture:
    """A picture on a canvas, made when something is first asked of it."""

    def __init__(self, make: Callable[[], Picture], width: int, height: int) -> None:
        self._make, self._width, self._height = make, width, height

    @cached_property
    def picture(self) -> Picture:
        return self._make()

    @cached_property
    def cover(self) -> float:
        """The share of the canvas that it covers, 0..1."""
        if self.picture.is_empty:
            return 0.0
        opaque = int((as_array(self.picture.image)[..., 3] > OPAQUE).sum())
        return min(opaque / max(self._width * self._height, 1), 1.0)

    def pixels(self, longest: int) -> Pixels:
        """It on the whole canvas, no longer than so many pixels on the longer side."""
        share = min(1.0, longest / max(self._width, self._height, 1))
        image = scaled(self.picture.image, share)

        def draw(painter: QPainter) -> None:
            if not self.picture.is_empty:
                painter.drawImage(round(self.picture.x * share), round(self.picture.y * share), image)

        return as_array(painted(round(self._width * share), round(self._height * share), draw))
