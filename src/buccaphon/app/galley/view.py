"""The galley's widget: a scrolling page of strips with the playhead over them."""

from __future__ import annotations

import math
from dataclasses import replace

from PyQt6.QtCore import QEvent, QPoint, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame, QToolTip, QWidget

from buccaphon.app.galley.gestures.gesture import Gesture, Press, held_keys
from buccaphon.app.galley.lanes import LANES
from buccaphon.app.galley.layout import GAP, MARGIN, Place, Strip, fitting_scale, lay_out, nothing_laid_out
from buccaphon.app.galley.look import LOOK, Lane, Look, Wrap
from buccaphon.app.galley.page import HANDLE, Page
from buccaphon.app.session.session import Session
from buccaphon.app.timers import later
from buccaphon.painting.theme import Theme
from buccaphon.project.edits import Touched
from buccaphon.project.project import Changes
from buccaphon.texts import _
from buccaphon.timing import Span

_EDGE = 3  # pixels around a lane's lower edge in which it can be taken, left of the strips
_PATIENCE = 0.008  # seconds that one frame may paint new pictures while the page is moving; the rest comes in the next
_SHORT = 0.6  # of the page that a line fills, under which it is set larger when it is opened
_BREATH = 4  # ms between two such frames


class GalleyView(QAbstractScrollArea):
    """What the hand and the playhead do on the page, and what of it is in view."""

    mouth_wanted = pyqtSignal()
    looked = pyqtSignal()
    scrolled = pyqtSignal()
    word_wanted = pyqtSignal(int)

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.document, self.theme = session, session.document, theme
        document = self.document
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Galley"))
        self.viewport().setMouseTracking(True)
        self.viewport().setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # what is behind it need not be painted
        self.look = LOOK.read()
        session.curve_shown = self.look.curve(Lane.MOTION)
        self.layout_now = nothing_laid_out(1, self.look)
        self.page = Page(session, theme)
        session.characters.redrawn.connect(self._draw_mouths_anew)
        self._gesture: Gesture | None = None
        self._edge: tuple[Lane, float, Look] | None = None
        self._playhead_rect = QRect()
        self._numbers: list[QRect] = []  # of the strip with the playhead
        self._target: tuple[Span, ...] = ()  # the frames that a key would paint
        self._hurried = self._draws_curves = False
        self._go_on = later(self, _BREATH, self._paint_on)
        self._remember = later(self, 400, self._write_look)
        document.opened.connect(self._begin_anew)
        document.sound_gone.connect(self._let_go)
        document.sound_ready.connect(self._take_in)
        document.changed.connect(self._take_up)
        document.selected.connect(self.viewport().update)
        for signal in (
            session.comparing.compared,
            session.issues.changed,
            session.beside.shown,
            document.point_chosen,
        ):
            signal.connect(self._look_again)
        document.player.moved.connect(self._follow)

    # --- layout --------------------------------------------------------------------------------------------------------

    def _begin_anew(self) -> None:
        """Another project is here: a hand that is still down holds nothing of it."""
        self._let_go()
        self._edge = None
        self.relayout()

    def _take_in(self) -> None:
        """A recording is here. One that would leave half of the page empty is set larger, for now; lines of a scene all have
        one size."""
        self.relayout()
        is_alone = len(self.document.state.lines) < 2 and self.look.wrap is Wrap.PAGE
        if is_alone and self.layout_now.height < _SHORT * self.viewport().height():
            self.look = self.look.scaled(max(self._fitting_scale(), self.look.scale))
            self.relayout()

    def fit(self) -> None:
        """Make the line as large as fills the page."""
        self.set_look(self.look.scaled(self._fitting_scale()))

    def _fitting_scale(self) -> float:
        size = self.viewport().size()
        return fitting_scale(self.document.used, size.width(), size.height(), self._look_now)

    def _let_go(self) -> None:
        self._gesture = None

    def _take_up(self, changes: Changes) -> None:
        """The project has changed: set the strips anew, and paint those that show something else now. A hand that is still
        down holds nothing of words that are others now."""
        if changes.touched & Touched.SCRIPT:
            self._let_go()
        before = self.layout_now
        self._lay_out()
        if self.layout_now != before or self.document.recording is None:
            self._set_bars()
            self.viewport().update()
            return
        self._repaint_changed()

    def _repaint_changed(self) -> None:
        strips = self._visible(self.viewport().rect())
        for area in self.page.changed(self.layout_now, strips, self.devicePixelRatioF()):
            self.viewport().update(area.translated(-self._left, -self._top))

    def _look_again(self) -> None:
        """Something that is shown besides the project is another."""
        if self.document.recording is not None:
            self._repaint_changed()

    def relayout(self, _what: object = None) -> None:
        """Set the strips anew, and paint them all."""
        self._set_strips()
        self.viewport().update()

    def _set_strips(self) -> None:
        self._lay_out()
        self._set_bars()

    def _lay_out(self) -> None:
        """During a drag strips stay where they are, so that nothing jumps under the hand."""
        if self.document.recording is None:
            self.layout_now = nothing_laid_out(self.viewport().width(), self.look)
        elif self._gesture is None:
            width, before = self.viewport().width(), self.layout_now
            self.layout_now = lay_out(self.document.used, self.document.score, width, self._look_now, before)

    def _set_bars(self) -> None:
        size = self.viewport().size()
        down, across = self.verticalScrollBar(), self.horizontalScrollBar()
        down.setRange(0, max(self.layout_now.height - size.height(), 0))
        down.setPageStep(size.height())
        down.setSingleStep(40)
        across.setRange(0, max(self.layout_now.width - size.width(), 0))
        across.setPageStep(size.width())
        across.setSingleStep(40)
        self.scrolled.emit()

    def set_look(self, look: Look) -> None:
        """Show the galley another way, with the playhead still in view, and remember it."""
        self.look, self.session.curve_shown = look, look.curve(Lane.MOTION)
        self._remember.start()
        self.relayout()
        self.show_time(self.document.player.position)
        self.looked.emit()

    def _write_look(self) -> None:
        LOOK.write_soon(self.look)

    def zoom_at(self, factor: float, at: QPoint) -> None:
        """Zoom in time; what is under a point of the viewport stays there as far as lines allow."""
        place = self.layout_now.place(at.x() + self._left, at.y() + self._top)
        self.look = self.look.scaled(self.look.scale * factor)
        self._remember.start()
        self._hurried = True
        self.relayout()
        if place is None:
            return
        strip = self.layout_now.strip_of(place.seconds)
        if strip is None:
            return
        inner = at.y() + self._top - place.strip.top
        self.horizontalScrollBar().setValue(round(self.layout_now.x(strip, place.seconds) - at.x()))
        self.verticalScrollBar().setValue(round(strip.top + inner - at.y()))

    def zoom_to(self, span: Span) -> None:
        """Make a stretch as wide as the page."""
        room = self.viewport().width() - 2 * MARGIN
        self.set_look(self.look.scaled(0.92 * room / max(span.length, 0.02)))
        self.show_time(span.start)

    def show_time(self, seconds: float) -> None:
        """Scroll so that a moment's strip is wholly in view."""
        strip = self.layout_now.strip_of(seconds)
        if strip is None:
            return
        down, across, size = self.verticalScrollBar(), self.horizontalScrollBar(), self.viewport().size()
        top = strip.top - GAP
        if top < down.value():
            down.setValue(top)
        elif strip.top + self.layout_now.strip_height > down.value() + size.height():
            down.setValue(strip.top + self.layout_now.strip_height + GAP - size.height())
        x = self.layout_now.x(strip, seconds)
        if not across.value() + MARGIN <= x <= across.value() + size.width() - MARGIN:
            across.setValue(round(x - size.width() * 0.2))

    def visible_span(self) -> Span:
        """From the first to the last moment on the screen."""
        strips = self._visible(self.viewport().rect())
        if not strips:
            return Span(0.0, 0.0)
        first, last = strips[0], strips[-1]
        if self.look.wrap is Wrap.PAGE:
            return Span(first.start, last.end)
        right = self._left + self.viewport().width()
        return Span(self.layout_now.seconds(first, self._left), self.layout_now.seconds(last, right))

    def point_at(self, seconds: float, lane: Lane) -> QPoint | None:
        """Where in the viewport a moment lies, in the middle of a lane; None while no strip is laid out."""
        strip = self.layout_now.strip_of(seconds)
        if strip is None:
            return None
        y = strip.top + self.layout_now.lane_top(lane) + self.layout_now.look.height(lane) // 2
        return QPoint(round(self.layout_now.x(strip, seconds)) - self._left, y - self._top)

    @property
    def _look_now(self) -> Look:
        """The look as it is set; the notes have a lane only when there are some."""
        take = self.document.state.take
        look = self.look.roomy() if self._draws_curves else self.look
        return look if take and take.notes else look.without(Lane.NOTES)

    def make_room_for_curves(self, wanted: bool) -> None:
        """Lanes of motion tall enough to draw in, as long as that is what is done."""
        if wanted != self._draws_curves:
            self._draws_curves = wanted
            self.relayout()
            self.show_time(self.document.player.position)

    @property
    def settled(self) -> bool:
        """Whether everything in view is painted as it should be."""
        return not self._hurried and not self._go_on.isActive()

    @property
    def _left(self) -> int:
        return self.horizontalScrollBar().value()

    @property
    def _top(self) -> int:
        return self.verticalScrollBar().value()

    def _visible(self, area: QRect) -> list[Strip]:
        page = area.translated(self._left, self._top)
        return list(self.layout_now.visible(page.left(), page.top(), page.right(), page.bottom()))

    # --- painting ------------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.fillRect(event.rect(), QColor(self.theme.paper))
        if self.document.recording is None:
            return
        painter.translate(-self._left, -self._top)
        patience, self._hurried = _PATIENCE if self._hurried else math.inf, False
        strips = self._visible(event.rect())
        if not self.page.paint(painter, self.layout_now, strips, self.devicePixelRatioF(), patience):
            self._go_on.start()

    def forget_pictures(self) -> None:
        """Paint everything anew, in other colours."""
        self.page.forget()
        self.viewport().update()

    def _draw_mouths_anew(self) -> None:
        self.page.forget_mouths()
        self.viewport().update()

    def _paint_on(self) -> None:
        self._hurried = True
        self.viewport().update()

    # --- following -----------------------------------------------------------------------------------------------------

    def _follow(self, seconds: float) -> None:
        """Repaint only where the playhead was and is; while playing its strip stays in view."""
        strip = self.layout_now.strip_of(seconds)
        if strip is None:
            return
        if self.document.player.playing:
            self.show_time(seconds)
        elif (target := self.document.painting_spans()) != self._target:
            self._target = target
            self.viewport().update()
        x = round(self.layout_now.x(strip, min(seconds, strip.end))) - self._left
        now = QRect(x - HANDLE - 2, strip.top - self._top - 3, 2 * HANDLE + 5, self.layout_now.strip_height + 6)
        for area in (self._playhead_rect, now, *self._numbers, *(numbers := self._numbers_in(strip))):
            self.viewport().update(area)
        self._playhead_rect, self._numbers = now, numbers

    def _numbers_in(self, strip: Strip) -> list[QRect]:
        """Where the numbers of curves stand in a strip, in the viewport."""
        return [area.translated(-self._left, -self._top) for area in self.page.values.areas(self.layout_now, strip)]

    def _point(self, place: Place | None) -> None:
        """The pointer is somewhere else: the curve it is over says its value there."""
        before, self.page.pointer = self.page.pointer, place
        for each in (before, place):
            if each is not None:
                area = self.page.values.axis_area(self.layout_now, each)
                self.viewport().update(area.translated(-self._left, -self._top))

    # --- the hand ------------------------------------------------------------------------------------------------------

    def _place(self, event: QMouseEvent) -> Place | None:
        at = event.position()
        return self.layout_now.place(at.x() + self._left, at.y() + self._top)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = self._place(event)
        if place is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if (edge := self._lane_edge(event)) is not None:
            self._edge = (edge, event.position().y(), self.look)
            return
        self._gesture = LANES[place.lane].press(self._press(event, place))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """On a word: how it is said. On a mouth: choose another."""
        place, score = self._place(event), self.document.score
        if place is not None and place.lane is Lane.MOUTHS and self.document.bake() is not None:
            self.document.player.seek(place.seconds)
            self.document.select_mouths(Span(place.seconds, place.seconds))
            self.mouth_wanted.emit()
            return
        number = score.word_at(place.seconds) if place and score and place.lane in (Lane.WORDS, Lane.PHONES) else None
        if number is None:
            self.mousePressEvent(event)
        else:
            self.word_wanted.emit(number)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        place = self._place(event)
        if place is None:
            return
        self._point(place)
        if self._edge is not None:
            lane, y, look = self._edge
            self.set_look(look.taller(lane, round(event.position().y() - y)))
        elif self._gesture is not None:
            self._gesture.move(place, held_keys(event))
        else:
            self._show_cursor(event, place)

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        self._point(None)

    def _show_cursor(self, event: QMouseEvent, place: Place) -> None:
        shape = Qt.CursorShape.ArrowCursor
        if self._lane_edge(event) is not None or LANES[place.lane].lifts(press := self._press(event, place)):
            shape = Qt.CursorShape.SplitVCursor
        elif LANES[place.lane].grips(press):
            shape = Qt.CursorShape.SplitHCursor
        self.viewport().setCursor(shape)

    def _press(self, event: QMouseEvent, place: Place) -> Press:
        return Press(self.document, self.layout_now, place, event.position().x() + self._left, held_keys(event))

    def _lane_edge(self, event: QMouseEvent) -> Lane | None:
        """The lane whose lower edge is under the pointer, in the margin left of the strips."""
        if event.position().x() > MARGIN - 3:
            return None
        return self.layout_now.edge_near(event.position().y() + self._top, _EDGE)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._edge = None
        gesture, self._gesture = self._gesture, None
        place = self._place(event)
        if gesture is not None:
            if place is not None:
                gesture.end(place)
            self.relayout()

    def viewportEvent(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            place = self.layout_now.place(event.pos().x() + self._left, event.pos().y() + self._top)
            if place is not None:
                spec = LANES[place.lane]
                told = spec.tells(self.session, place.seconds)
                QToolTip.showText(event.globalPos(), f"{told}\n\n{_(spec.hint)}" if told else _(spec.hint), self)
            return True
        return super().viewportEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """With Ctrl it zooms in time around the pointer, with Alt it magnifies the wave; else the page scrolls."""
        turn = event.angleDelta().y() or event.angleDelta().x()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_at(1.0015**turn, event.position().toPoint())
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.set_look(self.look.louder(1.0015**turn))
        elif self.look.wrap is Wrap.ENDLESS:
            self.horizontalScrollBar().setValue(self._left - turn)
        else:
            super().wheelEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.relayout()

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        del dx, dy
        self._hurried = True
        self.viewport().update()
        self.scrolled.emit()

    def toggle_wrap(self) -> None:
        other = Wrap.ENDLESS if self.look.wrap is Wrap.PAGE else Wrap.PAGE
        self.set_look(replace(self.look, wrap=other))
