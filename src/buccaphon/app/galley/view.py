"""The galley's widget: a scrolling page of strips with the playhead over them."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPoint, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame, QToolTip, QWidget

from buccaphon.app.galley.lanes import Sheet, paint_lane, shown_in
from buccaphon.app.galley.layout import (
    GAP,
    LANES,
    STRIP_HEIGHT,
    Lane,
    Layout,
    Place,
    Strip,
    lane_top,
    lay_out,
)
from buccaphon.app.galley.tools import Gesture, begin, boundary_near
from buccaphon.app.painting import blank
from buccaphon.app.session import Session
from buccaphon.app.theme import Theme

SCALE, LEAST_SCALE, MOST_SCALE = 205.0, 24.0, 1600.0  # pixels a second
_HANDLE = 5  # half the width of the playhead's knob

_HINTS = {
    Lane.RULER: "Drag to make a loop · L loops",
    Lane.SOUND: "Drag to scrub by ear · Space plays",
    Lane.WORDS: "Drag a line to move where a word starts or ends",
    Lane.PHONES: "Drag a line to move where a sound starts",
    Lane.MOUTHS: "Click a mouth, then press a number to paint another",
    Lane.JAW: "How far the jaw is open",
}


class GalleyView(QAbstractScrollArea):
    """Lanes are painted once into pictures, and again only when what they show has changed."""

    resized = pyqtSignal()

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.theme = session, theme
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Galley")
        self.viewport().setMouseTracking(True)
        self.scale = SCALE
        self.layout_now = Layout((), SCALE, 1)
        self._pictures: dict[tuple[int, Lane], tuple[object, QPixmap]] = {}
        self._gesture: Gesture | None = None
        self._playhead_rect = QRect()
        session.opened.connect(self.relayout)
        session.sound_ready.connect(self.relayout)
        session.changed.connect(self.refresh)
        session.selected.connect(self.viewport().update)
        session.player.moved.connect(self._follow)

    # --- layout --------------------------------------------------------------------------------------------------------

    def relayout(self) -> None:
        """Set the strips anew; during a drag they stay where they are, so that nothing jumps under the hand."""
        recording = self.session.recording
        if recording is None:
            self.layout_now = Layout((), self.scale, self.viewport().width())
        elif self._gesture is None:
            width = self.viewport().width()
            self.layout_now = lay_out(self.session.used, self.session.score, width, self.scale)
        self.verticalScrollBar().setRange(0, max(self.layout_now.height - self.viewport().height(), 0))
        self.verticalScrollBar().setPageStep(self.viewport().height())
        self.verticalScrollBar().setSingleStep(40)
        self.viewport().update()

    def refresh(self, _changes: object = None) -> None:
        self.relayout()

    def set_scale(self, scale: float) -> None:
        """Zoom in time, keeping the playhead's strip in view. scale: pixels a second."""
        self.scale = min(max(scale, LEAST_SCALE), MOST_SCALE)
        self._pictures.clear()
        self.relayout()
        self.show_time(self.session.player.position)

    def show_time(self, seconds: float) -> None:
        """Scroll so that a moment's strip is wholly in view."""
        strip = self.layout_now.strip_of(seconds)
        if strip is None:
            return
        bar, top = self.verticalScrollBar(), strip.top - GAP
        if top < bar.value():
            bar.setValue(top)
        elif strip.top + STRIP_HEIGHT > bar.value() + self.viewport().height():
            bar.setValue(strip.top + STRIP_HEIGHT + GAP - self.viewport().height())

    def point_at(self, seconds: float, lane: Lane) -> QPoint:
        """Where in the viewport a moment lies, in the middle of a lane."""
        strip = self.layout_now.strip_of(seconds)
        assert strip is not None
        y = strip.top + lane_top(lane) + lane.height // 2 - self.verticalScrollBar().value()
        return QPoint(round(self.layout_now.x(strip, seconds)), y)

    # --- painting ------------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.fillRect(event.rect(), QColor(self.theme.paper))
        if self.session.recording is None:
            return
        offset = self.verticalScrollBar().value()
        painter.translate(0, -offset)
        area = event.rect().translated(0, offset)
        for strip in self.layout_now.between(area.top(), area.bottom()):
            self._paint_loop(painter, strip)
            self._paint_lanes(painter, strip)
            self._paint_selection(painter, strip)
        self._paint_playhead(painter)

    def _paint_lanes(self, painter: QPainter, strip: Strip) -> None:
        bake, derived = self.session.bake(), self.session.derived
        assert bake is not None and derived is not None
        sheet = Sheet(self.session.state, bake, derived.peaks, self.theme, self.layout_now, strip)
        for lane in LANES:
            painter.drawPixmap(0, strip.top + lane_top(lane), self._picture(sheet, lane))

    def _picture(self, sheet: Sheet, lane: Lane) -> QPixmap:
        shown = shown_in(sheet, lane)
        kept = self._pictures.get((sheet.strip.index, lane))
        if kept is not None and kept[0] == shown:
            return kept[1]
        picture = blank(self.layout_now.width, lane.height, self.devicePixelRatioF())
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_lane(painter, sheet, lane)
        painter.end()
        self._pictures[sheet.strip.index, lane] = (shown, picture)
        return picture

    def _paint_loop(self, painter: QPainter, strip: Strip) -> None:
        loop = self.session.player.loop
        if loop is None or loop.end <= strip.start or loop.start >= strip.end:
            return
        left = self.layout_now.x(strip, max(loop.start, strip.start))
        right = self.layout_now.x(strip, min(loop.end, strip.end))
        color = QColor(self.theme.loop)
        painter.fillRect(
            QRectF(left, strip.top, right - left, STRIP_HEIGHT), QColor(color.red(), color.green(), color.blue(), 110)
        )
        painter.fillRect(QRectF(left, strip.top + 2, right - left, 5), QColor(self.theme.playhead))

    def _paint_selection(self, painter: QPainter, strip: Strip) -> None:
        span = self.session.selection
        if span is None or span.end <= strip.start or span.start >= strip.end:
            return
        left = self.layout_now.x(strip, max(span.start, strip.start))
        right = self.layout_now.x(strip, min(span.end, strip.end))
        top = strip.top + lane_top(Lane.MOUTHS)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self.theme.playhead), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(left, top, right - left, Lane.MOUTHS.height), 4, 4)

    def _paint_playhead(self, painter: QPainter) -> None:
        position = self.session.player.position
        strip = self.layout_now.strip_of(position)
        if strip is None:
            return
        x = self.layout_now.x(strip, min(position, strip.end))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self.theme.playhead), 1.6))
        painter.drawLine(round(x), strip.top + 8, round(x), strip.top + STRIP_HEIGHT)
        painter.setBrush(QColor(self.theme.playhead))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QRectF(x - _HANDLE, strip.top - 1, 2 * _HANDLE, 2 * _HANDLE))

    # --- following -----------------------------------------------------------------------------------------------------

    def _follow(self, seconds: float) -> None:
        """Repaint only where the playhead was and is; while playing its strip stays in view."""
        strip = self.layout_now.strip_of(seconds)
        if strip is None:
            return
        if self.session.player.playing:
            self.show_time(seconds)
        x = round(self.layout_now.x(strip, min(seconds, strip.end)))
        top = strip.top - self.verticalScrollBar().value()
        now = QRect(x - _HANDLE - 2, top - 3, 2 * _HANDLE + 5, STRIP_HEIGHT + 6)
        self.viewport().update(self._playhead_rect)
        self.viewport().update(now)
        self._playhead_rect = now

    # --- the hand ------------------------------------------------------------------------------------------------------

    def _place(self, event: QMouseEvent) -> Place | None:
        at = event.position()
        return self.layout_now.place(at.x(), at.y() + self.verticalScrollBar().value())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = self._place(event)
        if place is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self._gesture = begin(self.session, self.layout_now, place, event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        place = self._place(event)
        if place is None:
            return
        if self._gesture is not None:
            self._gesture.move(place)
            return
        over = boundary_near(self.session.score, self.layout_now, place, event.position().x())
        self.viewport().setCursor(Qt.CursorShape.SplitHCursor if over else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        place = self._place(event)
        if place is None or self._gesture is None or event.button() != Qt.MouseButton.LeftButton:
            return
        gesture, self._gesture = self._gesture, None
        gesture.end(place)
        self.relayout()

    def viewportEvent(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip:
            place = self.layout_now.place(event.pos().x(), event.pos().y() + self.verticalScrollBar().value())
            if place is not None:
                QToolTip.showText(event.globalPos(), _HINTS[place.lane], self)
            return True
        return super().viewportEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.set_scale(self.scale * 1.0015 ** event.angleDelta().y())
            return
        super().wheelEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.relayout()
        self.resized.emit()

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        del dx, dy
        self.viewport().update()
