"""The character large: what is set by dragging is set here, and seen at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from enum import Enum, auto

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QToolTip, QWidget

from buccaphon.app.kitpage.handles import Curve, Handle, Mark, curves_of, handles_of, simplified, with_corners
from buccaphon.app.session.characters import CharacterLoader
from buccaphon.kits.kit import Kit, Model, Point
from buccaphon.painting.artwork.cutting import outline_path, smooth_curve
from buccaphon.painting.characters.character import fit
from buccaphon.painting.characters.drawn import DrawnCharacter
from buccaphon.painting.characters.model import ModelCharacter
from buccaphon.painting.mouths import plainly
from buccaphon.painting.theme import Theme, sans
from buccaphon.texts import _

_CLICK = 3  # pixels that a hand may move while it clicks
_NEAR = 9  # pixels within which a handle is taken
_TURN, _ZOOM = 0.5, 1.1  # degrees a pixel, a step of the wheel
_KEPT = 0.006  # of the picture's width: how near a drawn line is kept


class Drawing(Enum):
    """What a press on the picture begins."""

    NOTHING = auto()
    LIP_LINE = auto()
    CHIN = auto()
    OUTLINE = auto()


class Stage(QWidget):
    """changed: the kit as it is to be, and the gesture. let_go: the hand is off. drawn: a line was drawn, its points."""

    changed = pyqtSignal(object, str)
    let_go = pyqtSignal()
    drawn = pyqtSignal(object)

    def __init__(self, characters: CharacterLoader, theme: Theme) -> None:
        super().__init__()
        self._characters, self._theme = characters, theme
        self.drawing = Drawing.NOTHING
        self.part: int | None = None
        self.jaw: float | None = None
        self._held: int | None = None
        self._has_moved, self._pressed = False, QPointF()
        self._reference_from: tuple[QPointF, Kit] | None = None
        self._held_of = ""  # whose handle it is: another character may come while it is dragged
        self._line: list[Point] = []
        self._from: tuple[QPointF, Kit] | None = None
        self.setMinimumSize(240, 220)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Character"))
        characters.cast.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(400, 330)

    # --- where things are ----------------------------------------------------------------------------------------------

    @property
    def _area(self) -> QRectF:
        """Of the picture, in the widget."""
        character = self._characters.character
        box = QRectF(self.rect()).adjusted(8, 8, -8, -8)
        return fit(*character.size(), box) if character is not None else box

    def _to_widget(self, point: Point) -> QPointF:
        area, character = self._area, self._characters.character
        assert character is not None
        scale = area.width() / character.size()[0]
        return area.topLeft() + QPointF(*point) * scale

    def _to_picture(self, at: QPointF) -> Point:
        area, character = self._area, self._characters.character
        assert character is not None
        found = (at - area.topLeft()) * (character.size()[0] / area.width())
        return found.x(), found.y()

    def _handles(self) -> list[Handle]:
        kit, character = self._characters.kit, self._characters.character
        if kit is None or character is None:
            return []
        box = character.mouths_box if isinstance(character, DrawnCharacter) else QRectF()
        return handles_of(kit, (box.x(), box.y(), box.width(), box.height()), self.part)

    def _curves(self) -> list[Curve]:
        kit = self._characters.kit
        return curves_of(kit, self.part) if kit is not None else []

    def _number_at(self, at: QPointF) -> int | None:
        """Of the handle under the pointer."""
        near = [(_distance(self._to_widget(handle.at), at), n) for n, handle in enumerate(self._handles())]
        away, number = min(near, default=(_NEAR + 1.0, 0))
        return number if away <= _NEAR else None

    def _handle_at(self, at: QPointF) -> Handle | None:
        number = self._number_at(at)
        return self._handles()[number] if number is not None else None

    # --- the hand ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent) -> None:
        kit = self._characters.kit
        if kit is None or self._characters.character is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if event.modifiers() & Qt.KeyboardModifier.AltModifier and kit.reference is not None:
            self._reference_from = event.position(), kit
        elif self.drawing is not Drawing.NOTHING:
            self._line = [self._to_picture(event.position())]
        elif isinstance(kit.look, Model):
            self._from = event.position(), kit
        else:
            self._pressed = event.position()
            self._held = self._number_at(event.position())
            self._held_of, self._has_moved = kit.name, False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        kit = self._characters.kit
        if kit is None or self._characters.character is None:
            return
        at = event.position()
        if self._line:
            self._line.append(self._to_picture(at))
            self.update()
        elif self._from is not None and isinstance(kit.look, Model) and self._from[1].name == kit.name:
            begun, before = self._from
            look = before.look
            assert isinstance(look, Model)
            yaw = (look.yaw + (at.x() - begun.x()) * _TURN + 180) % 360 - 180
            pitch = min(max(look.pitch + (at.y() - begun.y()) * _TURN, -89.0), 89.0)
            self.changed.emit(replace(kit, look=replace(look, yaw=yaw, pitch=pitch)), "kit turn")
        elif self._reference_from is not None:
            self._drag_reference(kit, at)
        elif self._held is not None:
            if self._has_moved or _distance(self._pressed, at) >= _CLICK:
                self._drag(kit, at)
        else:
            self._hint(event)

    def _drag(self, kit: Kit, at: QPointF) -> None:
        handles = self._handles()
        if kit.name == self._held_of and self._held is not None and self._held < len(handles):
            handle, self._has_moved = handles[self._held], True
            self.changed.emit(handle.drag(kit, self._to_picture(at)), f"kit {self._held} {handle.says}")

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        del event
        if len(self._line) > 1:
            character = self._characters.character
            width = character.size()[0] if character is not None else 1.0
            drawn, self._line = self._line, []
            self.drawn.emit(with_corners(drawn, simplified(drawn, _KEPT * width), _KEPT * width))
        elif self._held is not None and not self._has_moved:
            self._turn()
        self._line, self._held, self._from, self._reference_from = [], None, None, None
        self.let_go.emit()
        self.update()

    def _drag_reference(self, kit: Kit, at: QPointF) -> None:
        """With Alt held the reference picture goes with the hand."""
        assert self._reference_from is not None
        begun, before = self._reference_from
        if before.reference is None or kit.reference is None or before.name != kit.name:
            return
        (x, y), (x0, y0) = self._to_picture(at), self._to_picture(begun)
        place = before.reference.place
        moved = replace(kit.reference, place=replace(kit.reference.place, x=place.x + x - x0, y=place.y + y - y0))
        self.changed.emit(replace(kit, reference=moved), "kit reference drag")

    def _turn(self) -> None:
        """A click on a point: smooth becomes a corner, a corner smooth."""
        kit, handles = self._characters.kit, self._handles()
        if kit is None or kit.name != self._held_of or self._held is None or self._held >= len(handles):
            return
        turn = handles[self._held].turn
        if turn is not None:
            self.changed.emit(turn(kit), "")

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """One more point on the nearest line."""
        kit = self._characters.kit
        curves = [curve for curve in self._curves() if curve.points]
        if kit is None or not curves or self._handle_at(event.position()) is not None:
            return
        at = self._to_picture(event.position())

        def away(curve: Curve) -> float:
            return min(_distance(QPointF(*point), QPointF(*at)) for point in curve.points)

        self.changed.emit(min(curves, key=away).add(kit, at), "")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        kit = self._characters.kit
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and kit is not None:
            handle = self._handle_at(QPointF(self.mapFromGlobal(self.cursor().pos())))
            if handle is not None and handle.remove is not None:
                self.changed.emit(handle.remove(kit), "")
                return
        super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        kit = self._characters.kit
        if kit is not None and kit.reference is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            turned = event.angleDelta().y() or event.angleDelta().x()  # some desktops turn Alt's wheel sideways
            place = kit.reference.place
            scale = min(max(place.scale * (_ZOOM if turned > 0 else 1 / _ZOOM), 0.01), 100.0)
            self.changed.emit(
                replace(kit, reference=replace(kit.reference, place=replace(place, scale=scale))), "kit reference size"
            )
        elif kit is not None and isinstance(kit.look, Model):
            step = _ZOOM if event.angleDelta().y() > 0 else 1 / _ZOOM
            zoom = min(max(kit.look.zoom * step, 0.1), 20.0)
            self.changed.emit(replace(kit, look=replace(kit.look, zoom=zoom)), "kit zoom")
        else:
            super().wheelEvent(event)

    def _hint(self, event: QMouseEvent) -> None:
        handle = self._handle_at(event.position())
        self.setCursor(Qt.CursorShape.OpenHandCursor if handle else Qt.CursorShape.ArrowCursor)
        if handle is not None:
            told = [handle.says]
            told += [_("Click: corner or smooth")] if handle.turn else []
            told += [_("Delete removes the point")] if handle.remove else []
            QToolTip.showText(event.globalPosition().toPoint(), " · ".join(told), self)

    # --- painting ------------------------------------------------------------------------------------------------------

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        frame = QPainterPath()
        frame.addRoundedRect(QRectF(self.rect()), 8, 8)
        painter.fillPath(frame, QColor(self._theme.mirror))
        painter.setClipPath(frame)
        character = self._characters.character
        if character is None:
            self._say(painter)
            return
        self._characters.paint_reference(painter, self._area)
        moment = self._characters.moment(still=self.jaw is None and self._from is None)
        if self.jaw is not None:
            moment = replace(moment, jaw=self.jaw, shares=())
        character.paint(painter, self._area, moment, plainly(self._theme))
        if isinstance(character, ModelCharacter):
            self._paint_axis(painter, character)
        else:
            self._paint_curves(painter)
            self._paint_handles(painter)

    def _paint_axis(self, painter: QPainter, character: ModelCharacter) -> None:
        """Of the jaw: where it turns."""
        line = character.jaw_line()
        if line is None:
            return
        pivot, end = map(self._to_widget, line)
        for ink, width in ((self._theme.paper, 3.5), (self._theme.playhead, 1.8)):
            painter.setPen(QPen(QColor(ink), width))
            painter.drawLine(pivot - (end - pivot), end)
        _pivot(painter, pivot, self._theme)

    def _say(self, painter: QPainter) -> None:
        painter.setPen(QColor(self._theme.rail_ink))
        painter.setFont(sans(13))
        told = self._characters.problem or (
            _("Reading …") if self._characters.kit else _("Add a character to set it up here")
        )
        painter.drawText(QRectF(self.rect()).adjusted(24, 0, -24, 0), _CENTER, told)

    def _paint_curves(self, painter: QPainter) -> None:
        scale = self._to_widget((1.0, 0.0)).x() - self._to_widget((0.0, 0.0)).x()
        painter.save()
        painter.translate(self._area.topLeft())
        painter.scale(scale, scale)
        for curve in self._curves():
            path = outline_path(curve.points) if curve.closed else smooth_curve(curve.points)
            for ink, width in ((self._theme.paper, 3.5), (self._theme.playhead, 1.8)):
                painter.strokePath(path, QPen(QColor(ink), width / scale))
        if len(self._line) > 1:
            path = QPainterPath(QPointF(*self._line[0]))
            for point in self._line[1:]:
                path.lineTo(QPointF(*point))
            painter.strokePath(path, QPen(QColor(self._theme.playhead), 2.4 / scale))
        painter.restore()

    def _paint_handles(self, painter: QPainter) -> None:
        for handle in self._handles():
            at = self._to_widget(handle.at)
            _MARKS[handle.mark](painter, at, self._theme)


_CENTER = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap


def _dot(painter: QPainter, at: QPointF, theme: Theme) -> None:
    painter.setPen(QPen(QColor(theme.playhead), 1.8))
    painter.setBrush(QColor(theme.paper))
    painter.drawEllipse(at, 4.5, 4.5)


def _cross(painter: QPainter, at: QPointF, theme: Theme) -> None:
    for ink, width in ((theme.paper, 4.0), (theme.playhead, 2.0)):
        painter.setPen(QPen(QColor(ink), width))
        painter.drawLine(at - QPointF(9, 0), at + QPointF(9, 0))
        painter.drawLine(at - QPointF(0, 9), at + QPointF(0, 9))


def _corner(painter: QPainter, at: QPointF, theme: Theme) -> None:
    painter.setPen(QPen(QColor(theme.playhead), 1.8))
    painter.setBrush(QColor(theme.paper))
    painter.drawRect(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9))


def _pivot(painter: QPainter, at: QPointF, theme: Theme) -> None:
    _dot(painter, at, theme)
    painter.setBrush(QColor(theme.playhead))
    painter.drawEllipse(at, 1.8, 1.8)


def _end(painter: QPainter, at: QPointF, theme: Theme) -> None:
    painter.setPen(QPen(QColor(theme.paper), 1.5))
    painter.setBrush(QColor(theme.playhead))
    path = QPainterPath(at + QPointF(0, 7))
    path.lineTo(at + QPointF(-7, -5))
    path.lineTo(at + QPointF(7, -5))
    path.closeSubpath()
    painter.drawPath(path)


_MARKS: dict[Mark, Callable[[QPainter, QPointF, Theme], None]] = {
    Mark.POINT: _dot,
    Mark.MIDDLE: _cross,
    Mark.CORNER: _corner,
    Mark.PIVOT: _pivot,
    Mark.END: _end,
}


def _distance(a: QPointF, b: QPointF) -> float:
    apart = a - b
    return float((apart.x() ** 2 + apart.y() ** 2) ** 0.5)
