"""This character's drawings and layers: what each is for, its number, and the hand that gives it to a mouth."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QMimeData, QPoint, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QAction,
    QActionGroup,
    QDrag,
    QDragEnterEvent,
    QDropEvent,
    QIcon,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
)
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QMenu

from buccaphon.app.dragging import DRAWING, dragged_drawing
from buccaphon.app.paint_keys import PAINT_KEYS
from buccaphon.kits.kit import Kit
from buccaphon.kits.names.reasons import in_words
from buccaphon.kits.own.drawing import OwnDrawing, Role
from buccaphon.kits.own.table import NOTHING
from buccaphon.texts import N_, _

PICTURE = QSize(56, 34)
_TILE = QSize(88, 76)
_SHORTLY = {
    Role.FACE: N_("face"),
    Role.OVER: N_("over it"),
    Role.FACE_OF_MOUTH: N_("face of one"),
    Role.OTHER_WAY: N_("other view"),
}  # where a tile has no room for all of it
_ROLE_LINE = 18  # pixels at the foot of a tile: a click there asks what it is for


class Drawings(QListWidget):
    """role_chosen: a drawing, and what it is for from now on. rest_chosen: the drawing that is shown in silence, NOTHING for
    none of them, None for the one that is found. moved: a drawing, and the place among the mouths that it takes.
    given: a drawing, and the number of the mouth whose key was pressed."""

    role_chosen = pyqtSignal(str, object)
    rest_chosen = pyqtSignal(object)
    moved = pyqtSignal(str, int)
    given = pyqtSignal(str, int)

    def __init__(self) -> None:
        super().__init__()
        self._kit: Kit | None = None
        self._keys: Sequence[str] = PAINT_KEYS
        self._shown: object = None
        self._pressed: QPoint | None = None
        self.setViewMode(QListWidget.ViewMode.IconMode)
        self.setFlow(QListWidget.Flow.LeftToRight)
        self.setWrapping(False)
        self.setMovement(QListWidget.Movement.Static)
        self.setIconSize(PICTURE)
        self.setGridSize(_TILE)
        self.setFixedHeight(_TILE.height() + 18)
        self.setDragEnabled(True)
        self.setAcceptDrops(True)
        self.viewport().setAcceptDrops(True)  # icons that stay where they are take nothing otherwise
        self.setAccessibleName(_("This character's drawings"))

    def use_keys(self, keys: Sequence[str]) -> None:
        """The keys of the mouths, in their order."""
        self._keys = keys

    def show_kit(self, kit: Kit, all_of_it: Sequence[OwnDrawing], picture: Callable[[str], QIcon]) -> None:
        """all_of_it: what each drawing of the artwork is for, also of a kit that does not know it yet."""
        self._kit = kit
        resting = kit.table.rest.name
        wanted = (tuple(all_of_it), kit.names, resting)
        if wanted == self._shown:
            return
        self._shown = wanted
        current = self.currentItem().data(Qt.ItemDataRole.UserRole) if self.currentItem() else None
        self.clear()
        for each in sorted(all_of_it, key=lambda drawing: self._order(drawing, kit)):
            item = QListWidgetItem(picture(each.name), self._text(each, kit, resting))
            item.setData(Qt.ItemDataRole.UserRole, each.name)
            item.setToolTip(_hint(each))
            item.setSizeHint(_TILE)
            self.addItem(item)
            if each.name == current:
                self.setCurrentItem(item)

    @staticmethod
    def _order(drawing: OwnDrawing, kit: Kit) -> tuple[int, int]:
        """Mouths first, in the order of their numbers."""
        if drawing.role is Role.MOUTH and drawing.name in kit.names.host:
            return 0, kit.names.host.index(drawing.name)
        return (0 if drawing.role is Role.MOUTH else 1), 0

    def _text(self, drawing: OwnDrawing, kit: Kit, resting: str) -> str:
        """Its number and name, and below what it is for."""
        if drawing.role is not Role.MOUTH:
            short = _SHORTLY.get(drawing.role)
            return _("{name}\n{role} ▾", name=drawing.name, role=_(short) if short else drawing.role.label)
        role = _("rests") if drawing.name == resting else drawing.role.label
        if drawing.name in kit.names.host:
            number = kit.names.counts_from + kit.names.host.index(drawing.name)
            return _("{number}  {name}\n{role} ▾", number=number, name=drawing.name, role=role)
        return _("{name}\n{role} ▾", name=drawing.name, role=role)

    # --- the hand ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        self._pressed = event.position().toPoint()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        at = event.position().toPoint()
        item = self.itemAt(at)
        if item is None or self._pressed is None:
            return
        foot = self.visualItemRect(item).bottom() - _ROLE_LINE
        is_right = event.button() is Qt.MouseButton.RightButton
        if is_right or (event.button() is Qt.MouseButton.LeftButton and min(at.y(), self._pressed.y()) >= foot):
            self.menu_for(item).popup(event.globalPosition().toPoint())

    def menu_for(self, item: QListWidgetItem) -> QMenu:
        """What a drawing may be for, and whether it is shown in silence."""
        assert self._kit is not None
        name, kit = str(item.data(Qt.ItemDataRole.UserRole)), self._kit
        now = next((each.role for each in kit.drawings if each.name == name), Role.MOUTH)
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        roles = QActionGroup(menu)
        for role in Role:
            action = roles.addAction(QAction(role.title, menu))
            action.setCheckable(True)
            action.setChecked(role is now)
            action.triggered.connect(lambda _on, role=role: self.role_chosen.emit(name, role))
            menu.addAction(action)
        menu.addSeparator()
        rests = kit.table.rest.name
        for text, value, on in (
            (_("Shown in silence"), name, now is Role.MOUTH and rests == name),
            (_("Nothing is shown in silence"), NOTHING, rests == NOTHING),
            (_("Find what is shown in silence"), None, kit.rests is None),
        ):
            action = menu.addAction(text)
            assert action is not None
            action.setCheckable(True)
            action.setChecked(on)
            action.setEnabled(value != name or now is Role.MOUTH)
            action.triggered.connect(lambda _on, value=value: self.rest_chosen.emit(value))
        return menu

    def startDrag(self, _actions: Qt.DropAction) -> None:
        item = self.currentItem()
        if item is None:
            return
        data = QMimeData()
        data.setData(DRAWING, str(item.data(Qt.ItemDataRole.UserRole)).encode("utf-8", "surrogateescape"))
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.setPixmap(item.icon().pixmap(PICTURE))
        drag.exec(Qt.DropAction.CopyAction)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if dragged_drawing(event):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDropEvent) -> None:
        event.setAccepted(bool(dragged_drawing(event)))

    def dropEvent(self, event: QDropEvent) -> None:
        """One of the mouths put elsewhere among them: numbers follow the order."""
        name, at = dragged_drawing(event), event.position().toPoint()
        if not name or self._kit is None:
            return
        event.acceptProposedAction()
        place = sum(
            self.visualItemRect(self.item(row)).center().x() < at.x()
            for row in range(self.count())
            if self.item(row).data(Qt.ItemDataRole.UserRole) in self._kit.own
        )
        self.moved.emit(name, place)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """A mouth's key gives the chosen drawing to that mouth."""
        number, item = self._mouth_of(event), self.currentItem()
        if number is None or item is None:
            super().keyPressEvent(event)
        else:
            self.given.emit(str(item.data(Qt.ItemDataRole.UserRole)), number)

    def event(self, event: object) -> bool:
        """While it has the focus the mouths' keys are its own, not the line's."""
        is_asked = isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.ShortcutOverride
        if isinstance(event, QKeyEvent) and is_asked and self.currentItem() and self._mouth_of(event) is not None:
            event.accept()
            return True
        return super().event(event)  # type: ignore[arg-type]  # every event comes here

    def _mouth_of(self, event: QKeyEvent) -> int | None:
        pressed = QKeySequence(event.keyCombination()).toString()
        return self._keys.index(pressed) if pressed and pressed in self._keys else None


def _hint(drawing: OwnDrawing) -> str:
    why = in_words(drawing.why)
    says = f"{drawing.name}: {drawing.role.label}" + (f" ({why})" if why else "")
    return _(
        "{says}. Drag it onto a mouth, or press the mouth's key; click below it to change what it is for", says=says
    )
