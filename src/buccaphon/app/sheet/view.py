"""The sheet on the screen: a row a frame, the playhead running down it, and mouths painted as in the galley."""

from __future__ import annotations

from bisect import bisect_left, bisect_right

import numpy as np
from PyQt6.QtCore import QEvent, QLineF, QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import (
    QColor,
    QHelpEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame, QToolTip, QWidget

from buccaphon.app.galley.gestures.gesture import Gesture, Press, held_keys
from buccaphon.app.galley.gestures.mouths import exposure_grip, press_mouths
from buccaphon.app.galley.gestures.sound import Scrub
from buccaphon.app.galley.lanes import LANES
from buccaphon.app.galley.layout import MARGIN, Layout, Place, Strips
from buccaphon.app.galley.look import Lane, Look
from buccaphon.app.session.session import Session
from buccaphon.app.settings import reading_in_use
from buccaphon.app.style.theme import Theme, sans, serif
from buccaphon.app.widgets.written_line import WrittenLine
from buccaphon.motion.record import Bake
from buccaphon.project.edits.scene import PutNote
from buccaphon.score.records import DOUBTFUL
from buccaphon.timing import Reading, Span, read_out

_LEAST_ROW, _ROW, _MOST_ROW = 10, 20, 48  # pixels
_HEAD = 26  # pixels of the heading
_COLUMNS = (
    ("frame", 66), ("sound", 78), ("word", 104), ("IPA", 58), ("mouth", 128), ("jaw", 50), ("notes", 0),
)  # fmt: skip  # names and pixels; the last one takes what is left
_LEAST_NOTES = 90  # pixels for which all columns give way
_AHEAD = 0.25  # of the height: where the playhead comes to when the page follows it


class SheetView(QAbstractScrollArea):
    """What the sheet shows and what the hand does on it."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._document, self._theme = session, session.document, theme
        self._casting = session.casting
        self.row = _ROW
        self._gesture: Gesture | None = None
        self.note = WrittenLine(self.viewport())
        self._note_at: Span | None = None
        self.note.taken.connect(self._write_note)
        self.note.left.connect(self.setFocus)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Exposure sheet")
        self.viewport().setMouseTracking(True)
        document = self._document
        for signal in (document.opened, document.sound_gone):
            signal.connect(self._begin_anew)
        for signal in (document.sound_ready, document.changed):
            signal.connect(self._measure)
        for signal in (document.selected, session.marking.marked, session.beside.shown, session.casting.redrawn):
            signal.connect(self.viewport().update)
        document.player.moved.connect(self._follow)
        self._measure()

    # --- where things are ----------------------------------------------------------------------------------------------

    def _begin_anew(self) -> None:
        self._gesture = None
        self.note.hide()
        self._measure()

    def _measure(self, _what: object = None) -> None:
        bake = self._document.bake()
        room = max(self.viewport().height() - _HEAD, 1)
        down = self.verticalScrollBar()
        down.setRange(0, max((bake.frames if bake else 0) * self.row - room, 0))
        down.setPageStep(room)
        down.setSingleStep(3 * self.row)
        if self.isVisible():
            self.viewport().update()

    @property
    def _layout(self) -> Layout:
        """Time runs downwards here: what the galley calls x is y."""
        bake = self._document.bake()
        end = bake.rate.seconds(bake.frames) if bake else 0.0
        scale = self.row * float(self._document.state.rate.value)
        return Layout(Strips(np.array([0.0, max(end, 1e-6)]), scale, 0), scale, self.viewport().width(), Look())

    def _top(self, frame: float) -> float:
        """Where a frame's row begins in the viewport."""
        return _HEAD + frame * self.row - self.verticalScrollBar().value()

    def _rows(self, area: QRect, bake: Bake) -> tuple[int, int]:
        scrolled = self.verticalScrollBar().value() - _HEAD
        first = max((area.top() + scrolled) // self.row, 0)
        return int(first), min(int((area.bottom() + scrolled) // self.row) + 1, bake.frames)

    def _edges(self) -> list[int]:
        """Of the columns, in pixels."""
        edges, room = [14], self.viewport().width() - 24
        narrow = min(room / (sum(width for _, width in _COLUMNS) + _LEAST_NOTES), 1.0)
        for _, width in _COLUMNS[:-1]:
            edges.append(edges[-1] + round(width * narrow))
        return [*edges, max(self.viewport().width() - 10, edges[-1] + 40)]

    def _column(self, x: float) -> str:
        edges = self._edges()
        return _COLUMNS[min(max(bisect_right(edges, x) - 1, 0), len(_COLUMNS) - 1)][0]

    # --- painting ------------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        theme, bake = self._theme, self._document.bake()
        painter.fillRect(event.rect(), QColor(theme.paper))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if bake is None:
            painter.setFont(sans(13))
            painter.setPen(QColor(theme.ink_soft))
            text = "Open a recording: its frames stand here one under the other."
            painter.drawText(self.viewport().rect(), Qt.AlignmentFlag.AlignCenter, text)
            return
        first, end = self._rows(event.rect(), bake)
        edges = self._edges()
        self._paint_grounds(painter, bake, edges)
        self._paint_lines(painter, bake, first, end, edges)
        self._paint_sound(painter, bake, first, end, edges)
        self._paint_words(painter, bake, first, end, edges)
        self._paint_mouths(painter, bake, first, end, edges)
        self._paint_notes(painter, bake, first, end, edges)
        self._paint_playhead(painter, edges)
        self._paint_heading(painter, edges)

    def _paint_grounds(self, painter: QPainter, bake: Bake, edges: list[int]) -> None:
        """Under what is selected, and what is drawn on the ruler."""
        rate, left, right = bake.rate, edges[4], edges[5]
        spans = [(span, "loop", left, right) for span in self._document.selection.spans(self._document.score)]
        if self._document.player.loop:
            spans.append((self._document.player.loop, "loop", edges[0], edges[1]))
        for span, color, x, x2 in spans:
            top, bottom = self._top(rate.frames(span.start)), self._top(rate.frames(span.end))
            painter.fillRect(QRectF(x, top, x2 - x, bottom - top), self._theme.color(color))

    def _paint_lines(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        theme, state = self._theme, self._document.state
        reading = reading_in_use()
        feet = {Reading.FEET_35: 16, Reading.FEET_16: 40}.get(reading)
        whole = feet or max(round(float(bake.rate.value)), 1)
        painter.setFont(sans(11))
        for frame in range(first, end):
            number, y = frame + state.first_number, self._top(frame)
            major, half = number % whole == 0, number % max(whole // 2, 1) == 0
            painter.setPen(
                QPen(QColor(theme.ink_soft if major else theme.edge), 1.6 if major else 1.0 if half else 0.5)
            )
            painter.drawLine(QLineF(edges[0], y, edges[-1], y))
            if self.row >= 14 or number % 4 == 0:
                painter.setPen(QColor(theme.ink if major else theme.ink_soft))
                text = read_out(number, bake.rate, reading) if major or reading is Reading.FRAMES else str(number)
                box = QRectF(edges[0], y, edges[1] - edges[0] - 10, self.row)
                painter.drawText(
                    box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text.removeprefix("f ")
                )

    def _paint_sound(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        """The wave, standing upright."""
        derived = self._document.derived
        if derived is None or end <= first:
            return
        count = (end - first) * max(self.row // 4, 2)
        span = bake.rate.seconds(first), bake.rate.seconds(end)
        columns = derived.peaks.columns(*span, count)
        middle, half = (edges[1] + edges[2]) / 2, (edges[2] - edges[1]) / 2 - 4
        wide = half / max(derived.peaks.loudest(), 1e-6)
        y = self._top(first) + (np.arange(count) + 0.5) * (end - first) * self.row / count
        right = [
            QPointF(middle + max(h * wide, 0.5), at) for h, at in zip(columns[:, 1].tolist(), y.tolist(), strict=True)
        ]
        left = [
            QPointF(middle + min(h * wide, -0.5), at) for h, at in zip(columns[:, 0].tolist(), y.tolist(), strict=True)
        ]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._theme.color("wave_core"))
        painter.drawPolygon(QPolygonF([*right, *reversed(left)]))

    def _paint_words(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        score, theme, rate = self._document.score, self._theme, bake.rate
        if score is None:
            return
        start, stop = rate.seconds(first), rate.seconds(end)
        low = bisect_right(score.words, start, key=lambda word: word.end)
        high = bisect_left(score.words, stop, key=lambda word: word.start)
        missing = self._session.comparing.missing
        for number in range(low, high):
            word = score.words[number]
            top = self._top(rate.frames(word.start))
            painter.setPen(QPen(QColor(theme.edge), 1))
            painter.drawLine(QLineF(edges[2], top, edges[4], top))
            painter.setFont(serif(17))
            painter.setPen(QColor(theme.ink))
            baseline = max(top, float(_HEAD)) + 16 if self._top(rate.frames(word.end)) > _HEAD + 16 else top + 16
            painter.drawText(QPointF(edges[2] + 6, baseline), word.text)
            if word.confidence < DOUBTFUL or number in missing:
                painter.setPen(QPen(self._theme.color("doubt"), 1.4, Qt.PenStyle.DotLine))
                wide = painter.fontMetrics().horizontalAdvance(word.text)
                painter.drawLine(QLineF(edges[2] + 6, baseline + 3, edges[2] + 6 + wide, baseline + 3))
            painter.setFont(serif(14))
            for phone in word.phones:
                y, tall = self._top(rate.frames(phone.start)), rate.frames(phone.end - phone.start) * self.row
                painter.setPen(QColor(theme.ink if phone.stress == 1 else theme.ink_soft))
                if tall >= 9:  # what lasts shorter would lie over its neighbour
                    box = QRectF(edges[3] + 4, y, edges[4] - edges[3] - 8, tall)
                    painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, phone.symbol)

    def _paint_mouths(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        theme, chart, state, casting = self._theme, bake.chart, self._document.state, self._casting
        left, right = edges[4], edges[5]
        low = bisect_right(bake.exposures, first, key=lambda each: each.end)
        high = bisect_left(bake.exposures, end, key=lambda each: each.start)
        ratio, least, wide = self.devicePixelRatioF(), bake.rate.seconds(0.49), round(0.38 * (right - left))
        seen = Span(bake.rate.seconds(first), bake.rate.seconds(max(end, first)))
        painted = [paint.span for paint in state.painted if paint.span.overlap(seen) > 0]
        for exposure in bake.exposures[low:high]:
            top, bottom = self._top(exposure.start), self._top(exposure.end)
            painter.setPen(QPen(QColor(theme.ink_soft), 1))
            painter.drawLine(QLineF(left, top, right, top))
            tall = int(min(bottom - top - 1, 40))
            mouth = chart.mouths[chart.index(exposure.mouth)]
            if tall >= 6:
                painter.drawPixmap(QPointF(left + 6, top + 1), casting.mouth_picture(mouth, wide, tall, ratio, theme))
            painter.setFont(sans(12))
            painter.setPen(QColor(theme.ink))
            x = left + wide + 12
            name = painter.fontMetrics().elidedText(exposure.mouth, Qt.TextElideMode.ElideRight, right - x)
            painter.drawText(QPointF(x, min(top + max(self.row, 14) / 2 + 5, bottom + 4)), name)
            if bottom - top > 46:
                painter.setPen(QPen(QColor(theme.wave), 1, Qt.PenStyle.DotLine))
                middle = left + 6 + wide / 2
                painter.drawLine(QLineF(middle, top + 44, middle, bottom - 4))
            span = self._document.span_of(exposure)
            if any(paint.overlap(span) >= least for paint in painted):
                painter.fillRect(QRectF(left + 1, top + 1, 3, bottom - top - 1), theme.color("pin"))
        jaw = bake.jaw[first:end].tolist()
        for frame, value in enumerate(jaw, first):
            area = QRectF(edges[5] + 4, self._top(frame) + 2, (edges[6] - edges[5] - 10) * value, self.row - 4)
            painter.fillRect(area, theme.color("curve_fill"))

    def _paint_notes(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        take, theme = self._document.state.take, self._theme
        painter.setFont(sans(12))
        x, wide = edges[6] + 8, edges[7] - edges[6] - 12
        for note in take.notes if take else ():
            frame = bake.rate.nearest(note.span.start)
            if first <= frame < end:
                painter.setPen(QColor(theme.ink))
                text = painter.fontMetrics().elidedText(note.text, Qt.TextElideMode.ElideRight, wide)
                painter.drawText(QPointF(x, self._top(frame) + self.row / 2 + 5), text)
        painter.setPen(QPen(QColor(theme.ink), 1.5))
        for mark in self._session.marking.found:
            frame = bake.rate.containing(mark.span.start)
            if first <= frame < end:
                y = self._top(frame) + self.row / 2
                painter.drawLine(QLineF(edges[5] - 12, y + 6, edges[5] - 6, y - 6))

    def _paint_playhead(self, painter: QPainter, edges: list[int]) -> None:
        y = self._top(self._document.state.rate.frames(self._document.player.position))
        painter.setPen(QPen(QColor(self._theme.playhead), 1.6))
        painter.drawLine(QLineF(edges[0], y, edges[-1], y))
        painter.setBrush(QColor(self._theme.playhead))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(edges[0], y), 5, 5)

    def _paint_heading(self, painter: QPainter, edges: list[int]) -> None:
        painter.fillRect(QRectF(0, 0, self.viewport().width(), _HEAD), QColor(self._theme.panel))
        painter.setFont(sans(12))
        painter.setPen(QColor(self._theme.ink_soft))
        for (name, _), x, x2 in zip(_COLUMNS, edges, edges[1:], strict=False):
            along = Qt.AlignmentFlag.AlignRight if name == "frame" else Qt.AlignmentFlag.AlignLeft
            told = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, x2 - x - 8)
            painter.drawText(QRectF(x + 4, 0, x2 - x - 10, _HEAD), along | Qt.AlignmentFlag.AlignVCenter, told)

    # --- following -----------------------------------------------------------------------------------------------------

    def show_time(self, seconds: float) -> None:
        """Scroll so that a moment is in view."""
        frame = self._document.state.rate.containing(seconds)
        room, top = self.viewport().height() - _HEAD, self._top(frame) - _HEAD
        if not 0 <= top <= room - self.row:
            self.verticalScrollBar().setValue(round(frame * self.row - _AHEAD * room))

    def _follow(self, seconds: float) -> None:
        if not self.isVisible():
            return
        self.show_time(seconds)
        self.viewport().update()

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        del dx, dy
        self.note.hide()
        self.viewport().update()

    # --- the hand ------------------------------------------------------------------------------------------------------

    def _place(self, event: QMouseEvent | QHelpEvent) -> Place:
        at = event.position() if isinstance(event, QMouseEvent) else QPointF(event.pos())
        strip = self._layout.strips[0]
        frame = (at.y() - _HEAD + self.verticalScrollBar().value()) / self.row
        seconds = self._document.state.rate.seconds(frame)
        return Place(strip, Lane.MOUTHS, min(max(seconds, strip.start), strip.end))

    def _press(self, event: QMouseEvent) -> Press:
        y = event.position().y() - _HEAD + self.verticalScrollBar().value() + MARGIN
        return Press(self._document, self._layout, self._place(event), y, held_keys(event))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        inside = event.position().y() >= _HEAD
        if self._document.bake() is None or event.button() != Qt.MouseButton.LeftButton or not inside:
            return
        if self._column(event.position().x()) == "mouth":
            self._gesture = press_mouths(self._press(event))
        else:
            self._gesture = Scrub(self._press(event))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._document.bake() is None:
            return
        if self._gesture is not None:
            self._gesture.move(self._place(event), held_keys(event))
        else:
            grip = self._column(event.position().x()) == "mouth" and exposure_grip(self._press(event))
            self.viewport().setCursor(Qt.CursorShape.SplitVCursor if grip else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        gesture, self._gesture = self._gesture, None
        if gesture is not None and event.button() == Qt.MouseButton.LeftButton:
            gesture.end(self._place(event))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """In the notes: write one at that frame."""
        bake = self._document.bake()
        if bake is None or self._column(event.position().x()) != "notes" or event.position().y() < _HEAD:
            self.mousePressEvent(event)
            return
        frame = bake.rate.containing(self._place(event).seconds)
        self._note_at = Span(bake.rate.seconds(frame), bake.rate.seconds(frame + 1))
        take, edges = self._document.state.take, self._edges()
        here = [note.text for note in (take.notes if take else ()) if bake.rate.nearest(note.span.start) == frame]
        self.note.setText(here[0] if here else "")
        self.note.setGeometry(edges[6] + 2, round(self._top(frame)) - 3, edges[7] - edges[6] - 4, max(self.row + 6, 28))
        self.note.show()
        self.note.setFocus()

    def _write_note(self, text: str) -> None:
        if self._note_at is not None:
            span, self._note_at = self._note_at, None
            self._document.apply(PutNote(span, text))

    def viewportEvent(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and self._document.bake() is not None:
            column = self._column(event.pos().x())
            spec = LANES[Lane.MOUTHS]
            told = spec.tells(self._session, self._place(event).seconds) if column == "mouth" else ""
            hints = {"mouth": spec.hint, "notes": "Double-click writes a note"}
            text = "\n\n".join(part for part in (told, hints.get(column, "Drag to scrub by ear")) if part)
            QToolTip.showText(event.globalPos(), text, self)
            return True
        return super().viewportEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """With Ctrl rows grow and shrink around the pointer."""
        if not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            super().wheelEvent(event)
            return
        inner = event.position().y() - _HEAD
        frame = (inner + self.verticalScrollBar().value()) / self.row
        self.row = min(max(self.row + (1 if event.angleDelta().y() > 0 else -1), _LEAST_ROW), _MOST_ROW)
        self._measure()
        self.verticalScrollBar().setValue(round(frame * self.row - inner))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._measure()
