"""A list whose rows have a note at the right: a key, a time, how well something fits."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QSize, Qt
from PyQt6.QtGui import QPainter, QPalette
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

ROW = 26  # pixels
_NOTE = Qt.ItemDataRole.UserRole + 1
_AT_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_MARGIN, _GAP = 10, 24  # pixels right of the note, and between it and the text
_NOTE_SHARE = 0.4  # of a row, which a note may take from a text that is too long for both


class NotedList(QListWidget):
    """Rows are painted, not made of widgets: hundreds are listed anew at every key."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setItemDelegate(_NotedRow(self))
        self.setUniformItemSizes(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def add(self, text: str, note: str) -> QListWidgetItem:
        item = QListWidgetItem(text, self)
        item.setData(_NOTE, note)
        item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{text}, {note}" if note else text)
        return item


class _NotedRow(QStyledItemDelegate):
    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        del option, index
        return QSize(0, ROW)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        drawn = QStyleOptionViewItem(option)
        self.initStyleOption(drawn, index)
        metrics, width, right = drawn.fontMetrics, drawn.rect.width(), Qt.TextElideMode.ElideRight
        left = width - metrics.horizontalAdvance(drawn.text) - _GAP - 2 * _MARGIN
        note = metrics.elidedText(index.data(_NOTE), right, max(left, round(_NOTE_SHARE * width)))
        drawn.text = metrics.elidedText(drawn.text, right, width - metrics.horizontalAdvance(note) - _GAP)
        drawn.widget.style().drawControl(QStyle.ControlElement.CE_ItemViewItem, drawn, painter, drawn.widget)
        painter.setFont(drawn.font)
        painter.setPen(drawn.palette.color(QPalette.ColorRole.PlaceholderText))
        painter.drawText(drawn.rect.adjusted(0, 0, -_MARGIN, 0), _AT_RIGHT, note)
