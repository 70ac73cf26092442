"""Frames of a line, painted as the mirror shows them, in any size."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter

from buccaphon.demo import marigold
from buccaphon.formats.pictures import Piece, Pixels, Shot
from buccaphon.kits.kit import Kit
from buccaphon.motion.record import Bake
from buccaphon.painting.artwork.pixels import painting_on
from buccaphon.painting.characters.character import Character
from buccaphon.painting.mouths import paint_mouth, paint_shapes, plainly
from buccaphon.painting.pictures.moments import moment_of
from buccaphon.painting.pictures.pieces import pieces_of
from buccaphon.painting.theme import PAPER, Theme, sans, serif

_BAR = 0.08  # of the height: where texts stand
_CORNER = 0.42  # of the height: the character over the actor's picture
_INK, _SHADE = QColor("#ffffff"), QColor(30, 16, 24, 210)


class FramePainter:
    """For one bake and one character; None for Marigold drawn by poses."""

    def __init__(
        self,
        bake: Bake,
        kit: Kit | None,
        character: Character | None,
        theme: Theme = PAPER,
        in_full: Callable[[], Character] | None = None,
    ) -> None:
        """in_full: reads the character with nothing made smaller, for pictures in the artwork's own size."""
        self._bake, self._kit, self._character, self._theme = bake, kit, character, theme
        self._in_full = in_full
        self._exactly: Character | None = None
        if character is not None and kit is not None:
            character.play(kit, bake.chart)
        self._mouths = [exposure.mouth for exposure in bake.exposures for _ in range(exposure.length)]
        self._head: tuple[object, QImage] | None = None

    @property
    def frames(self) -> int:
        return self._bake.frames

    def pixels(self, frame: int, shot: Shot) -> Pixels:
        """(height, width, 4) with straight opacity. For the thread of the application alone: characters keep pictures that no
        other may touch."""
        return as_pixels(self.image(frame, shot))

    def image(self, frame: int, shot: Shot) -> QImage:
        image = _blank(shot.width, shot.height)
        with painting_on(image) as painter:
            painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
            self._paint(painter, frame, shot)
        return image

    def _paint(self, painter: QPainter, frame: int, shot: Shot) -> None:
        whole = QRectF(0, 0, shot.width, shot.height)
        if not shot.clear:
            painter.fillRect(whole, QColor(self._theme.mirror))
        box = whole
        if shot.exact and self._character is not None:
            self._paint_exactly(painter, frame, shot)
        elif shot.corner:
            side = _CORNER * shot.height
            box = QRectF(shot.width - side, shot.height * (1 - _BAR * any(shot.texts)) - side, side, side)
        elif any(shot.texts):
            box = whole.adjusted(0, 0, 0, -_BAR * shot.height)
        if not shot.exact:
            self._paint_character(painter, frame, box, shot)
        if any(shot.texts):
            self._paint_texts(painter, whole, shot.texts)

    def pieces(self) -> list[Piece]:
        """What the character is made of, in its artwork's own size. For the thread of the application alone."""
        return pieces_of(self._exact_character() if self._character is not None else None)

    def _exact_character(self) -> Character:
        """The character with nothing made smaller, read when it is first asked for."""
        if self._exactly is None:
            assert self._character is not None
            self._exactly = self._in_full() if self._in_full is not None else self._character
            if self._kit is not None:
                self._exactly.play(self._kit, self._bake.chart)
        return self._exactly

    def _paint_exactly(self, painter: QPainter, frame: int, shot: Shot) -> None:
        """The artwork in its own size and place: a pixel of it is a pixel of the picture."""
        character = self._exact_character()
        width, height = character.size()
        moment = moment_of(self._bake, self._bake.chart, self._kit, frame, self._mouths[frame])
        box = QRectF(0, 0, round(width), round(height))
        character.paint(painter, box, replace(moment, parts=shot.parts), plainly(self._theme))

    def _paint_character(self, painter: QPainter, frame: int, box: QRectF, shot: Shot) -> None:
        mouth = self._mouths[frame]
        if self._character is None:
            self._paint_marigold(painter, mouth, box, shot)
            return
        moment = replace(moment_of(self._bake, self._bake.chart, self._kit, frame, mouth), parts=shot.parts)
        margin = 0.03 * box.height()
        inner = box.adjusted(margin, margin, -margin, -margin)
        self._character.paint(painter, inner, moment, plainly(self._theme))

    def _paint_marigold(self, painter: QPainter, mouth: str, box: QRectF, shot: Shot) -> None:
        scale = min(box.width() / 1.9, box.height() / 1.86)
        middle = QPointF(box.center().x(), box.center().y() - 0.01 * scale)
        key = (shot.width, shot.height, shot.clear, box.getRect())
        if self._head is None or self._head[0] != key:
            self._head = key, self._head_once(shot, middle, scale)
        painter.drawImage(0, 0, self._head[1])
        (x, y), half = marigold.MOUTH_AT, marigold.MOUTH_SIZE
        spot = QRectF(0, 0, 2 * half * scale, 2 * half * 0.66 * scale)
        spot.moveCenter(middle + QPointF(x, y) * scale)
        chart = self._bake.chart
        paint_mouth(painter, chart.mouths[chart.index(mouth)].pose, spot, self._theme)

    def _head_once(self, shot: Shot, middle: QPointF, scale: float) -> QImage:
        """Everything but the mouth, painted once for each size."""
        image = _blank(shot.width, shot.height)
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.translate(middle)
        painter.scale(scale, scale)
        if not shot.clear:
            paint_shapes(painter, marigold.backdrop(), self._theme)
        paint_shapes(painter, marigold.face(), self._theme)
        painter.end()
        return image

    def _paint_texts(self, painter: QPainter, whole: QRectF, texts: tuple[str, str, str]) -> None:
        bar = QRectF(0, whole.height() * (1 - _BAR), whole.width(), whole.height() * _BAR)
        painter.fillRect(bar, _SHADE)
        painter.setPen(_INK)
        size = max(round(0.56 * bar.height()), 7)
        inner = bar.adjusted(0.4 * size, 0, -0.4 * size, 0)
        for text, along in zip(texts, ("AlignLeft", "AlignHCenter", "AlignRight"), strict=True):
            font = serif(size) if along == "AlignHCenter" else sans(size)
            painter.setFont(font)
            painter.drawText(inner, Qt.AlignmentFlag[along] | Qt.AlignmentFlag.AlignVCenter, text)


def label(left: str, right: str, width: int, height: int) -> Pixels:
    """A line of two texts on paper."""
    image = _blank(width, height)
    image.fill(QColor(PAPER.paper))
    painter = QPainter(image)
    painter.setFont(sans(max(round(0.6 * height), 6)))
    painter.setPen(QColor(PAPER.ink))
    box = QRectF(2, 0, width - 4, height)
    for text, along in ((left, Qt.AlignmentFlag.AlignLeft), (right, Qt.AlignmentFlag.AlignRight)):
        painter.drawText(box, along | Qt.AlignmentFlag.AlignVCenter, text)
    painter.end()
    return as_pixels(image)


def as_pixels(image: QImage) -> Pixels:
    """An image's own memory, copied: it does not outlive the image, and its lines may be padded."""
    straight = image.convertToFormat(QImage.Format.Format_RGBA8888)
    bits = straight.constBits()
    assert bits is not None
    lines = np.frombuffer(bits.asstring(straight.sizeInBytes()), np.uint8).reshape(straight.height(), -1)
    pixels: Pixels = lines[:, : 4 * straight.width()].reshape(straight.height(), straight.width(), 4).copy()
    return pixels


def _blank(width: int, height: int) -> QImage:
    image = QImage(width, height, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    return image
