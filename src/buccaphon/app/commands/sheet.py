"""The exposure sheet: seen, printed, and brought back with corrections."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, View
from buccaphon.app.commands.file import folder_of, write_and_say
from buccaphon.app.commands.look import toggle_view
from buccaphon.app.commands.shortcuts import painting_keys
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.settings import READING
from buccaphon.formats.in_.corrected import SUFFIXES
from buccaphon.formats.pictures import Paper
from buccaphon.mouths.chart import Chart, Mouth
from buccaphon.mouths.rules import rule_label
from buccaphon.painting.pictures.mouth_card import OnCard, card_pdf
from buccaphon.painting.pictures.printing import Print, sheet_pdf
from buccaphon.project.corrections import Correction
from buccaphon.project.delivering import deliver
from buccaphon.project.exposing import shown_as
from buccaphon.project.markers import Reading
from buccaphon.texts import N_, _
from buccaphon.timing import TimeDisplay


def print_sheet(desk: Desk, paper: Paper) -> None:
    """As PDF: thick line every second, or each foot while frames are counted in feet."""
    document = desk.session.document
    begin = folder_of(desk) / f"{document.title.replace(' ', '_')}.sheet.pdf"
    path = desk.ask.file_to_write(_("Print the exposure sheet"), begin, _("PDF (*.pdf)"))
    if path is None or document.derived is None:
        return
    delivery = deliver(document.state, document.derived, document.title)
    feet = READING.read() is TimeDisplay.FEET_35
    take = document.state.take.title if document.state.take else ""
    printed = Print(
        delivery, document.derived.peaks, desk.session.characters.painter(desk.specimen.theme), take, paper, feet
    )
    write_and_say(desk, path if path.suffix else path.with_suffix(".pdf"), sheet_pdf(printed))


def print_card(desk: Desk) -> None:
    """The chart's mouths with their numbers, names, keys and sounds, as PDF."""
    document, characters = desk.session.document, desk.session.characters
    title = characters.kit.name if characters.kit is not None else document.chart.name
    begin = folder_of(desk) / f"{title.replace(' ', '_')}.mouths.pdf"
    path = desk.ask.file_to_write(_("Print the mouths"), begin, _("PDF (*.pdf)"))
    if path is None:
        return
    keys, shown = painting_keys(desk.shortcuts.keys), shown_as(document.state)
    mouths = [
        OnCard(mouth, *shown[mouth.name], keys[number] if number < len(keys) else "", _covers(mouth, document.chart))
        for number, mouth in enumerate(document.chart.mouths)
    ]
    made = card_pdf(title, mouths, characters.painter(desk.specimen.theme))
    write_and_say(desk, path if path.suffix else path.with_suffix(".pdf"), made)


def _covers(mouth: Mouth, chart: Chart) -> str:
    """The sounds of a mouth, in words where it has none."""
    silence = [_("silence")] if mouth is chart.rest else []
    return " ".join((*silence, *mouth.sounds, *map(rule_label, mouth.rules))) or _("no sound")


def ask_for_corrections(desk: Desk) -> None:
    """A file that was written here and corrected elsewhere, or the notes of a review."""
    kinds = " ".join(f"*{suffix}" for suffix in SUFFIXES)
    path = desk.ask.file_to_open(
        _("Import corrections"), folder_of(desk), _("Sheets, times, markers and notes ({kinds})", kinds=kinds)
    )
    if path is not None:
        desk.session.correcting.read(path)


def show_corrections(desk: Desk, readings: Sequence[Reading]) -> None:
    """What differs, to be taken all at once, in one of the ways in which it can be, or one by one."""
    correcting, found = desk.session.correcting, readings[0].would.found
    said = _("Accept all {count}", count=len(found)) if len(found) > 1 else _("Accept")
    every = [
        Choice(
            reading.says or said,
            _("all at once") if reading.says else _("as pins"),
            partial(correcting.take_all, reading),
        )
        for reading in readings
    ]
    each = [Choice(one.says, _("accept this one"), partial(_take_one, desk, one)) for one in found]
    title = _("Labels in the file") if readings[0].says else _("Differences in the file")
    desk.chooser.ask(title, _("Return accepts · Esc changes nothing"), [*every, *each])


def _take_one(desk: Desk, correction: Correction) -> None:
    desk.session.correcting.take([correction])
    desk.go(correction.seconds)


COMMANDS = (
    Command("sheet", "Look", N_("The exposure sheet"), ("F7",), partial(toggle_view, view=View.SHEET)),
    Command(
        "print-sheet", "File", N_("Print the exposure sheet as PDF, A4…"), ("Ctrl+P",), partial(print_sheet, paper=Paper.A4),
        needs.recording,
    ),
    Command("print-mouths", "File", N_("Print the mouths with numbers and keys as PDF…"), (), print_card),
    Command(
        "print-sheet-letter", "File", N_("Print the exposure sheet as PDF, US Letter…"), (),
        partial(print_sheet, paper=Paper.LETTER), needs.recording,
    ),
    Command("corrections", "File", N_("Import corrections…"), ("Ctrl+Shift+I",), ask_for_corrections, needs.recording),
)  # fmt: skip
