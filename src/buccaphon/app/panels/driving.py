"""Who drives whom, drawn: channels at the left, what follows them to the right, a line from each to each."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from buccaphon.motion.followers import Follower, in_order
from buccaphon.painting.theme import Theme, sans
from buccaphon.texts import _

_ROW, _HIGH, _GAP = 24, 18, 26  # pixels


class DrivingView(QWidget):
    """chosen: a follower was clicked."""

    chosen = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._columns: list[list[str]] = []
        self._followers: tuple[Follower, ...] = ()
        self._marked = ""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setToolTip(_("What drives what, from left to right"))

    def show_followers(self, followers: Sequence[Follower], marked: str) -> None:
        if (tuple(followers), marked) == (self._followers, self._marked):
            return
        self._followers, self._marked = tuple(followers), marked
        depth: dict[str, int] = {}
        for follower in in_order(followers):
            depth.setdefault(follower.follows, 0)
            depth[follower.name] = depth[follower.follows] + 1
        self._columns = [[] for _ in range(max(depth.values(), default=0) + 1)]
        for name, column in depth.items():
            self._columns[column].append(name)
        told = "; ".join(
            _("{name} follows {follows}", name=follower.name, follows=follower.follows) for follower in followers
        )
        self.setAccessibleName(_("What drives what: {told}", told=told))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, _ROW * max((len(column) for column in self._columns), default=0) + 4)

    def _box(self, name: str) -> QRectF:
        column = next(n for n, names in enumerate(self._columns) if name in names)
        row = self._columns[column].index(name)
        wide = (self.width() - _GAP * (len(self._columns) - 1)) / max(len(self._columns), 1)
        return QRectF(column * (wide + _GAP), 2 + row * _ROW, wide, _HIGH)

    def paintEvent(self, event: QPaintEvent) -> None:
        del event
        theme, painter = self._theme, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(sans(11))
        for follower in self._followers:
            start, end = self._box(follower.follows), self._box(follower.name)
            begin, stop = QPointF(start.right(), start.center().y()), QPointF(end.left(), end.center().y())
            path, half = QPainterPath(begin), (stop.x() - begin.x()) / 2
            path.cubicTo(begin + QPointF(half, 0), stop - QPointF(half, 0), stop)
            marked = follower.name == self._marked
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.color("playhead" if marked else "curve"), 1.8 if marked else 1.1))
            painter.drawPath(path)
            painter.drawLine(stop, stop + QPointF(-4, -3))
            painter.drawLine(stop, stop + QPointF(-4, 3))
        for names in self._columns:
            for name in names:
                box = self._box(name)
                painter.setPen(QPen(theme.color("playhead" if name == self._marked else "edge"), 1))
                painter.setBrush(theme.color("loop" if name == self._marked else "paper"))
                painter.drawRoundedRect(box, 4, 4)
                painter.setPen(theme.color("ink"))
                said = name.removeprefix("weight:")
                text = painter.fontMetrics().elidedText(said, Qt.TextElideMode.ElideRight, int(box.width()) - 8)
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for follower in self._followers:
            if self._box(follower.name).contains(event.position()):
                self.chosen.emit(follower.name)
