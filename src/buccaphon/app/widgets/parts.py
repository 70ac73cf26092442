"""Small pieces that all panels are set from."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractSpinBox,
    QDoubleSpinBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)


class Panel(QWidget):
    """A column with a title; pieces are added from top to bottom."""

    def __init__(self, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(18, 16, 8, 6)  # and the scroll bar, or as much room
        self.column.setSpacing(10)
        self.column.addWidget(label(title, "title"))

    def minimumSizeHint(self) -> QSize:
        """As narrow as the side column leaves it when a scroll bar stands beside it."""
        return QSize(0, super().minimumSizeHint().height())


def fit_rows(found: QListWidget, most: int) -> None:
    """Make a list as high as its rows, one at least and so many at the most."""
    row = found.sizeHintForRow(0) if found.count() else found.fontMetrics().height() + 8
    found.setFixedHeight(row * min(max(found.count(), 1), most) + 2 * found.frameWidth())


def label(text: str, role: str) -> QLabel:
    """Text in one of the theme's roles: title, heading, hint, field, value."""
    made = QLabel(text)
    made.setProperty("role", role)
    made.setWordWrap(role in ("hint", "value"))
    made.setTextFormat(Qt.TextFormat.PlainText)
    return made


class Steady(QWidget):
    """Holds a line of text in what room there is. A label of its own would have the whole window laid out anew whenever it
    says something else."""

    def __init__(self, text: QLabel) -> None:
        super().__init__()
        self._text = text
        text.setParent(self)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)

    def sizeHint(self) -> QSize:
        return self._text.sizeHint()

    def minimumSizeHint(self) -> QSize:
        return QSize(0, self._text.sizeHint().height())

    def resizeEvent(self, _event: QResizeEvent) -> None:
        self._text.setFixedSize(self.size())


class PlaceLabel(QLabel):
    """Text that leads to a place: a click, or Return when it has the focus."""

    gone = pyqtSignal()

    def __init__(self, text: str, hint: str) -> None:
        super().__init__(text)
        self.setProperty("role", "place")
        self.setWordWrap(True)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setToolTip(hint)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self.rect().contains(event.position().toPoint()):
            self.gone.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.gone.emit()
        else:
            super().keyPressEvent(event)


def button(text: str, hint: str, role: str = "") -> QPushButton:
    made = QPushButton(text)
    made.setToolTip(hint)
    if role:
        made.setProperty("role", role)
    return made


def spin(before: str, after: str, ends: tuple[float, float], step: float, decimals: int, hint: str) -> QDoubleSpinBox:
    """A number to turn: what stands before and after it, its ends, its step and how many decimals it has."""
    made = QDoubleSpinBox()
    made.setPrefix(before)
    made.setSuffix(after)
    made.setDecimals(decimals)  # first, for a range is rounded to them
    made.setRange(*ends)
    made.setSingleStep(step)
    made.setKeyboardTracking(False)
    made.setButtonSymbols(QAbstractSpinBox.ButtonSymbols.NoButtons)  # the wheel and the arrow keys step
    made.setToolTip(hint)
    return made


def quiet_row(*buttons: QPushButton) -> QHBoxLayout:
    """Small actions side by side."""
    row = QHBoxLayout()
    row.setContentsMargins(0, 0, 0, 0)
    for each in buttons:
        row.addWidget(each)
    row.addStretch(1)
    return row


class Fields(QWidget):
    """Names at the left, values or inputs at the right."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(12)
        self._grid.setVerticalSpacing(7)
        self._grid.setColumnStretch(1, 1)

    def add(self, name: str, widget: QWidget) -> None:
        row = self._grid.rowCount()
        field = label(name, "field")
        field.setBuddy(widget)
        self._grid.addWidget(field, row, 0, Qt.AlignmentFlag.AlignVCenter)
        self._grid.addWidget(widget, row, 1)
        if not widget.accessibleName():
            widget.setAccessibleName(name)
