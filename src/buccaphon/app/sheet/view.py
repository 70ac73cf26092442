"""The sheet on the screen: a row a frame, the playhead running down it, and mouths painted as in the galley."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame, QToolTip

from buccaphon.app.galley.gestures.gesture import Gesture, Press, held_keys, no_grip
from buccaphon.app.galley.gestures.mouths import exposure_grip, press_rows
from buccaphon.app.galley.gestures.notes import note_grip, press_notes
from buccaphon.app.galley.gestures.ruler import DrawRows
from buccaphon.app.galley.gestures.sound import Scrub
from buccaphon.app.galley.lanes import LANES
from buccaphon.app.galley.layout import MARGIN, Layout, Place, Strips
from buccaphon.app.galley.look import Lane, Look
from buccaphon.app.session.session import Session
from buccaphon.app.sheet.painting import HEAD, Rows, SheetPainter
from buccaphon.app.widgets.written_line import WrittenLine
from buccaphon.painting.theme import Theme, sans
from buccaphon.project.edits.scene import PutNote
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate, Span

_LEAST_ROW, _ROW, _MOST_ROW = 10, 20, 48  # pixels
_AHEAD = 0.25  # of the height: where the playhead comes to when the page follows it


_PRESSES: dict[str, Callable[[Press], Gesture]] = {"frame": DrawRows, "mouth": press_rows, "notes": press_notes}
_GRIPS: dict[str, Callable[[Press], bool]] = {"mouth": exposure_grip, "notes": note_grip}
_HINTS = {
    "frame": N_("Drag over frames to loop them; a number paints exactly these"),
    "mouth": N_(
        "Drag over rows, then press a number to paint exactly these; alone it paints from the "
        "playhead to the next\nchange. Double-click to choose from the chart. Drag a line to move "
        "where a mouth changes"
    ),
    "notes": N_("Double-click to write a note, dragging moves it"),
}
_COLUMN_OF = {Lane.WORDS: 2, Lane.PHONES: 3, Lane.MOUTHS: 4, Lane.NOTES: 6, Lane.MOTION: 6}


class SheetView(QAbstractScrollArea):
    """What the sheet shows and what the hand does on it. mouth_wanted: a mouth was double-clicked, to choose another."""

    mouth_wanted = pyqtSignal()

    def __init__(self, session: Session, theme: Theme, gain: Callable[[], float]) -> None:
        """gain: how much the sound is magnified."""
        super().__init__()
        self._gain = gain
        self._session, self._document, self._theme = session, session.document, theme
        self.row = _ROW
        self._gesture: Gesture | None = None
        self.note = WrittenLine(self.viewport())
        self._note_at: Span | None = None
        self.note.taken.connect(self._write_note)
        self.note.left.connect(self.setFocus)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Exposure sheet"))
        self.viewport().setMouseTracking(True)
        document = self._document
        for signal in (document.opened, document.sound_gone):
            signal.connect(self._begin_anew)
        for signal in (document.sound_ready, document.changed):
            signal.connect(self._measure)
        for signal in (document.selected, session.issues.changed, session.beside.shown, session.characters.redrawn):
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
        room = max(self.viewport().height() - HEAD, 1)
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

    @property
    def rows(self) -> Rows:
        """Where things are now."""
        return Rows(self.row, self.verticalScrollBar().value(), self.viewport().width(), self.viewport().height())

    # --- painting ------------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        bake = self._document.bake()
        painter.fillRect(event.rect(), QColor(self._theme.paper))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if bake is None:
            painter.setFont(sans(13))
            painter.setPen(QColor(self._theme.ink_soft))
            text = _("Open a recording to see its frames here.")
            painter.drawText(self.viewport().rect(), Qt.AlignmentFlag.AlignCenter, text)
            return
        sheet = SheetPainter(self._session, self._theme, self.rows, self.devicePixelRatioF(), self._gain())
        sheet.paint(painter, event.rect(), bake)

    def point_at(self, seconds: float, lane: Lane) -> QPoint:
        """Where in the viewport a moment lies, in the column of a lane, brought into view."""
        self.show_time(seconds)
        column = _COLUMN_OF.get(lane, 4)
        return QPoint(
            self.rows.edges[column], round(self.rows.top(self._document.state.rate.frames(seconds)) + self.row / 2)
        )

    # --- following -----------------------------------------------------------------------------------------------------

    def show_time(self, seconds: float) -> None:
        """Scroll so that a moment is in view."""
        frame = self._document.state.rate.containing(seconds)
        room, top = self.viewport().height() - HEAD, self.rows.top(frame) - HEAD
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
        frame = (at.y() - HEAD + self.verticalScrollBar().value()) / self.row
        seconds = self._document.state.rate.seconds(frame)
        return Place(strip, Lane.MOUTHS, min(max(seconds, strip.start), strip.end))

    def _press(self, event: QMouseEvent) -> Press:
        y = event.position().y() - HEAD + self.verticalScrollBar().value() + MARGIN
        return Press(self._document, self._layout, self._place(event), y, held_keys(event))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        inside = event.position().y() >= HEAD
        if self._document.bake() is None or event.button() != Qt.MouseButton.LeftButton or not inside:
            return
        press = _PRESSES.get(self.rows.column(event.position().x()), Scrub)
        self._gesture = press(self._press(event))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._document.bake() is None:
            return
        if self._gesture is not None:
            self._gesture.move(self._place(event), held_keys(event))
        else:
            grips = _GRIPS.get(self.rows.column(event.position().x()), no_grip)
            grip = grips(self._press(event))
            self.viewport().setCursor(Qt.CursorShape.SplitVCursor if grip else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        gesture, self._gesture = self._gesture, None
        if gesture is not None and event.button() == Qt.MouseButton.LeftButton:
            gesture.end(self._place(event))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """In the notes: write one at that frame. On a mouth: choose another."""
        bake, column = self._document.bake(), self.rows.column(event.position().x())
        if bake is None or event.position().y() < HEAD or column not in ("notes", "mouth"):
            self.mousePressEvent(event)
        elif column == "mouth":
            self._document.select_nothing()
            self._document.player.seek(self._place(event).seconds)
            self.mouth_wanted.emit()
        else:
            self._ask_for_note(bake.rate, bake.rate.containing(self._place(event).seconds))

    def _ask_for_note(self, rate: FrameRate, frame: int) -> None:
        take, edges = self._document.state.take, self.rows.edges
        here = next((n for n in (take.notes if take else ()) if rate.nearest(n.span.start) == frame), None)
        self._note_at = here.span if here else Span(rate.seconds(frame), rate.seconds(frame + 1))
        self.note.setText(here.text if here else "")
        self.note.setGeometry(
            edges[6] + 2, round(self.rows.top(frame)) - 3, edges[7] - edges[6] - 4, max(self.row + 6, 28)
        )
        self.note.show()
        self.note.setFocus()

    def _write_note(self, text: str) -> None:
        if self._note_at is not None:
            span, self._note_at = self._note_at, None
            self._document.apply(PutNote(span, text))

    def viewportEvent(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and self._document.bake() is not None:
            column = self.rows.column(event.pos().x())
            told = LANES[Lane.MOUTHS].tells(self._session, self._place(event).seconds) if column == "mouth" else ""
            text = "\n\n".join(part for part in (told, _(_HINTS.get(column, N_("Drag to scrub by ear")))) if part)
            QToolTip.showText(event.globalPos(), text, self)
            return True
        return super().viewportEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """With Ctrl rows grow and shrink around the pointer."""
        if not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            super().wheelEvent(event)
            return
        inner = event.position().y() - HEAD
        frame = (inner + self.verticalScrollBar().value()) / self.row
        self.row = min(max(self.row + (1 if event.angleDelta().y() > 0 else -1), _LEAST_ROW), _MOST_ROW)
        self._measure()
        self.verticalScrollBar().setValue(round(frame * self.row - inner))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._measure()
