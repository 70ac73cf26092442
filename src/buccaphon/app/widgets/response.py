"""A small field in which a response is drawn by hand: from one end of a range to the other."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from buccaphon.painting.theme import Theme
from buccaphon.texts import _

_HEIGHT, _MARGIN, _GRAB = 74, 6, 9  # pixels
Points = tuple[tuple[float, float], ...]


class Response(QWidget):
    """drawn: points 0..1 from left to right; none is the straight line. let_go: the hand is off."""

    drawn = pyqtSignal(object)
    let_go = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._points: Points = ()
        self._held: int | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(_("Response"))
        self.setToolTip(_("Output over input. Click adds a point, drag moves it, double-click removes it"))

    def sizeHint(self) -> QSize:
        return QSize(160, _HEIGHT)

    def show_points(self, points: Points) -> None:
        if points != self._points:
            self._points = points
            self.update()

    @property
    def _shown(self) -> list[tuple[float, float]]:
        return list(self._points) or [(0.0, 0.0), (1.0, 1.0)]

    def _at(self, point: tuple[float, float]) -> QPointF:
        wide, tall = self.width() - 2 * _MARGIN, self.height() - 2 * _MARGIN
        return QPointF(_MARGIN + point[0] * wide, _MARGIN + (1 - point[1]) * tall)

    def _point(self, at: QPointF) -> tuple[float, float]:
        wide, tall = self.width() - 2 * _MARGIN, self.height() - 2 * _MARGIN
        x, y = (at.x() - _MARGIN) / max(wide, 1), 1 - (at.y() - _MARGIN) / max(tall, 1)
        return round(min(max(x, 0.0), 1.0), 3), round(min(max(y, 0.0), 1.0), 3)

    def paintEvent(self, event: QPaintEvent) -> None:
        del event
        theme, painter = self._theme, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.color("edge"), 1))
        painter.setBrush(theme.color("paper"))
        painter.drawRoundedRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1), 4, 4)
        painter.drawLine(self._at((0.0, 0.0)), self._at((1.0, 1.0)))
        shown = self._shown
        path = QPainterPath(self._at((0.0, shown[0][1])))
        for point in (*shown, (1.0, shown[-1][1])):
            path.lineTo(self._at(point))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.color("curve"), 1.8))
        painter.drawPath(path)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("pin" if self._points else "curve"))
        for point in shown:
            painter.drawEllipse(self._at(point), 3.4, 3.4)

    def _near(self, at: QPointF) -> int | None:
        away = [(self._at(point) - at).manhattanLength() for point in self._shown]
        nearest = min(range(len(away)), key=away.__getitem__)
        return nearest if away[nearest] <= _GRAB else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        points, self._held = self._shown, self._near(event.position())
        if self._held is None:
            point = self._point(event.position())
            points = sorted([*points, point])
            self._held = points.index(point)
            self.drawn.emit(tuple(points))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is None:
            return
        points, (x, y) = self._shown, self._point(event.position())
        number = min(self._held, len(points) - 1)
        low = points[number - 1][0] if number else 0.0
        high = points[number + 1][0] if number + 1 < len(points) else 1.0
        points[number] = (min(max(x, low), high), y)
        self.drawn.emit(tuple(points))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._held is not None:
            self._held = None
            self.let_go.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        number = self._near(event.position())
        if number is not None and self._points:
            points = [point for n, point in enumerate(self._shown) if n != number]
            self.drawn.emit(tuple(points) if len(points) > 1 else ())
            self.let_go.emit()
