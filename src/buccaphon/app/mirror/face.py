"""The face with the mouth that is on show."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, QSizeF
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QWidget

from buccaphon.app.session.casting import Casting, plainly
from buccaphon.app.session.document import Document
from buccaphon.app.style.painting import blank, mouth_picture, paint_shapes
from buccaphon.app.style.theme import Theme
from buccaphon.demo import marigold
from buccaphon.kits.showing.character import Moment


class Face(QWidget):
    """Marigold with the mouth that is on show."""

    def __init__(self, document: Document, casting: Casting, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document, self._casting, self._theme = document, casting, theme
        self.mouth = ""
        self._moment: Moment | None = None
        self._kept: QPixmap | None = None
        self.setMinimumHeight(150)
        self.setMaximumHeight(300)
        self.setAccessibleName("Mirror")

    def sizeHint(self) -> QSize:
        return QSize(268, 236)

    def look(self) -> None:
        """Take up the mouth at the playhead; repaint only if it is another."""
        exposure = self._document.exposure()
        mouth = exposure.mouth if exposure else self._document.chart.rest.name
        if mouth != self.mouth:
            self.mouth = mouth
            self.update()
        if self._casting.character is not None:
            moment = self._casting.moment()
            if moment != self._moment:
                self._moment = moment
                self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self._casting.character is not None:
            self._paint_character(painter)
            return
        painter.drawPixmap(0, 0, self._head())
        chart = self._document.chart
        name = self.mouth if self.mouth in chart.names else chart.rest.name
        (x, y), half = marigold.MOUTH_AT, marigold.MOUTH_SIZE
        scale, middle = self._box()
        box = QRectF(0, 0, 2 * half * scale, 2 * half * 0.66 * scale)
        box.moveCenter(middle + QPointF(x, y) * scale)
        pose, ratio = chart.mouths[chart.index(name)].pose, self.devicePixelRatioF()
        painter.drawPixmap(
            box.topLeft(), mouth_picture(pose, round(box.width()), round(box.height()), ratio, self._theme)
        )

    def _paint_character(self, painter: QPainter) -> None:
        character = self._casting.character
        assert character is not None
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        frame = QPainterPath()
        frame.addRoundedRect(QRectF(self.rect()), 8, 8)
        painter.setClipPath(frame)
        painter.fillPath(frame, QColor(self._theme.mirror))
        moment = self._moment or self._casting.moment()
        character.paint(painter, QRectF(self.rect()).adjusted(6, 6, -6, -6), moment, plainly(self._theme))

    def forget_pictures(self) -> None:
        self._kept = None

    def _head(self) -> QPixmap:
        """Everything but the mouth, drawn once for each size."""
        ratio = self.devicePixelRatioF()
        if self._kept is not None and self._kept.deviceIndependentSize() == QSizeF(self.size()):
            return self._kept
        self._kept = blank(self.width(), self.height(), ratio)
        painter = QPainter(self._kept)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QPainterPath()
        frame.addRoundedRect(QRectF(self.rect()), 8, 8)
        painter.setClipPath(frame)
        painter.fillPath(frame, QColor(self._theme.mirror))
        scale, middle = self._box()
        painter.translate(middle)
        painter.scale(scale, scale)
        paint_shapes(painter, marigold.backdrop(), self._theme)
        paint_shapes(painter, marigold.face(), self._theme)
        painter.end()
        return self._kept

    def _box(self) -> tuple[float, QPointF]:
        """The box in which the face is drawn: pixels of a half of it, and where its middle lies."""
        scale = min(self.width() / 1.9, self.height() / 1.86)
        return scale, QPointF(self.width() / 2, self.height() / 2 - 0.01 * scale)
