"""Asks for the new key of a command, right over the page; says what the key does already."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QKeySequenceEdit, QLabel, QPushButton, QVBoxLayout, QWidget

from buccaphon.texts import _


class KeyEdit(QFrame):
    """pressed: a key was pressed (the command's id, the key). taken: it is to be used; '' for none."""

    pressed = pyqtSignal(str, str)
    taken = pyqtSignal(str, str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("chooser")
        self._ident = ""
        self.title, self.note = QLabel(), QLabel()
        self.title.setProperty("role", "heading")
        self.note.setProperty("role", "hint")
        self.note.setWordWrap(True)
        self.edit = QKeySequenceEdit()
        self.edit.setMaximumSequenceLength(1)
        self.take, self.none, self.close_button = (
            QPushButton(_("Use this key")),
            QPushButton(_("No key")),
            QPushButton(_("Cancel")),
        )
        row = QHBoxLayout()
        for button in (self.take, self.none, self.close_button):
            row.addWidget(button)
        column = QVBoxLayout(self)
        for part in (self.title, self.edit, self.note):
            column.addWidget(part)
        column.addLayout(row)
        self.edit.keySequenceChanged.connect(lambda _value: self.pressed.emit(self._ident, self.key))
        self.take.clicked.connect(lambda: self.taken.emit(self._ident, self.key))
        self.none.clicked.connect(lambda: self.taken.emit(self._ident, ""))
        self.close_button.clicked.connect(self.hide)
        self.hide()

    @property
    def key(self) -> str:
        return self.edit.keySequence().toString(QKeySequence.SequenceFormat.PortableText)

    def ask(self, ident: str, label: str) -> None:
        """For the command of an id."""
        self._ident = ident
        self.title.setText(label)
        self.note.setText(_("Press the new key."))
        self.edit.clear()
        self.resize(420, 170)
        parent = self.parentWidget()
        self.move((parent.width() - self.width()) // 2 if parent else 0, 40)
        self.show()
        self.raise_()
        self.edit.setFocus()
