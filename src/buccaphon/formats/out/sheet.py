"""The exposure sheet as a table for people: CSV, XLSX (ECMA-376) and ODS (ISO/IEC 26300). One row a frame."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.keys import CsvOptions
from buccaphon.formats.out.scene_time import all_roles
from buccaphon.formats.pictures import Paper
from buccaphon.kits.kit import Kind
from buccaphon.motion.record import Bake
from buccaphon.setting import setting
from buccaphon.texts import N_
from buccaphon.timing import FrameRate, TimeDisplay, read_out, timecode

COLUMNS = ("frame", "timecode", "feet+frames", "word", "sound", "mouth", "new", "jaw", "note")
_OF_TIME = 3  # columns that are of the scene; the others, but for the note, are of a role
OF_DRAWINGS = ("shown", "number")  # columns that come behind them where the character has drawings of its own
_TITLE, _ABOUT = "Exposure sheet", "About"
_WIDTHS = {"timecode": 13, "feet+frames": 12, "word": 16, "mouth": 12, "shown": 14, "note": 40}  # characters
_BAR = "B8A0B0"
_DATES = re.compile(rb"(<(?:dcterms:created|dcterms:modified|meta:creation-date|dc:date)[^>]*>)[^<]*(<)")
_NO_CELL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]")  # what XML cannot hold (XML 1.0, 2.2)
_LONG_AGO = (1980, 1, 1, 0, 0, 0)  # so that the same sheet gives the same bytes


@dataclass(frozen=True, slots=True)
class SheetRow:
    """A frame of the sheet. frame: the scene's number. mouth: the chart's. shown, number: what it is called in the host and
    in the files of keys, a drawing's name where the character has drawings. new: whether its mouth begins here. note: what is
    written there."""

    frame: int
    word: str
    sound: str
    mouth: str
    shown: str
    number: int
    new: bool
    jaw: float
    note: str


def sheet_rows(delivery: Delivery) -> Iterator[SheetRow]:
    """The rows of the part that is used, in order."""
    bake = delivery.bake
    assert bake is not None
    notes = _notes_by_frame(delivery, bake)
    called = {name: (delivery.called(name), delivery.number_of(name)) for name in bake.chart.names}
    for exposure in bake.exposures:
        shown, index = called[exposure.mouth]
        for frame in range(exposure.start, exposure.end):
            new = frame == exposure.start
            number, jaw = bake.start_frame + frame, float(bake.jaw[frame])
            word, sound, note = bake.words[frame], bake.phones[frame], notes.get(frame, "")
            yield SheetRow(number, word, sound, exposure.mouth, shown, index, new, jaw, note)


def _notes_by_frame(delivery: Delivery, bake: Bake) -> dict[int, str]:
    found: dict[int, str] = {}
    for note in delivery.notes:
        frame = bake.rate.nearest(note.span.start) - bake.first
        found[frame] = f"{found[frame]}; {note.text}" if frame in found else note.text
    return found


def _cells(row: SheetRow, rate: FrameRate, *, has_drawings: bool) -> list[str | int | float]:
    feet = read_out(row.frame, rate, TimeDisplay.FEET_35)
    word, mouth, shown, note = (_NO_CELL.sub(" ", text) for text in (row.word, row.mouth, row.shown, row.note))
    cells: list[str | int | float] = [
        row.frame, timecode(row.frame, rate), feet, word, row.sound, mouth, int(row.new), round(row.jaw, 3), note,
    ]  # fmt: skip
    return [*cells, shown, row.number] if has_drawings else cells


def _columns(delivery: Delivery) -> tuple[str, ...]:
    """The heads; of several roles a group for each, with its name in front."""
    if delivery.voices:
        groups = [f"{voice.name} {head}" for voice in delivery.voices for head in _of_role(voice.of)]
        return (*COLUMNS[:_OF_TIME], *groups, COLUMNS[-1])
    return (*COLUMNS, *OF_DRAWINGS) if _has_drawings(delivery) else COLUMNS


def _of_role(delivery: Delivery) -> tuple[str, ...]:
    return (*COLUMNS[_OF_TIME:-1], *(OF_DRAWINGS if _has_drawings(delivery) else ()))


def _table(delivery: Delivery) -> Iterator[list[str | int | float]]:
    """The cells of the rows under the heads."""
    bake = delivery.bake
    assert bake is not None
    if not delivery.voices:
        for row in sheet_rows(delivery):
            yield _cells(row, bake.rate, has_drawings=_has_drawings(delivery))
        return
    each = [sheet_rows(voice.of) for voice in delivery.voices]
    for rows in zip(*each, strict=True):
        groups: list[str | int | float] = []
        for voice, row in zip(delivery.voices, rows, strict=True):
            cells = _cells(row, bake.rate, has_drawings=_has_drawings(voice.of))
            note = len(COLUMNS) - 1
            groups += [*cells[_OF_TIME:note], *cells[note + 1 :]]
        first = _cells(rows[0], bake.rate, has_drawings=False)
        yield [*first[:_OF_TIME], *groups, first[-1]]


def _has_drawings(delivery: Delivery) -> bool:
    return delivery.kit is not None and delivery.kit.kind is Kind.DRAWN


@dataclass(frozen=True, slots=True)
class SheetCsvOptions(CsvOptions):
    """How the table is written, and of whom it is."""

    together: bool = all_roles(N_("A group of columns for each role of the scene"))


@dataclass(frozen=True, slots=True)
class SheetOptions:
    """Of whom it is."""

    together: bool = all_roles(N_("A group of columns for each role of the scene"))


def sheet_csv(delivery: Delivery, options: SheetCsvOptions) -> bytes:
    """For people: with a byte-order mark and CRLF, as spreadsheets expect it."""
    assert delivery.bake is not None
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(_columns(delivery))
    for cells in _table(delivery):
        writer.writerow([options.cell(cell) if isinstance(cell, str) else cell for cell in cells])
    return b"\xef\xbb\xbf" + text.getvalue().encode()


def _facts(delivery: Delivery) -> list[tuple[str, str | int]]:
    bake = delivery.bake
    assert bake is not None
    rate, title = bake.rate.value, _NO_CELL.sub(" ", delivery.title)
    return [
        ("title", title), ("rate", f"{rate.numerator}/{rate.denominator}"), ("first frame", bake.start_frame),
        ("frames", bake.frames), ("chart", bake.chart.name), ("mouths", ", ".join(bake.chart.names)),
    ]  # fmt: skip


@dataclass(frozen=True, slots=True)
class SheetPdfOptions:
    """How it is printed."""

    paper: Paper = setting(Paper.A4, N_("Paper"), N_("Size of the pages"), choices=Paper)
    feet: bool = setting(
        False, N_("Lines per foot"), N_("A thick line every foot of 35 mm film instead of every second")
    )


def sheet_pdf(delivery: Delivery, options: SheetPdfOptions) -> bytes:
    """Pages of two columns of frames."""
    assert delivery.pictures is not None
    return delivery.pictures.sheet(options.paper, options.feet)


def sheet_xlsx(delivery: Delivery, _options: object) -> bytes:
    """Two sheets: the rows, with a heading that stays and a line each second, and what they are of."""
    from openpyxl import Workbook  # noqa: PLC0415  # half a second that only this needs
    from openpyxl.formatting.rule import DataBarRule  # noqa: PLC0415
    from openpyxl.styles import Border, Font, Side  # noqa: PLC0415
    from openpyxl.utils import get_column_letter  # noqa: PLC0415

    bake = delivery.bake
    assert bake is not None
    book = Workbook()
    page = book.active
    assert page is not None
    page.title = _TITLE
    page.append(_columns(delivery))
    for cell in page[1]:
        cell.font = Font(bold=True)
    second, line = max(round(float(bake.rate.value)), 1), Border(top=Side("medium"))
    for number, cells in enumerate(_table(delivery), 2):
        page.append(cells)
        for cell in page[number]:
            if isinstance(cell.value, str):
                cell.data_type = "s"  # a word that begins with = is no formula
            if (number - 2) % second == 0:
                cell.border = line
    heads = _columns(delivery)
    for number, name in enumerate(heads, 1):
        page.column_dimensions[get_column_letter(number)].width = _WIDTHS.get(name.rsplit(" ", 1)[-1], 8)
    page.freeze_panes, page.print_title_rows = "B2", "1:1"
    for number, name in enumerate(heads, 1):
        if name.rsplit(" ", 1)[-1] == "jaw":
            column = get_column_letter(number)
            page.conditional_formatting.add(
                f"{column}2:{column}{bake.frames + 1}", DataBarRule("num", 0, "num", 1, _BAR)
            )
    about = book.create_sheet(_ABOUT)
    for name, value in _facts(delivery):
        about.append([name, value])
        about.cell(about.max_row, 2).data_type = "s" if isinstance(value, str) else "n"
    made = io.BytesIO()
    book.save(made)
    return _without_dates(made.getvalue())


def sheet_ods(delivery: Delivery, _options: object) -> bytes:
    """The same as an OpenDocument spreadsheet."""
    from odf.opendocument import OpenDocumentSpreadsheet  # noqa: PLC0415  # half a second that only this needs
    from odf.table import Table, TableCell, TableHeaderRows, TableRow  # noqa: PLC0415
    from odf.text import P  # noqa: PLC0415

    assert delivery.bake is not None
    _know_all_names()
    book = OpenDocumentSpreadsheet()

    def row_of(values: list[str | int | float], into: object) -> None:
        row = TableRow()
        for value in values:
            number = isinstance(value, int | float)
            cell = TableCell(valuetype="float", value=repr(value)) if number else TableCell(valuetype="string")
            cell.addElement(P(text=str(value)))
            row.addElement(cell)
        into.addElement(row)  # type: ignore[attr-defined]  # odfpy has no types

    table, heading = Table(name=_TITLE), TableHeaderRows()
    row_of(list(_columns(delivery)), heading)
    table.addElement(heading)
    for cells in _table(delivery):
        row_of(cells, table)
    about = Table(name=_ABOUT)
    for name, value in _facts(delivery):
        row_of([name, value], about)
    for each in (table, about):
        book.spreadsheet.addElement(each)
    made = io.BytesIO()
    book.write(made)
    return _without_dates(made.getvalue())


@lru_cache(maxsize=1)
def _know_all_names() -> None:
    """The library names each namespace that it has met, so that the first file of a process would differ from the others."""
    from odf.opendocument import OpenDocumentSpreadsheet  # noqa: PLC0415

    OpenDocumentSpreadsheet().write(io.BytesIO())


def _without_dates(packed: bytes) -> bytes:
    """The same archive with no time of its making in it."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(packed)) as old, zipfile.ZipFile(made, "w") as new:
        for entry in old.infolist():
            kept = zipfile.ZipInfo(entry.filename, _LONG_AGO)
            kept.compress_type = entry.compress_type
            content = old.read(entry)
            if entry.filename in ("docProps/core.xml", "meta.xml"):
                content = _DATES.sub(rb"\g<1>1980-01-01T00:00:00Z\g<2>", content)
            new.writestr(kept, content)
    return made.getvalue()
