"""A drawn character: one drawing a mouth, between what lies under it and over it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage, QPainter, QPixmap

from buccaphon.formats.pictures import Parts
from buccaphon.kits.casting import for_chart
from buccaphon.kits.kit import Drawn, Kit
from buccaphon.kits.names.matching import match_chart
from buccaphon.kits.own.table import NOTHING
from buccaphon.mouths.chart import Chart, Mouth
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.names import without_face_words
from buccaphon.painting.artwork.pixels import Picture, painted, scaled
from buccaphon.painting.characters.character import Moment, PaintPlainly, fit

_LEAST_SHOWN = 0.02  # of the canvas: no mouth is so small that it could not be seen
_MARGIN = 0.06
_LISTED = (288.0, 188.0)  # pixels: somewhat larger than a mouth is shown in lists and lanes


class DrawnCharacter:
    """Drawings of a mouth on one canvas. What is scaled to the size on show is kept until the size is another."""

    def __init__(self, art: Artwork) -> None:
        self._art = art
        self.told, self.own = tuple(art.told), art.names
        self.drawings, self.has_mouth = art.all, art.has_mouth
        self._look = Drawn()
        self._shows: Mapping[str, tuple[Picture, ...]] = {}
        self._faces: Mapping[str, Picture] = {}
        self._mouths_box = _box_of(art.drawings.values(), art.width, art.height)
        self._kept: dict[object, QPixmap] = {}
        self._kept_for = 0.0
        box = self._with_margin()
        self._listed_scale = min(fit(box.width(), box.height(), QRectF(0, 0, *_LISTED)).width() / box.width(), 1.0)
        # made here, where the files are read: ten full drawings at once would hold up whoever lists them
        self._listed = {
            id(each): scaled(each.image, self._listed_scale) for each in art.drawings.values() if not each.is_empty
        }

    def play(self, kit: Kit, chart: Chart) -> None:
        assert isinstance(kit.look, Drawn)
        self._look = kit.look
        kit = for_chart(kit, chart)
        pictures = self._art.others | self._art.drawings
        self._shows = {}
        for mouth in chart.names:
            names = kit.shown_by(mouth)
            found = tuple(pictures[name] for name in names if name in pictures)
            if found or NOTHING in names:
                self._shows[mouth] = found
        bare = {without_face_words(name): name for name in self._art.faces}
        faces = (match for match in match_chart(list(bare), chart).found if match.sure)
        self._faces = {match.target: self._art.faces[bare[match.name]] for match in faces}

    def size(self) -> tuple[float, float]:
        return self._art.width / self._art.share, self._art.height / self._art.share

    def draws(self, mouth: str) -> bool:
        return mouth in self._shows

    def has(self, name: str) -> bool:
        """Whether it has a drawing of that name, whatever it is for."""
        return name in self._art.drawings or name in self._art.others

    @property
    def mouths_box(self) -> QRectF:
        """Where the mouths are on the canvas, as they are put, in the kit's pixels."""
        box = self._placed(self._mouths_box)
        share = self._art.share
        return QRectF(box.x() / share, box.y() / share, box.width() / share, box.height() / share)

    def layers(self) -> list[tuple[str, str, Callable[[QPainter], None]]]:
        """Name and role of each piece, and what paints it on the canvas as it is kept: face, mouths, what lies over."""

        def laid(picture: Picture, *, is_mouth: bool) -> Callable[[QPainter], None]:
            return lambda painter: self._lay(painter, picture, QPointF(0, 0), 1.0, 1.0, is_mouth=is_mouth)

        art = self._art
        faces = [
            (f"face {n}" if n > 1 else "face", "face", laid(p, is_mouth=False)) for n, p in enumerate(art.under, 1)
        ]
        mouths = [(name, "mouth", laid(p, is_mouth=True)) for name, p in art.drawings.items()]
        over = [(f"over {n}" if n > 1 else "over", "over", laid(p, is_mouth=False)) for n, p in enumerate(art.over, 1)]
        return [*faces, *mouths, *over]

    def own_image(self, name: str, width: int, height: int) -> QImage:
        """One of its drawings alone, as large as fits."""
        picture = (self._art.others | self._art.drawings)[name]
        whole = (
            self._mouths_box if name in self._art.drawings else _box_of([picture], self._art.width, self._art.height)
        )

        def draw(painter: QPainter) -> None:
            area = fit(whole.width(), whole.height(), QRectF(0, 0, width, height))
            scale = area.width() / whole.width()
            painter.translate(area.topLeft() - whole.topLeft() * scale)
            self._draw_small(painter, picture, scale)

        return painted(width, height, draw)

    def paint(self, painter: QPainter, box: QRectF, moment: Moment, plain: PaintPlainly) -> None:
        art = self._art
        area = fit(art.width, art.height, box)
        scale = area.width() / art.width
        if scale != self._kept_for:
            self._kept.clear()
            self._kept_for = scale
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        under = [self._faces[moment.mouth]] if moment.mouth in self._faces else art.under
        for picture in under if moment.parts is not Parts.MOUTH else ():
            self._lay(painter, picture, area.topLeft(), scale, ratio)
        for picture in self._shows.get(moment.mouth, ()) if moment.parts is not Parts.FACE else ():
            self._lay(painter, picture, area.topLeft(), scale, ratio, is_mouth=True)
        if moment.mouth not in self._shows and moment.parts is not Parts.FACE:
            spot = self._placed(self._mouths_box)
            at = QRectF(area.topLeft() + spot.topLeft() * scale, spot.size() * scale)
            plain(painter, moment.pose, at)
        for picture in art.over if moment.parts is not Parts.MOUTH else ():
            self._lay(painter, picture, area.topLeft(), scale, ratio)

    def mouth_image(self, mouth: Mouth, width: int, height: int, plain: PaintPlainly) -> QImage:
        shown, whole = self._shows.get(mouth.name, ()), self._with_margin()

        def draw(painter: QPainter) -> None:
            area = fit(whole.width(), whole.height(), QRectF(0, 0, width, height))
            scale = area.width() / whole.width()
            painter.translate(area.topLeft() - whole.topLeft() * scale)
            for picture in shown or (
                self._art.under if mouth.name in self._shows else ()
            ):  # nothing: the face as it is
                self._draw_small(painter, picture, scale)
            if mouth.name not in self._shows:
                plain(painter, mouth.pose, QRectF(whole.topLeft() * scale, whole.size() * scale))

        return painted(width, height, draw)

    def _with_margin(self) -> QRectF:
        whole = self._mouths_box
        margin = _MARGIN * max(whole.width(), whole.height())
        return whole.adjusted(-margin, -margin, margin, margin)

    def _draw_small(self, painter: QPainter, picture: Picture, scale: float) -> None:
        """From the smaller drawing where that is large enough."""
        if picture.is_empty:
            return
        listed = self._listed.get(id(picture))
        if listed is None or scale > self._listed_scale:
            image = scaled(picture.image, scale)
        else:
            image = scaled(listed, scale / self._listed_scale)
        painter.drawImage(QPointF(picture.x * scale, picture.y * scale), image)

    def _placed(self, box: QRectF) -> QRectF:
        """Where something of the mouths comes to be: scaled about their common middle, then moved."""
        place, middle = self._look.place, self._mouths_box.center()
        moved = QRectF(box.topLeft(), box.size() * place.scale)
        moved.moveTopLeft(middle + (box.topLeft() - middle) * place.scale + QPointF(place.x, place.y) * self._art.share)
        return moved

    def _lay(
        self, painter: QPainter, picture: Picture, at: QPointF, scale: float, ratio: float, *, is_mouth: bool = False
    ) -> None:
        if picture.is_empty:
            return
        box = QRectF(picture.x, picture.y, picture.image.width(), picture.image.height())
        box = self._placed(box) if is_mouth else box
        grown = scale * ratio * (box.width() / picture.image.width())
        kept = self._kept.get((id(picture), grown))
        if kept is None:
            kept = QPixmap.fromImage(scaled(picture.image, grown))
            kept.setDevicePixelRatio(ratio)
            self._kept[id(picture), grown] = kept
        painter.drawPixmap(at + box.topLeft() * scale, kept)


def _box_of(pictures: Iterable[Picture], width: int, height: int) -> QRectF:
    """The common box of some pictures; the middle of the canvas where there is nothing."""
    box = QRectF()
    for picture in pictures:
        if not picture.is_empty:
            box = box.united(QRectF(picture.x, picture.y, picture.image.width(), picture.image.height()))
    if box.width() < _LEAST_SHOWN * width or box.height() < _LEAST_SHOWN * height:
        box = box.united(QRectF(0.35 * width, 0.55 * height, 0.3 * width, 0.2 * height))
    return box
