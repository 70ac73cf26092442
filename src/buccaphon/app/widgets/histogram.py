"""How often each level is heard, with the two that are taken for silence and for full voice, to be dragged."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from buccaphon.painting.theme import Theme, sans
from buccaphon.texts import _

_LEAST, _MOST = -84.0, 0.0  # dB
_BINS = 84
_HEIGHT, _FOOT, _GRAB = 92, 16, 9  # pixels
_STEPS: dict[int, float] = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}  # dB an arrow key moves
_OWN = (*_STEPS, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Delete)


class Histogram(QWidget):
    """dragged: floor (0) or ceiling (1) is put at so many dB. let_go: the hand is off. freed: one is to be automatic
    again."""

    dragged = pyqtSignal(int, float)
    let_go = pyqtSignal()
    freed = pyqtSignal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._heights: npt.NDArray[np.float64] = np.zeros(_BINS)
        self._edges = [(-60.0, True), (-20.0, True)]
        self._held: int | None = None
        self._chosen = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(_("Floor and ceiling of loudness"))
        self.setToolTip(
            _(
                "How often each level occurs. Drag the left line to where silence ends, the right one to "
                "full voice.\nDouble-click a line to set it automatically · Left/Right move it, Up/Down "
                "switch to the other"
            )
        )

    def sizeHint(self) -> QSize:
        return QSize(200, _HEIGHT)

    def show_levels(self, levels: npt.NDArray[np.float32]) -> None:
        """levels: dB, of the whole recording."""
        counts, _rest = np.histogram(levels, _BINS, (_LEAST, _MOST))
        most = max(float(np.sort(counts)[-3:].mean()), 1.0) if len(levels) else 1.0
        self._heights = np.minimum(np.sqrt(counts / most), 1.0)  # the root, so that the few loud ones can be seen
        self.update()

    def show_edges(self, floor: float, ceiling: float, *, by_itself: tuple[bool, bool]) -> None:
        edges = [(floor, by_itself[0]), (ceiling, by_itself[1])]
        if edges != self._edges:
            self._edges = edges
            self.update()

    # --- painting ------------------------------------------------------------------------------------------------------

    def _x(self, level: float) -> float:
        return (min(max(level, _LEAST), _MOST) - _LEAST) / (_MOST - _LEAST) * (self.width() - 1)

    def _level(self, x: float) -> float:
        return _LEAST + min(max(x / max(self.width() - 1, 1), 0.0), 1.0) * (_MOST - _LEAST)

    def paintEvent(self, event: QPaintEvent) -> None:
        del event
        theme, painter = self._theme, QPainter(self)
        tall = self.height() - _FOOT
        painter.fillRect(QRectF(0, 0, self.width(), tall), theme.color("paper"))
        (floor, _rest), (ceiling, _rest) = self._edges
        wide = self.width() / _BINS
        for number, share in enumerate(self._heights.tolist()):
            level = _LEAST + (number + 0.5) * (_MOST - _LEAST) / _BINS
            counts = floor <= level <= ceiling
            bar = QRectF(number * wide, tall - share * (tall - 14), wide, share * (tall - 14))
            painter.fillRect(bar, theme.color("wave_core" if counts else "wave" if level > ceiling else "edge"))
        painter.setFont(sans(10))
        for number, (level, alone) in enumerate(self._edges):
            x = self._x(level)
            pen = QPen(theme.color("playhead" if self.hasFocus() and number == self._chosen else "ink"), 1.6)
            if alone:
                pen.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(pen)
            painter.drawLine(round(x), 0, round(x), tall)
            text = _("{level:.0f} dB", level=level)
            wide_text = painter.fontMetrics().horizontalAdvance(text) + 6
            left = (
                x - wide_text
                if number == 0 and x > wide_text
                else x + 4
                if x + wide_text < self.width()
                else x - wide_text
            )
            painter.setPen(theme.color("ink"))
            painter.drawText(QRectF(left, 0, wide_text, 13), Qt.AlignmentFlag.AlignLeft, text)
        painter.setPen(theme.color("ink_soft"))
        foot = QRectF(0, tall + 2, self.width(), _FOOT - 2)
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft, "quiet")
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight, "loud")

    # --- the hand --------------------------------------------------------------------------------------------------------

    def _near(self, x: float) -> int | None:
        away = [abs(self._x(level) - x) for level, _ in self._edges]
        nearest = int(np.argmin(away))
        return nearest if away[nearest] <= _GRAB else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._held = self._near(event.position().x())
            self._chosen = self._held if self._held is not None else self._chosen
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        x = event.position().x()
        if self._held is None:
            shape = Qt.CursorShape.SplitHCursor if self._near(x) is not None else Qt.CursorShape.ArrowCursor
            self.setCursor(shape)
        else:
            self._put(self._held, self._level(x))

    def _put(self, number: int, level: float) -> None:
        other = self._edges[1 - number][0]
        held = min(level, other - 1.0) if number == 0 else max(level, other + 1.0)
        self.dragged.emit(number, min(max(held, _LEAST), _MOST))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._held is not None:
            self._held = None
            self.let_go.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        number = self._near(event.position().x())
        if number is not None:
            self.freed.emit(number)

    def event(self, event: QEvent) -> bool:
        """Arrows and Delete are its own while it has the focus, not the window's."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and event.key() in _OWN:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in _STEPS:
            self._put(self._chosen, self._edges[self._chosen][0] + _STEPS[event.key()])
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._chosen = 1 - self._chosen
            self.update()
        elif event.key() == Qt.Key.Key_Delete:
            self.freed.emit(self._chosen)
        else:
            super().keyPressEvent(event)
