"""Sounds as small tiles that are dragged from mouth to mouth, and the places that take them."""

from __future__ import annotations

from collections.abc import Iterable
from enum import Enum

from PyQt6.QtCore import QByteArray, QEvent, QMimeData, QPoint, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QDrag, QDragEnterEvent, QDropEvent, QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication, QLabel, QLayout, QLayoutItem, QWidget

from buccaphon.mouths.rules import rule_label
from buccaphon.texts import N_, _

KIND = "application/x-buccaphon-sound"
_GAP = 4  # pixels
_TAKE_OUT = (Qt.Key.Key_Delete, Qt.Key.Key_Backspace)


class Flow(QLayout):
    """Widgets one after the other, in as many rows as they need."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem) -> None:
        self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._set(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._set(rect, move=True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        size = QSize()
        for item in self._items:
            size = size.expandedTo(item.minimumSize())
        return size

    def _set(self, rect: QRect, *, move: bool) -> int:
        x, y, row = rect.x(), rect.y(), 0
        for item in self._items:
            size = item.sizeHint()
            if x > rect.x() and x + size.width() > rect.right() + 1:
                x, y, row = rect.x(), y + row + _GAP, 0
            if move:
                item.setGeometry(QRect(QPoint(x, y), size))
            x += size.width() + _GAP
            row = max(row, size.height())
        return y + row - rect.y()


class ChipKind(Enum):
    """What stands on a chip; the value is its role in the style."""

    SOUND = "chip"
    RULE = "rule"
    RULED = "ruled"


_NAMES = {
    ChipKind.SOUND: N_("sound {sound}"),
    ChipKind.RULE: N_("rule {sound}"),
    ChipKind.RULED: N_("sound {sound}, covered by a rule"),
}
_HINTS = {
    ChipKind.SOUND: N_("Drag it to another mouth · Delete removes it"),
    ChipKind.RULE: N_(
        "A rule for all languages; a mouth that lists a sound itself takes precedence · Delete removes it"
    ),
    ChipKind.RULED: N_("Covered by a rule of this mouth"),
}


class Chip(QLabel):
    """A sound, or a rule. Dragged it goes to another mouth; Delete lets no mouth answer to it."""

    dropped = pyqtSignal(str)

    def __init__(self, sound: str, kind: ChipKind) -> None:
        super().__init__(rule_label(sound) if kind is ChipKind.RULE else sound)
        self.sound, self._kind = sound, kind
        self._from = QPoint()
        self.setProperty("role", kind.value)
        self.setAccessibleName(_(_NAMES[kind], sound=sound))
        self.setToolTip(_(_HINTS[kind]))
        if kind is ChipKind.SOUND:
            self.setCursor(Qt.CursorShape.OpenHandCursor)
        if kind is not ChipKind.RULED:
            self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._from = event.position().toPoint()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        far = (event.position().toPoint() - self._from).manhattanLength() >= QApplication.startDragDistance()
        if self._kind is not ChipKind.SOUND or not far or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        drag, data = QDrag(self), QMimeData()
        data.setData(KIND, QByteArray(self.sound.encode()))
        data.setText(self.sound)
        drag.setMimeData(data)
        drag.setPixmap(self.grab())
        drag.exec(Qt.DropAction.MoveAction)

    def event(self, event: QEvent) -> bool:
        """Delete is this tile's while it has the focus, not the window's."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and event.key() in _TAKE_OUT:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in _TAKE_OUT:
            self.dropped.emit(self.sound)
        else:
            super().keyPressEvent(event)


class SoundBox(QWidget):
    """Sounds that belong together; others can be dropped in. given: a sound came. gone: one is to go."""

    given = pyqtSignal(str)
    gone = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._flow = Flow(self)
        self._shown: tuple[tuple[str, ...], ...] | None = None
        self.chips: list[Chip] = []
        self.setAcceptDrops(True)
        self.setMinimumHeight(24)

    def show_sounds(self, sounds: Iterable[str], rules: Iterable[str] = (), ruled: Iterable[str] = ()) -> None:
        """rules: the mouth's. ruled: sounds that it answers to by them."""
        wanted = (tuple(sounds), tuple(rules), tuple(ruled))
        if wanted == self._shown:
            return
        self._shown = wanted
        for chip in self.chips:
            self._flow.removeWidget(chip)
            chip.hide()
            chip.deleteLater()
        self.chips = [Chip(text, kind) for kind, texts in zip(ChipKind, wanted, strict=True) for text in texts]
        for chip in self.chips:
            chip.dropped.connect(self.gone)
            self._flow.addWidget(chip)
        self.updateGeometry()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if sound_in(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        sound = sound_in(event)
        if sound:
            event.acceptProposedAction()
            self.given.emit(sound)


def sound_in(event: QDropEvent) -> str:
    """The sound that is dragged; '' for anything else."""
    data = event.mimeData()
    if data is None or not data.hasFormat(KIND):
        return ""
    return bytes(data.data(KIND).data()).decode("utf-8", "replace")
