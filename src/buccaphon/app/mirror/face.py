"""The face with the mouth that is on show: the character's, or Marigold's by poses where there is none."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QWidget

from buccaphon.app.mirror.look import MIRROR, Backdrop, Beside, MirrorLook
from buccaphon.app.session.characters import CharacterLoader
from buccaphon.app.session.document import Document
from buccaphon.app.timers import later
from buccaphon.demo import marigold
from buccaphon.mouths.chart import Mouth
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.painting.characters.character import Moment
from buccaphon.painting.mouths import blank, mouth_picture, paint_mouth, paint_shapes, plainly
from buccaphon.painting.theme import Theme, sans
from buccaphon.texts import _

_BESIDE = 0.30  # of the width
_STILL = 160  # ms after the last change until there is time to draw finer
_CHECK = 12  # pixels of a square of the checker


class Face(QWidget):
    """What is in the mirror. tallest: in pixels; 0 for as large as it gets."""

    def __init__(self, document: Document, characters: CharacterLoader, theme: Theme, *, tallest: int = 300) -> None:
        super().__init__()
        self._document, self._characters, self._theme = document, characters, theme
        self.view = MIRROR.read()
        self.mouth = ""
        self._moment: Moment | None = None
        self._resting = later(self, _STILL, self._draw_finer)
        self._backdrop: tuple[object, QPixmap] | None = None
        self._kept: QPixmap | None = None
        self._earlier: tuple[Exposure, ...] = ()
        self.setMinimumHeight(150)
        if tallest:
            self.setMaximumHeight(tallest)
        self.setAccessibleName(_("Mirror"))
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # what is behind it need not be painted
        characters.cast.connect(self._recast)

    def sizeHint(self) -> QSize:
        return QSize(268, 236)

    def set_view(self, view: MirrorLook) -> None:
        """Show the face otherwise, and remember how. The mouths as they are now become the earlier ones."""
        if view.beside is Beside.EARLIER and self.view.beside is not Beside.EARLIER:
            bake = self._document.bake()
            self._earlier = tuple(bake.exposures) if bake else ()
        self.view = view
        MIRROR.write(view)
        self._kept = None
        self.update()

    def look(self) -> None:
        """Take up what is at the playhead; repaint only if something else is to be seen."""
        exposure, chart = self._document.exposure(), self._document.chart
        mouth = self._characters.tried or (exposure.mouth if exposure else chart.rest.name)
        changed = mouth != self.mouth
        self.mouth = mouth
        if self._characters.character is not None or self.view.beside is Beside.EARLIER:
            moment = self._characters.moment()
            if self._moment is None or moment != replace(self._moment, still=False):
                self._moment, changed = moment, True
        if changed:
            self._resting.start()
            self.update()

    def _draw_finer(self) -> None:
        """Nothing has moved for a while."""
        if self._moment is not None and not self._document.player.playing and self._characters.character is not None:
            self._moment = replace(self._moment, still=True)
            self.update()

    def _recast(self) -> None:
        self._moment = None
        self.look()
        self.update()

    def forget_pictures(self) -> None:
        self._kept = None

    # --- painting ------------------------------------------------------------------------------------------------------

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._theme.panel))
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        box = QRectF(self.rect())
        side = QRectF()
        if self.view.beside is not Beside.NOTHING:
            side = QRectF(box.right() - _BESIDE * box.width(), box.y(), _BESIDE * box.width(), box.height())
            box.setRight(side.left() - 6)
        if self._characters.character is None and not self.view.only_mouth:
            self._paint_marigold(painter, box)
        else:
            self._paint_backdrop(painter, box)
            inner = box.adjusted(6, 6, -6, -6)
            if self.view.only_mouth:
                self._characters.painter(self._theme)(painter, self._shown_mouth, inner)
            else:
                self._paint_character(painter, inner)
        if not side.isEmpty():
            self._paint_side(painter, side)

    @property
    def _shown_mouth(self) -> Mouth:
        chart = self._document.chart
        return chart.mouths[chart.index(self.mouth)] if self.mouth in chart.names else chart.rest

    def _paint_character(self, painter: QPainter, box: QRectF) -> None:
        character = self._characters.character
        assert character is not None
        self._characters.paint_reference(painter, box)
        character.paint(painter, box, self._moment or self._characters.moment(), plainly(self._theme))

    def _paint_side(self, painter: QPainter, box: QRectF) -> None:
        """The chart's own mouth, or the one that was here before."""
        chart, mouth = self._document.chart, self._shown_mouth
        said = "chart"
        if self.view.beside is Beside.EARLIER:
            frame = min(self._document.frame, self._earlier[-1].end - 1) if self._earlier else 0
            found = exposure_at(self._earlier, frame) if self._earlier else None
            name = found.mouth if found else chart.rest.name
            mouth, said = chart.mouths[chart.index(name)] if name in chart.names else chart.rest, "earlier"
        self._paint_backdrop(painter, box, QColor(self._theme.paper))
        inner = box.adjusted(6, 18, -6, -26)
        if self.view.beside is Beside.EARLIER:
            self._characters.painter(self._theme)(painter, mouth, inner)
        else:
            paint_mouth(painter, mouth.pose, inner, self._theme)
        painter.setFont(sans(11))
        painter.setPen(QColor(self._theme.ink_soft))
        painter.drawText(QPointF(box.left() + 8, box.top() + 16), said)
        painter.drawText(QPointF(box.left() + 8, box.bottom() - 9), mouth.name)

    def _paint_backdrop(self, painter: QPainter, box: QRectF, color: QColor | None = None) -> None:
        """Painted once for each size: round corners take longer than all the rest."""
        key = (
            box.size(),
            self.view.backdrop,
            self._theme.mirror,
            color.name() if color else "",
            self.devicePixelRatioF(),
        )
        if self._backdrop is None or self._backdrop[0] != key or color is not None:
            made = blank(round(box.width()), round(box.height()), self.devicePixelRatioF())
            inner = QPainter(made)
            inner.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paint_backdrop_once(inner, QRectF(0, 0, box.width(), box.height()), color)
            inner.end()
            if color is not None:
                painter.drawPixmap(box.topLeft(), made)
                return
            self._backdrop = key, made
        painter.drawPixmap(box.topLeft(), self._backdrop[1])

    def _paint_backdrop_once(self, painter: QPainter, box: QRectF, color: QColor | None) -> None:
        frame = QPainterPath()
        frame.addRoundedRect(box, 8, 8)
        painter.setClipPath(frame)
        backdrop = self.view.backdrop
        if color is not None or backdrop is not Backdrop.CHECKER:
            plain = {Backdrop.NIGHT: self._theme.mirror, Backdrop.PAPER: self._theme.paper}
            painter.fillRect(box, color or QColor(plain.get(backdrop, self.view.color)))
            return
        painter.fillRect(box, QColor("#ffffff"))
        for row in range(int(box.height()) // _CHECK + 1):
            for column in range(row % 2, int(box.width()) // _CHECK + 1, 2):
                square = QRectF(box.x() + column * _CHECK, box.y() + row * _CHECK, _CHECK, _CHECK)
                painter.fillRect(square, QColor("#d4d0d8"))

    def _paint_marigold(self, painter: QPainter, box: QRectF) -> None:
        painter.drawPixmap(box.topLeft(), self._head(box.size()))
        (x, y), half = marigold.MOUTH_AT, marigold.MOUTH_SIZE
        scale, middle = _scale_in(box)
        spot = QRectF(0, 0, 2 * half * scale, 2 * half * 0.66 * scale)
        spot.moveCenter(middle + QPointF(x, y) * scale)
        wide, high = round(spot.width()), round(spot.height())
        picture = mouth_picture(self._shown_mouth.pose, wide, high, self.devicePixelRatioF(), self._theme)
        painter.drawPixmap(spot.topLeft(), picture)

    def _head(self, size: QSizeF) -> QPixmap:
        """Everything but the mouth, drawn once for each size."""
        if self._kept is not None and self._kept.deviceIndependentSize() == size.toSize().toSizeF():
            return self._kept
        whole = size.toSize()
        self._kept = blank(whole.width(), whole.height(), self.devicePixelRatioF())
        painter = QPainter(self._kept)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(0, 0, whole.width(), whole.height())
        self._paint_backdrop_once(painter, box, None)
        scale, middle = _scale_in(box)
        painter.translate(middle)
        painter.scale(scale, scale)
        if self.view.backdrop is Backdrop.NIGHT:
            paint_shapes(painter, marigold.backdrop(), self._theme)
        paint_shapes(painter, marigold.face(), self._theme)
        painter.end()
        return self._kept


def _scale_in(box: QRectF) -> tuple[float, QPointF]:
    """How Marigold lies in a box: pixels of a half of hers, and where its middle is."""
    scale = min(box.width() / 1.9, box.height() / 1.86)
    return scale, QPointF(box.center().x(), box.center().y() - 0.01 * scale)
