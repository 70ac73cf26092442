"""Exporting: writing, extending, saving and loading the export list."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QGuiApplication

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, Step
from buccaphon.app.commands.file import folder_of, write_and_say
from buccaphon.app.finding.everyday import everyday_words
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.settings import EXPORTS
from buccaphon.errors import BuccaphonError
from buccaphon.formats.format import Format
from buccaphon.formats.listing import DEFAULT_LIST, SUFFIX, list_as_text, read_list
from buccaphon.formats.out.clipboard import KEYS_TYPE, keys_table
from buccaphon.formats.registry import FORMATS
from buccaphon.motion.record import trim
from buccaphon.project.delivering import deliver
from buccaphon.texts import N_, _


def export(desk: Desk) -> None:
    """All that is on in the list; where to is asked once."""
    if needs.recording(desk.session):
        return
    if desk.session.exporting.folder is None:
        choose_folder(desk)
    desk.session.exporting.export()


def choose_folder(desk: Desk) -> None:
    """Output folder."""
    exporting = desk.session.exporting
    folder = desk.ask.folder(_("Choose the export folder"), exporting.folder or folder_of(desk))
    if folder is not None:
        exporting.into(folder)


def add(desk: Desk) -> None:
    """One more file, of all formats there are."""
    desk.show_step(Step.EXPORT)
    also = everyday_words()
    choices = [
        Choice(
            f"{form.title}: {_(form.about)}",
            form.suffix,
            partial(add_format, desk, form),
            also.get(f"format {form.id}", ""),
        )
        for form in FORMATS
    ]
    desk.chooser.ask(_("Add a file to export"), _("Search formats"), choices)


def add_format(desk: Desk, form: Format) -> None:
    """One more file of the export list, shown there."""
    desk.show_step(Step.EXPORT)
    desk.session.exporting.add(form)
    desk.choose_last_export()


def keep_list(desk: Desk) -> None:
    path = desk.ask.file_to_write(
        _("Save the export list"), folder_of(desk) / f"exports{SUFFIX}", _("Export list (*{suffix})", suffix=SUFFIX)
    )
    if path is not None:
        text = list_as_text(desk.session.exporting.exports)
        write_and_say(desk, path if path.suffix else path.with_suffix(SUFFIX), text.encode())


def take_list(desk: Desk) -> None:
    path = desk.ask.file_to_open(_("Load an export list"), folder_of(desk), _("Export list (*{suffix})", suffix=SUFFIX))
    if path is None:
        return
    try:
        found = read_list(path)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
        return
    desk.show_step(Step.EXPORT)
    if desk.session.exporting.take_over(found, _("Use the export list {path}", path=path.stem)):
        desk.say(_("Loaded the export list {name}.", name=path.name))


def make_default(desk: Desk) -> None:
    """New projects begin with this list; where to is each one's own."""
    usual = replace(desk.session.exporting.exports, folder="")
    EXPORTS.write(list_as_text(usual) if usual != DEFAULT_LIST else "")
    desk.say(_("New projects will start with this export list."))


def copy_keys(desk: Desk) -> None:
    """The frames of what is selected, or of all, for a table or a host that pastes."""
    document = desk.session.document
    assert document.derived is not None
    delivery = deliver(document.state, document.derived, document.title)
    stretch, bake = document.stretch, delivery.bake
    if stretch is not None and bake is not None:
        first, end = (bake.rate.nearest(at) - bake.first for at in (stretch.start, stretch.end))
        first = min(max(first, 0), bake.frames - 1)
        delivery = replace(delivery, bake=trim(bake, first, min(max(end, first + 1), bake.frames)))
    table = keys_table(delivery)
    data = QMimeData()
    data.setText(table.text)
    data.setHtml(table.page)
    data.setData(KEYS_TYPE, table.data)
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    clipboard.setMimeData(data)
    frames = delivery.bake.frames if delivery.bake else 0
    desk.say(_("{frames} frames copied, as text and as a table.", frames=frames))


def toggle_live(desk: Desk) -> None:
    """Send the line while it plays, or no longer."""
    sending = desk.session.sending
    if sending.is_on:
        sending.switch_off()
        desk.say(_("Live sending is off."))
    else:
        sending.switch_on()
        desk.say(_("Live sending is on: {address}", address=sending.address))


COMMANDS = (
    Command("export", "Export", N_("Export all files in the list"), ("Ctrl+E",), export),
    Command("add-export", "Export", N_("Add a file to the export list…"), ("Ctrl+Shift+E",), add),
    Command("export-folder", "Export", N_("Choose the export folder…"), (), choose_folder),
    Command("export-list-out", "Export", N_("Save the export list…"), (), keep_list),
    Command("export-list-in", "Export", N_("Load an export list…"), (), take_list),
    Command("copy-keys", "Export", N_("Copy the keyframes as a table"), ("Ctrl+Shift+K",), copy_keys, needs.recording),
    Command("live", "Export", N_("Send live while playing (Open Sound Control)"), ("Ctrl+Shift+L",), toggle_live),
    Command("export-list-usual", "Export", N_("Use this export list for new projects"), (), make_default),
)
