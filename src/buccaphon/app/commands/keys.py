"""The keys themselves: changing them, keeping sets of them, printing them."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice
from PyQt6.QtGui import QPageSize, QPdfWriter, QTextDocument

from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.commands.file import write_and_say
from buccaphon.app.commands.shortcuts import KeysError, KeySet, page_of_keys, read_keys
from buccaphon.app.overlays.chooser import Choice
from buccaphon.errors import BuccaphonError
from buccaphon.files import read_text
from buccaphon.texts import N_, _


def change_key(desk: Desk) -> None:
    """Choose a command, then press its new key."""
    choices = [
        Choice(command.label, desk.key_of(command.id), partial(desk.key_edit.ask, command.id, command.label))
        for command in desk.commands
    ]
    desk.chooser.ask(_("Change a key"), _("Which command?"), choices)


def show_key_conflict(desk: Desk, ident: str, key: str) -> None:
    """While a key is being chosen: what it does already."""
    taken = desk.shortcuts.keys.taken_by(key, ident) if key else ""
    desk.key_edit.note.setText(
        _("{key} is used by “{other}”, which would lose it.", key=key, other=taken) if taken else ""
    )


def give_key(desk: Desk, ident: str, key: str) -> None:
    """A command gets another key, or none."""
    command = next((command for command in desk.commands if command.id == ident), None)
    if command is None:
        return
    try:
        desk.shortcuts.use(desk.shortcuts.keys.with_key(ident, key))
    except BuccaphonError as problem:
        desk.key_edit.note.setText(str(problem))
        return
    desk.key_edit.hide()
    desk.say(f"{command.label}: {desk.key_of(ident) or _('no key')}")


def reset_keys(desk: Desk) -> None:
    desk.shortcuts.use(KeySet(desk.commands))
    desk.say(_("All shortcuts are back to their defaults."))


def save_keys(desk: Desk) -> None:
    path = desk.ask.file_to_write(_("Save shortcuts"), Path("keys.json"), _("Keys (*.json)"))
    if path:
        write_and_say(desk, path, desk.shortcuts.keys.to_text().encode())


def load_keys(desk: Desk) -> None:
    path = desk.ask.file_to_open(_("Load shortcuts"), Path(), _("Keys (*.json)"))
    if not path:
        return
    try:
        desk.shortcuts.use(read_keys(desk.commands, read_text(path, KeysError), str(path)))
    except BuccaphonError as problem:
        desk.session.document.report(problem)


def write_key_page(desk: Desk) -> None:
    """All keys on a page to print."""
    path = desk.ask.file_to_write(_("Save the shortcut sheet"), Path("keys.pdf"), _("PDF (*.pdf)"))
    if path:
        write_and_say(desk, path, keys_pdf(desk.shortcuts.keys, desk.session.document.chart.names))


def keys_pdf(keys: KeySet, mouths: tuple[str, ...]) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setTitle(_("Buccaphon: keyboard shortcuts"))
    document = QTextDocument()
    document.setHtml(page_of_keys(keys, mouths))
    document.print(writer)
    buffer.close()
    return buffer.data().data()


COMMANDS = (
    Command("change-key", "Keys", N_("Change a shortcut…"), ("Ctrl+Alt+K",), change_key),
    Command("usual-keys", "Keys", N_("Reset all shortcuts"), (), reset_keys),
    Command("save-keys", "Keys", N_("Save shortcuts…"), (), save_keys),
    Command("load-keys", "Keys", N_("Load shortcuts…"), (), load_keys),
    Command("key-sheet", "Keys", N_("Save the shortcut sheet as PDF…"), (), write_key_page),
)
