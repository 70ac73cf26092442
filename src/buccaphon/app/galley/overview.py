"""The whole recording at a glance, with the part on the screen marked; click or drag to go there."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QLineF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QSizePolicy, QWidget

from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.view import GalleyView
from buccaphon.painting.mouths import blank
from buccaphon.texts import _

_HEIGHT = 40


class Overview(QWidget):
    def __init__(self, galley: GalleyView, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._galley, self._document, self._theme = galley, galley.document, galley.theme
        self._kept: tuple[object, QPixmap] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(_("Overview"))
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setToolTip(_("The whole recording; click or drag to go there"))
        self._playhead = 0.0  # where it was last painted
        self._shown: tuple[object, ...] = ()  # of the project
        galley.scrolled.connect(self.update)
        self._document.changed.connect(self._take_up)
        self._document.player.moved.connect(self._follow)
        for signal in (self._document.opened, self._document.sound_ready):
            signal.connect(self._show_if_needed)
        self._show_if_needed()

    def sizeHint(self) -> QSize:
        return QSize(200, _HEIGHT)

    def _show_if_needed(self) -> None:
        lines = sum(1 for line in self._document.state.lines if line.takes)
        self.setVisible(self._document.recording is not None and lines < 2)  # the scene bar stands here for several
        self.update()

    def _take_up(self) -> None:
        """Most edits change nothing that is seen from so far."""
        take = self._document.state.take
        seen, count = self._galley.visible_span(), len(self._document.state.lines)
        shown = (self._document.used, take and take.not_speech, id(self._document.derived), seen, count)
        if shown != self._shown:
            self._shown = shown
            self._show_if_needed()

    def _follow(self, seconds: float) -> None:
        """Only where the playhead was and is, sixty times a second."""
        for x in (self._playhead, self._x(seconds)):
            self.update(round(x) - 3, 0, 6, self.height())

    def _x(self, seconds: float) -> float:
        used = self._document.used
        return MARGIN + (seconds - used.start) / max(used.length, 1e-9) * (self.width() - 2 * MARGIN)

    def _seconds(self, x: float) -> float:
        used = self._document.used
        return used.clamp(used.start + (x - MARGIN) / max(self.width() - 2 * MARGIN, 1) * used.length)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        theme = self._theme
        painter.fillRect(self.rect(), QColor(theme.panel))
        if self._document.recording is None:
            return
        seen = self._galley.visible_span()
        box = QRectF(self._x(seen.start), 3, self._x(seen.end) - self._x(seen.start), _HEIGHT - 6)
        painter.fillRect(box, QColor(theme.paper))
        painter.drawPixmap(0, 0, self._wave())
        for span in self._document.state.take.not_speech:
            area = QRectF(self._x(span.start), 6, self._x(span.end) - self._x(span.start), _HEIGHT - 12)
            painter.fillRect(area, QBrush(QColor(theme.ink_soft), Qt.BrushStyle.BDiagPattern))
        painter.setPen(QPen(QColor(theme.ink_soft), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.setPen(QPen(QColor(theme.playhead), 1.6))
        x = self._playhead = self._x(self._document.player.position)
        painter.drawLine(QLineF(x, 3, x, _HEIGHT - 3))

    def forget_pictures(self) -> None:
        self._kept = None

    def _wave(self) -> QPixmap:
        derived, used = self._document.derived, self._document.used
        shown = (id(derived), used, self.width(), self._galley.look.wave_ink)
        if self._kept is not None and self._kept[0] == shown:
            return self._kept[1]
        picture = blank(self.width(), _HEIGHT, self.devicePixelRatioF())
        painter = QPainter(picture)
        columns = derived.peaks.columns(used.start, used.end, max(self.width() - 2 * MARGIN, 0))
        tall = (_HEIGHT / 2 - 7) / max(derived.peaks.loudest(), 1e-6)
        x = MARGIN + np.arange(len(columns)) + 0.5
        painter.setPen(QPen(QColor(self._theme.wave_inks[self._galley.look.wave_ink][1]), 1))
        middle = _HEIGHT / 2
        lines = zip(x, middle - columns[:, 1] * tall, middle - columns[:, 0] * tall, strict=True)
        drawn = [QLineF(a, top, a, bottom + 0.5) for a, top, bottom in lines]
        painter.drawLines(drawn)  # type: ignore[call-overload]  # the stubs lack it
        painter.end()
        self._kept = (shown, picture)
        return picture

    def _go(self, event: QMouseEvent) -> None:
        seconds = self._seconds(event.position().x())
        self._document.player.seek(seconds)
        self._galley.show_time(seconds)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._go(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._go(event)
