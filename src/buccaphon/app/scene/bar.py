"""The scene bar: the lines of the scene in a row for each role, dragged to their places, muted and gone to."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QEvent, QLineF, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import (
    QBrush,
    QColor,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from buccaphon.app.scene.layout import HEARD_ONLY, Block, is_wanted, lay_out
from buccaphon.app.session.session import Session
from buccaphon.painting.mouths import blank
from buccaphon.painting.theme import Theme, sans
from buccaphon.project.delivering import called
from buccaphon.project.derived import Derived
from buccaphon.project.edits.lines import ChangeLine, PlaceLines, RemoveLine
from buccaphon.project.scene import frames_of
from buccaphon.project.state import Line
from buccaphon.texts import _, ngettext
from buccaphon.timing import Span

_GUTTER, _RIM = 92, 10  # pixels: names of the roles at the left, free at the right
_NAME = 70  # pixels for the name of a line that is too short for it
_MOVES = 4  # pixels until a press is a drag
_KEYS = (
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_M, Qt.Key.Key_Return,
    Qt.Key.Key_Enter, Qt.Key.Key_Delete,
)  # fmt: skip


class SceneBar(QWidget):
    def __init__(self, session: Session, theme: Theme, visible: Callable[[], Span]) -> None:
        """visible: the seconds of the open line that are on the page."""
        super().__init__()
        self._session, self._document, self._theme, self._visible = session, session.document, theme, visible
        self.chosen: int | None = None  # the key of the line that a hand or the keys have chosen
        self._layout = lay_out(self._document.state, {}, _GUTTER, 100.0)
        self._drag: tuple[Block, float, float, bool] | None = None  # what, pressed at x, begins at, is under way
        self._waves: dict[object, QPixmap] = {}
        self._shown: object = None  # all that the lines are laid out by
        self._start = 0.0  # of the bar, in seconds of the scene
        self._kept: tuple[object, QPixmap] | None = None  # all but the playhead
        self._drawn_at = 0.0  # where the playhead was painted last
        self.setObjectName("scene-bar")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName(_("Scene"))
        self.setToolTip(
            _(
                "Double-click opens a line, dragging moves it. With the keys: up and down choose, left and right move by a "
                "frame, M mutes, Delete removes · Page Down: next line"
            )
        )
        document = self._document
        document.opened.connect(self._let_go)
        for signal in (document.opened, document.changed, document.sound_ready, session.lines.heard):
            signal.connect(self.refresh)
        document.player.moved.connect(self._follow)
        self.refresh()

    # --- what there is -------------------------------------------------------------------------------------------------

    def refresh(self, _what: object = None) -> None:
        state = self._document.state
        self.setVisible(is_wanted(state))
        if not is_wanted(state):
            return
        lasts = self._session.lines.ensemble().lasts
        shown = (
            tuple(_shown_of(line) for line in state.lines),
            state.roles,
            state.rate,
            state.length,
            lasts,
            self.width(),
        )
        if shown != self._shown:
            self._shown = shown
            before, numbers = self._layout.height, frames_of(state, lasts)
            self._start = state.rate.seconds(numbers.start - state.start_frame)
            self._layout = lay_out(state, lasts, _GUTTER, self.width() - _GUTTER - _RIM)
            if self._layout.height != before:
                self.updateGeometry()
            self._kept = None
            self.update()
        if self.chosen is not None and state.number_of(self.chosen) is None:
            self.chosen = None
        self.setAccessibleDescription(self._spoken())
        if self._kept is not None and self._kept[0] != self._look():
            self.update()

    def _spoken(self) -> str:
        state = self._document.state
        told = ngettext("{count} line", "{count} lines", len(state.lines))
        number = self._chosen_number
        return f"{told}; {_('{title} is chosen', title=state.lines[number].title)}"

    @property
    def _chosen_number(self) -> int:
        state = self._document.state
        found = state.number_of(self.chosen) if self.chosen is not None else None
        return state.open_line if found is None else found

    def sizeHint(self) -> QSize:
        return QSize(200, self._layout.height)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def resizeEvent(self, _event: QResizeEvent | None) -> None:
        self.refresh()

    def forget_pictures(self) -> None:
        self._waves.clear()
        self._kept = None

    def _follow(self, _seconds: float) -> None:
        """Only where the playhead was and is."""
        for x in (self._drawn_at, self._layout.x(self._playhead)):
            self.update(round(x) - 3, 0, 6, self.height())

    def _look(self) -> object:
        """What the picture of all but the playhead depends on, besides where the lines lie."""
        chosen = self._chosen_number if self.hasFocus() else -1
        return self._document.state.open_line, chosen, self._visible(), self._document.used, self.devicePixelRatioF()

    # --- painting ------------------------------------------------------------------------------------------------------

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter, theme, look = QPainter(self), self._theme, self._look()
        if self._kept is None or self._kept[0] != look:
            self._kept = look, self._painted()
        painter.drawPixmap(0, 0, self._kept[1])
        painter.setPen(QPen(QColor(theme.playhead), 1.6))
        x = self._drawn_at = self._layout.x(self._playhead)
        painter.drawLine(QLineF(x, 2, x, self.height() - 2))

    def _painted(self) -> QPixmap:
        """All but the playhead."""
        picture, theme, layout = blank(self.width(), self.height(), self.devicePixelRatioF()), self._theme, self._layout
        picture.fill(QColor(theme.panel))
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_rows(painter)
        for block in layout.blocks:
            self._paint_block(painter, block)
        painter.setPen(Qt.PenStyle.NoPen)
        for block, span in layout.won_over:
            box = self._box(block)
            left, right = layout.x(span.start), layout.x(span.end)
            painter.fillRect(QRectF(left, box.bottom() - 3, right - left, 3), QColor(theme.pin))
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.playhead), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        painter.end()
        return picture

    @property
    def _playhead(self) -> float:
        """Seconds from the scene's first frame in the bar on."""
        return self._session.lines.here - self._start

    def _paint_rows(self, painter: QPainter) -> None:
        layout, theme, state = self._layout, self._theme, self._document.state
        painter.setFont(sans(11))
        metrics = QFontMetricsF(painter.font())
        for number, row in enumerate(layout.rows):
            top, tall = layout.top(number), layout.row_height * layout.levels(number)
            if number:
                painter.setPen(QPen(QColor(theme.edge), 1))
                painter.drawLine(QLineF(_GUTTER, top, self.width(), top))
            name = _("heard only") if row is HEARD_ONLY else called(state, row)
            painter.setPen(QColor(theme.ink_soft))
            text = metrics.elidedText(name, Qt.TextElideMode.ElideRight, _GUTTER - 20)
            painter.drawText(QRectF(12, top, _GUTTER - 16, tall), Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_block(self, painter: QPainter, block: Block) -> None:
        theme, state = self._theme, self._document.state
        line, is_open = state.lines[block.number], block.number == state.open_line
        box = self._box(block)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.paper if is_open else theme.edge))
        painter.drawRoundedRect(box, 3, 3)
        if is_open:
            self._paint_visible(painter, box)
        derived = self._session.lines.sounds.get(line.key)
        if derived is not None and line.take is not None:
            painter.drawPixmap(box.topLeft(), self._wave(line, derived, box, is_open=is_open))
            self._paint_quiet(painter, block, box, line.take.used(derived.recording.duration))
        if line.muted or (line.take is not None and line.take.muted):
            painter.fillRect(box, QBrush(QColor(theme.ink_soft), Qt.BrushStyle.BDiagPattern))
        chosen = self.hasFocus() and block.number == self._chosen_number
        ink = theme.playhead if chosen else theme.ink if is_open else theme.ink_soft
        painter.setPen(QPen(QColor(ink), 1.6 if is_open or chosen else 0.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)
        title = line.title if block.is_known else _("{title}: reading …", title=line.title)
        self._paint_title(painter, box, title, line)

    def _paint_quiet(self, painter: QPainter, block: Block, box: QRectF, used: Span) -> None:
        """Where others speak in the line its wave is faint."""
        veil = QColor(self._theme.panel)
        veil.setAlphaF(0.72)
        for span in block.quiet:
            start, end = used.clamp(span.start), used.clamp(span.end)
            if end > start and used.length > 0:
                left, right = (box.left() + (at - used.start) / used.length * box.width() for at in (start, end))
                painter.fillRect(QRectF(left, box.top() + 1, right - left, box.height() - 2), veil)

    def _paint_title(self, painter: QPainter, box: QRectF, title: str, line: Line) -> None:
        """On a ground of its own, so that it is read over the wave."""
        theme = self._theme
        painter.setFont(sans(11))
        metrics = QFontMetricsF(painter.font())
        marks = [_("muted")] if line.muted else []
        text = " · ".join((title, *marks))
        room = box.width() - 10
        if metrics.horizontalAdvance(title) > room:  # a short one's name stands beside it
            box = QRectF(
                box.right() if box.right() + _NAME < self.width() else box.left() - _NAME,
                box.top(),
                _NAME,
                box.height(),
            )
            room = _NAME - 10
        text = metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)
        wide = metrics.horizontalAdvance(text)
        ground = QColor(theme.panel)
        ground.setAlphaF(0.85)
        spot = QRectF(box.left() + 3, box.center().y() - metrics.height() / 2, wide + 6, metrics.height())
        painter.fillRect(spot, ground)
        painter.setPen(QColor(theme.ink))
        painter.drawText(spot.adjusted(3, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_visible(self, painter: QPainter, box: QRectF) -> None:
        """The part of the open line that is on the page."""
        used, seen = self._document.used, self._visible()
        if used.length <= 0 or seen.length >= used.length:
            return
        left, right = (
            box.left() + (used.clamp(seconds) - used.start) / used.length * box.width()
            for seconds in (seen.start, seen.end)
        )
        painter.fillRect(QRectF(left, box.top(), max(right - left, 2), box.height()), QColor(self._theme.loop))

    def _box(self, block: Block) -> QRectF:
        layout = self._layout
        left, right = layout.x(block.seconds.start), layout.x(block.seconds.end)
        return QRectF(left, layout.top(block.row, block.level) + 2, max(right - left, 3.0), layout.row_height - 4)

    def _wave(self, line: Line, derived: Derived, box: QRectF, *, is_open: bool) -> QPixmap:
        assert line.take is not None
        used, wide, tall = line.take.used(derived.recording.duration), max(round(box.width()), 1), round(box.height())
        key = (id(derived), used, wide, tall, is_open, self._theme.wave, self.devicePixelRatioF())
        if key not in self._waves:
            if len(self._waves) > 4 * len(self._layout.blocks):
                self._waves.clear()
            picture = blank(wide, tall, self.devicePixelRatioF())
            painter = QPainter(picture)
            columns = derived.peaks.columns(used.start, used.end, wide)
            reach = (tall / 2 - 2) / max(derived.peaks.loudest(), 1e-6)
            painter.setPen(QPen(QColor(self._theme.wave_core if is_open else self._theme.wave), 1))
            xs = np.arange(len(columns)) + 0.5
            found = zip(xs, tall / 2 - columns[:, 1] * reach, tall / 2 - columns[:, 0] * reach, strict=True)
            drawn = [QLineF(x, top, x, bottom + 0.5) for x, top, bottom in found]
            painter.drawLines(drawn)  # type: ignore[call-overload]  # the stubs lack it
            painter.end()
            self._waves[key] = picture
        return self._waves[key]

    # --- a hand at work ------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        block = self._layout.block_at(at.x(), at.y())
        if block is None or event.button() != Qt.MouseButton.LeftButton:
            self._go(at)
            return
        self.chosen = block.key
        self._drag = (block, at.x(), block.seconds.start, False)
        self.setAccessibleDescription(self._spoken())
        self.update()

    def _let_go(self) -> None:
        """Another project is here: a hand that is still down holds nothing of it."""
        self._drag = self.chosen = None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._drag is None:
            if event.buttons() & Qt.MouseButton.LeftButton:
                self._go(event.position())
            return
        block, pressed, began, under_way = self._drag
        x = event.position().x()
        if not under_way and abs(x - pressed) < _MOVES:
            return
        self._drag = (block, pressed, began, True)
        self._place(block.key, began + (x - pressed) / max(self._layout.width, 1.0) * self._layout.length)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        drag, self._drag = self._drag, None
        if drag is not None and drag[3]:
            self._document.end_gesture()
            self.refresh()
        elif drag is not None and drag[0].number == self._document.state.open_line:
            self._go(event.position())

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        block = self._layout.block_at(at.x(), at.y())
        if block is not None:
            self._session.lines.open(block.number)
            self._go(at)

    def _go(self, at: QPointF) -> None:
        """Put the playhead there, in the line that is there."""
        lines = self._session.lines
        seconds = self._layout.seconds(at.x()) + self._start
        number = lines.line_at(seconds)
        if number is not None:
            lines.open(number)
        state = self._document.state
        self._document.go(seconds - state.rate.seconds(state.first_number - state.start_frame))

    def _place(self, key: int, seconds: float) -> None:
        """A line begins so many seconds after the first frame of the bar, and not before that of the scene."""
        self._document.apply(PlaceLines(((key, max(seconds + self._start, 0.0)),), gesture=f"place line {key}"))

    # --- keys ----------------------------------------------------------------------------------------------------------

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and event.key() in _KEYS:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        state, number, key = self._document.state, self._chosen_number, event.key()
        line = state.lines[number]
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._choose(number + (1 if key == Qt.Key.Key_Down else -1))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and line.take is not None:
            way = 1 if key == Qt.Key.Key_Right else -1
            at = line.take.offset + state.rate.seconds(way)
            self._document.apply(PlaceLines(((line.key, at),), gesture=f"nudge line {line.key}"))
        elif key == Qt.Key.Key_M:
            name = _("Unmute the line") if line.muted else _("Mute the line")
            self._document.apply(ChangeLine(line.key, muted=not line.muted, name=name))
        elif key == Qt.Key.Key_Delete:
            self._document.apply(RemoveLine(line.key))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._session.lines.open(number)
        else:
            super().keyPressEvent(event)

    def _choose(self, number: int) -> None:
        lines = self._document.state.lines
        self.chosen = lines[min(max(number, 0), len(lines) - 1)].key
        self.setAccessibleDescription(self._spoken())
        self.update()


def _shown_of(line: Line) -> tuple[object, ...]:
    """What the bar shows of a line: not its mouths."""
    take = line.take
    of_take = (
        (take.path, take.offset, take.trim_in, take.trim_out, take.muted, take.aligned_script, take.score)
        if take is not None
        else ()
    )
    return (line.key, line.title, line.role, line.heard_only, line.muted, *of_take)
