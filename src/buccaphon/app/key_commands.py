"""The window's commands for its keys: changing them, keeping sets of them, printing them."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QSettings
from PyQt6.QtGui import QAction, QKeySequence, QPageSize, QPdfWriter, QTextDocument
from PyQt6.QtWidgets import (
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QKeySequenceEdit,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.chooser import Choice, Chooser
from buccaphon.app.commands import COMMANDS, Command
from buccaphon.app.keys import KeySet, read_keys, sheet
from buccaphon.app.notice import Notice
from buccaphon.app.session import Session
from buccaphon.errors import BuccaphonError
from buccaphon.files import write_whole


class KeyEdit(QFrame):
    """Asks for the new key of a command, right over the page; says what the key does already."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, objectName="chooser")
        self._command: Command | None = None
        self.title, self.note = QLabel(), QLabel()
        self.title.setProperty("role", "heading")
        self.note.setProperty("role", "hint")
        self.note.setWordWrap(True)
        self.edit = QKeySequenceEdit()
        self.edit.setMaximumSequenceLength(1)
        self.take, self.none, self.close_button = (
            QPushButton("Use this key"),
            QPushButton("No key"),
            QPushButton("Leave it"),
        )
        row = QHBoxLayout()
        for button in (self.take, self.none, self.close_button):
            row.addWidget(button)
        column = QVBoxLayout(self)
        for part in (self.title, self.edit, self.note):
            column.addWidget(part)
        column.addLayout(row)
        self.close_button.clicked.connect(self.hide)
        self.hide()

    @property
    def key(self) -> str:
        return self.edit.keySequence().toString(QKeySequence.SequenceFormat.PortableText)

    def ask(self, command: Command) -> None:
        self._command = command
        self.title.setText(command.label)
        self.note.setText("Press the new key.")
        self.edit.clear()
        self.resize(420, 170)
        self.move((self.parentWidget().width() - self.width()) // 2, 40)
        self.show()
        self.raise_()
        self.edit.setFocus()


class KeyCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    notice: Notice
    chooser: Chooser
    key_edit: KeyEdit
    keys: KeySet
    actions_by_id: dict[str, QAction]

    def read_own_keys(self) -> KeySet:
        try:
            return read_keys(str(QSettings().value("keys", "")) or KeySet().to_text(), "the settings")
        except BuccaphonError:
            return KeySet()

    def use_keys(self, keys: KeySet) -> None:
        """Take on a set of keys and remember it."""
        self.keys = keys
        QSettings().setValue("keys", keys.to_text())
        for command in COMMANDS:
            self.actions_by_id[command.id].setShortcuts([QKeySequence(key) for key in keys.of(command)])

    def change_key(self) -> None:
        """Choose a command, then press its new key."""
        choices = [
            Choice(command.label, self.key_of(command.id), partial(self.key_edit.ask, command)) for command in COMMANDS
        ]
        self.chooser.ask("Change a key", "Which command?", choices)

    def show_key_conflict(self) -> None:
        """While a key is being chosen: what it does already."""
        key, command = self.key_edit.key, self.key_edit._command
        taken = self.keys.taken_by(key, command.id if command else "") if key else ""
        self.key_edit.note.setText(f"{key} is for “{taken}” now; that would lose it." if taken else "")

    def take_key(self) -> None:
        self._give_key(self.key_edit.key)

    def take_no_key(self) -> None:
        self._give_key("")

    def _give_key(self, key: str) -> None:
        command = self.key_edit._command
        if command is None:
            return
        try:
            self.use_keys(self.keys.with_key(command.id, key))
        except BuccaphonError as problem:
            self.key_edit.note.setText(str(problem))
            return
        self.key_edit.hide()
        self.notice.say(f"{command.label}: {self.key_of(command.id) or 'no key'}")

    def usual_keys(self) -> None:
        self.use_keys(KeySet())
        self.notice.say("All keys are as they came.")

    def save_keys(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Save the set of keys", "keys.json", "Keys (*.json)")
        if name:
            self._write(Path(name), self.keys.to_text().encode())

    def load_keys(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Load a set of keys", "", "Keys (*.json)")
        if not name:
            return
        try:
            self.use_keys(read_keys(Path(name).read_text("utf-8"), name))
        except BuccaphonError as problem:
            self.session.report(problem)
        except (OSError, UnicodeDecodeError) as problem:
            self.notice.say(f"{name}: it cannot be read ({problem}).")

    def write_key_sheet(self) -> None:
        """All keys on a page to print."""
        name, _ = QFileDialog.getSaveFileName(self, "Write the sheet of keys", "keys.pdf", "PDF (*.pdf)")
        if name:
            self._write(Path(name), key_sheet_pdf(self.keys, self.session.chart.names))

    def _write(self, path: Path, content: bytes) -> None:
        try:
            write_whole(path, content)
        except BuccaphonError as problem:
            self.session.report(problem)
        else:
            self.notice.say(f"Written: {path.name}")


def key_sheet_pdf(keys: KeySet, mouths: tuple[str, ...]) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setTitle("Buccaphon: the keys")
    document = QTextDocument()
    document.setHtml(sheet(keys, mouths))
    document.print(writer)
    buffer.close()
    return bytes(buffer.data())
