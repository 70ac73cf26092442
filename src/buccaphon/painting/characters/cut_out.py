"""A cut-out character: a picture of which the piece below the lip line moves with the jaw, and parts that follow it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QTransform

from buccaphon.formats.pictures import Parts
from buccaphon.kits.kit import CutOut, Kit, Move, Moving, Part
from buccaphon.mouths.chart import Chart, Mouth
from buccaphon.painting.artwork.cutting import (
    OwnMove,
    cut,
    erased,
    hole_path,
    mouth_box,
    moved_by,
    moved_by_itself,
    outline_path,
    piece_path,
)
from buccaphon.painting.artwork.pixels import Picture, painted, scaled
from buccaphon.painting.characters.character import Moment, PaintPlainly, fit

_INTERSECT = Qt.ClipOperation.IntersectClip
_NONE: Mapping[str, tuple[float, str]] = {}
_SHUT = 1e-3  # of a dropped jaw: below, nothing has moved
_LEAST_SIZE = 0.01  # of a piece: what is smaller cannot be turned back


@dataclass(frozen=True, eq=False)
class Pictures:
    """The pictures of a cut-out as they are kept. share: how much smaller that is than the file's. piece_apart: its picture
    is of another size than the face, and hangs from the lip line."""

    face: QImage
    share: float = 1.0
    piece: Picture | None = None
    piece_apart: bool = False
    inside: QImage | None = None


class CutOutCharacter:
    """What moves is cut anew when the curves change."""

    def __init__(self, pictures: Pictures, told: tuple[str, ...] = ()) -> None:
        self._pictures, self.told = pictures, told
        self.own: tuple[str, ...] = ()
        self._look = CutOut()
        self._piece: Picture | None = None
        self._parts: list[tuple[Part, Picture]] = []
        self._base = pictures.face
        self._cut_for: object = None
        self._kept: dict[int, QImage] = {}
        self._kept_for = (0.0, 0.0)

    def play(self, kit: Kit, chart: Chart) -> None:
        del chart
        assert isinstance(kit.look, CutOut)
        look = self._look = _shrunk(kit.look, self._pictures.share)
        wanted = (
            look.lip_line,
            look.chin,
            look.soft,
            look.overlap,
            [(p.outline, p.carries, p.lifted) for p in look.parts],
        )
        if wanted != self._cut_for:
            self._cut_for = wanted
            self._cut()

    def _cut(self) -> None:
        look, face = self._look, self._pictures.face
        self._piece = self._pictures.piece
        if self._piece is not None and self._pictures.piece_apart and look.lip_line:
            middle = piece_path(look).boundingRect().center().x() - self._piece.image.width() / 2
            self._piece = Picture(self._piece.image, round(middle), round(min(y for _, y in look.lip_line)))
        elif self._piece is None and len(look.lip_line) >= 2:
            self._piece = cut(face, piece_path(look), look.soft, look.overlap)
        shapes = [(part, outline_path(part.outline)) for part in look.parts]
        self._parts = [(part, cut(face, shape, look.soft)) for part, shape in shapes if not shape.isEmpty()]
        self._base = face
        for part, shape in shapes:
            if (part.carries or part.lifted) and not shape.isEmpty():
                self._base = erased(self._base, shape, look.soft)

    def layers(self) -> list[tuple[str, str, Picture, tuple[float, float] | None]]:
        """Name, role, picture and pivot of each piece: what stays, what carries the mouth, the lips' piece, other parts."""
        look = self._look
        carrying = [(p.name, "part", picture, _pivot_of(p.move)) for p, picture in self._parts if p.carries]
        others = [(p.name, "part", picture, _pivot_of(p.move)) for p, picture in self._parts if not p.carries]
        lips = [] if self._piece is None else [(look.name, "piece", self._piece, _pivot_of(look.move))]
        return [("face", "face", Picture(self._base, 0, 0), None), *carrying, *lips, *others]

    def size(self) -> tuple[float, float]:
        share = self._pictures.share
        return self._pictures.face.width() / share, self._pictures.face.height() / share

    def draws(self, mouth: str) -> bool:
        del mouth
        return self._piece is not None and not self._piece.is_empty

    def paint(self, painter: QPainter, box: QRectF, moment: Moment, plain: PaintPlainly) -> None:
        del plain
        face = self._pictures.face
        area = fit(face.width(), face.height(), box)
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        scale = area.width() / face.width()
        painter.save()
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        painter.setClipRect(area, _INTERSECT)
        painter.translate(area.topLeft())
        self._paint_at(painter, moment.jaw, scale, ratio, moment.own, moment.parts)
        painter.restore()

    def mouth_image(self, mouth: Mouth, width: int, height: int, plain: PaintPlainly) -> QImage:
        del plain
        around = mouth_box(self._look)

        def draw(painter: QPainter) -> None:
            area = fit(around.width(), around.height(), QRectF(0, 0, width, height))
            scale = area.width() / around.width()
            painter.setClipRect(area)
            painter.translate(area.topLeft() - around.topLeft() * scale)
            self._paint_at(painter, mouth.pose.jaw, scale, 1.0)

        return painted(width, height, draw)

    def _paint_at(
        self,
        painter: QPainter,
        jaw: float,
        scale: float,
        ratio: float,
        own: Mapping[str, tuple[float, str]] = _NONE,
        parts: Parts = Parts.ALL,
    ) -> None:
        """At a scale, from the picture's upper left corner. own: channels of one's own, which pieces of their names follow
        instead of the jaw."""
        moves = {part.name: self._move_of(part, part.share * jaw, own) for part, _ in self._parts}
        lip = self._move_of(self._lip_part, jaw, own)
        is_still = lip.isIdentity() and all(each.isIdentity() for each in moves.values())
        if self._piece is None or (is_still and parts is Parts.ALL):
            self._lay(painter, Picture(self._pictures.face, 0, 0), scale, ratio)
            return
        if parts is not Parts.MOUTH:
            self._lay(painter, Picture(self._base, 0, 0), scale, ratio)
        if parts is Parts.FACE:
            return
        for part, picture in self._parts:
            if part.carries:
                painter.setTransform(_scaled_move(moves[part.name], scale), True)
                self._lay(painter, picture, scale, ratio)
        self._paint_inside(painter, hole_path(self._look, lip), scale)
        self._lay_moved(painter, self._piece, lip, scale, ratio)
        for part, picture in self._parts:
            if not part.carries:
                self._lay_moved(painter, picture, moves[part.name], scale, ratio)

    @property
    def _lip_part(self) -> Part:
        """The piece below the lips as a part like the others."""
        return Part(self._look.name, self._look.lip_line, self._look.move)

    def _move_of(self, part: Part, much: float, own: Mapping[str, tuple[float, str]]) -> QTransform:
        """Where a piece comes to be: on its way with the jaw or the channel of its name, and by the channels of its own."""
        share = self._pictures.share
        way = moved_by(part.move, _much(part, much, own, share))
        free = _own_move(part.name, own, share)
        if free.is_still or not part.outline:
            return way if abs(much) >= _SHUT or part.name in own else QTransform()
        is_turned = part.move.moving is Moving.TURNS
        middle = outline_path(part.outline).boundingRect().center()
        return moved_by_itself(free, part.move.pivot if is_turned else (middle.x(), middle.y())) * way

    def _paint_inside(self, painter: QPainter, hole: QPainterPath, scale: float) -> None:
        painter.save()
        painter.scale(scale, scale)
        if self._pictures.inside is None:
            painter.fillPath(hole, QColor(self._look.inside))
        else:
            painter.setClipPath(hole, _INTERSECT)
            inside = self._pictures.inside
            painter.fillRect(hole.boundingRect(), QColor(self._look.inside))
            painter.drawImage(fit(inside.width(), inside.height(), mouth_box(self._look)), inside)
        painter.restore()

    def _lay_moved(self, painter: QPainter, picture: Picture, move: QTransform, scale: float, ratio: float) -> None:
        painter.save()
        painter.setTransform(_scaled_move(move, scale), True)
        self._lay(painter, picture, scale, ratio)
        painter.restore()

    def _lay(self, painter: QPainter, picture: Picture, scale: float, ratio: float) -> None:
        """A picture at a scale; made smaller once, and kept while the scale is the same."""
        if picture.is_empty:
            return
        if self._kept_for != (scale, ratio):
            self._kept.clear()
            self._kept_for = (scale, ratio)
        key = picture.image.cacheKey()
        kept = self._kept.get(key)
        if kept is None:
            kept = self._kept[key] = QImage(scaled(picture.image, scale * ratio))
            kept.setDevicePixelRatio(ratio)
        painter.drawImage(QPointF(picture.x * scale, picture.y * scale), kept)


def _pivot_of(move: Move) -> tuple[float, float] | None:
    return move.pivot if move.moving is Moving.TURNS else None


def _own_move(name: str, own: Mapping[str, tuple[float, str]], share: float) -> OwnMove:
    """What the channels “name x”, “name y”, “name turn”, “name size”, “name width” and “name height” say: pixels of the
    picture, degrees, and sizes as factors or in percent."""
    if not name:
        return OwnMove()

    def value(which: str, rest: float) -> float:
        found, unit = own.get(f"{name} {which}", (rest, ""))
        return found / 100 if unit == "%" else found

    size = value("size", 1.0)
    wide, high = (max(size * value(which, 1.0), _LEAST_SIZE) for which in ("width", "height"))
    return OwnMove(value("x", 0.0) * share, value("y", 0.0) * share, value("turn", 0.0), wide, high)


def _much(part: Part, much: float, own: Mapping[str, tuple[float, str]], share: float) -> float:
    """How far a piece goes on its way: with the jaw, or as the channel of its name says, in pixels of the picture or degrees
    where it is in these. share: how much smaller the picture is kept."""
    if part.name not in own:
        return much
    (value, unit), move = own[part.name], part.move
    slides = move.moving is Moving.SLIDES
    way = math.hypot(move.x, move.y) if slides else move.degrees
    if unit == "%":
        return value / 100
    if unit == ("px" if slides else "degrees") and abs(way) > _SHUT:
        return value * (share if slides else 1.0) / way
    return value


def _scaled_move(move: QTransform, scale: float) -> QTransform:
    """The same move in a picture of another scale."""
    return QTransform.fromScale(1 / scale, 1 / scale) * move * QTransform.fromScale(scale, scale)


def _shrunk(look: CutOut, share: float) -> CutOut:
    """The same in the pixels of pictures that are kept smaller."""
    if share == 1.0:
        return look

    def points(those: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        return tuple((x * share, y * share) for x, y in those)

    def move(that: Move) -> Move:
        return replace(that, x=that.x * share, y=that.y * share, pivot=points((that.pivot,))[0])

    parts = tuple(replace(each, outline=points(each.outline), move=move(each.move)) for each in look.parts)
    return replace(
        look,
        lip_line=points(look.lip_line),
        chin=points(look.chin),
        move=move(look.move),
        parts=parts,
        soft=look.soft * share,
        overlap=look.overlap * share,
    )
