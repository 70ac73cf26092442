"""The exposure sheet goes out as three tables that say the same, and comes back with what was corrected in it."""

import csv
import io
import zipfile
from dataclasses import replace

import pytest
from odf.opendocument import OpenDocumentSpreadsheet, load
from odf.table import Table, TableCell, TableRow
from odf.teletype import extractText
from openpyxl import Workbook, load_workbook

from buccaphon.errors import SheetError
from buccaphon.formats.in_.sheet import SheetDifference, differences, read_sheet
from buccaphon.formats.out.sheet import COLUMNS
from buccaphon.formats.registry import format_named
from buccaphon.score.records import Note
from buccaphon.timing import Span
from tests.formats.test_formats import small_delivery


@pytest.fixture
def delivery():
    return replace(small_delivery(), notes=(Note(Span(0.1, 0.2), "=SUM(1)"), Note(Span(0.11, 0.2), "louder")))


def write(delivery, ident, folder):
    (content,) = format_named(ident).files(delivery).values()
    path = folder / f"sheet{format_named(ident).suffix}"
    path.write_bytes(content)
    return path


def table_of(path):
    """The first sheet as rows of text, by an independent reader."""
    if path.suffix == ".csv":
        return list(csv.reader(io.StringIO(path.read_text("utf-8-sig"), newline="")))
    if path.suffix == ".xlsx":
        return [["" if c is None else str(c) for c in row] for row in load_workbook(path).worksheets[0].values]
    table = load(path).spreadsheet.getElementsByType(Table)[0]
    return [
        [extractText(cell) for cell in row.getElementsByType(TableCell)] for row in table.getElementsByType(TableRow)
    ]


@pytest.mark.parametrize("ident", ["sheet-csv", "sheet-xlsx", "sheet-ods"])
def test_each_table_has_a_row_a_frame_and_no_formula(delivery, ident, tmp_path):
    rows = table_of(write(delivery, ident, tmp_path))
    assert tuple(rows[0]) == COLUMNS
    bake = delivery.bake
    assert len(rows) == bake.frames + 1
    assert [int(row[0]) for row in rows[1:]] == [bake.start_frame + n for n in range(bake.frames)]
    mouths = [e.mouth for e in bake.exposures for _ in range(e.length)]
    assert [row[5] for row in rows[1:]] == mouths
    assert sum(row[6] == "1" for row in rows[1:]) == len(bake.exposures)
    assert rows[3][8] == "=SUM(1)"
    assert rows[4][8] == "louder"
    assert any(row[3] == "=and" for row in rows)


@pytest.mark.parametrize("ident", ["sheet-csv", "sheet-xlsx", "sheet-ods"])
def test_what_went_out_comes_back_the_same(delivery, ident, tmp_path):
    sheet = read_sheet(write(delivery, ident, tmp_path))
    assert differences(sheet, delivery.bake) == ([], [])
    assert len(sheet) == delivery.bake.frames


def test_a_word_is_no_formula_in_the_spreadsheet(delivery, tmp_path):
    page = load_workbook(write(delivery, "sheet-xlsx", tmp_path)).worksheets[0]
    assert {cell.data_type for row in page.iter_rows(min_row=2, max_col=6) for cell in row if cell.value} <= {"s", "n"}
    assert page.freeze_panes == "B2"


def test_the_same_sheet_gives_the_same_bytes(delivery):
    for ident in ("sheet-xlsx", "sheet-ods"):
        assert format_named(ident).files(delivery) == format_named(ident).files(delivery)


def corrected(path, bake):
    """Frames 2 to 4 of the sheet get another mouth by hand; the names below are left away."""
    rows = table_of(path)
    for n, row in enumerate(rows[1:]):
        row[5] = "open" if 2 <= n < 5 else row[5] if row[6] == "1" or n == 5 else ""
    if path.suffix == ".csv":
        path.write_text("\n".join(";".join(row) for row in rows), encoding="utf-8-sig")
    elif path.suffix == ".xlsx":
        book = Workbook()
        for row in rows:
            book.active.append([int(cell) if cell.lstrip("-").isdigit() else cell or None for cell in row])
        book.save(path)
    else:
        book, table = OpenDocumentSpreadsheet(), Table(name="x")
        for row in rows:
            made = TableRow()
            for cell in row:
                kept = TableCell()
                kept.addText(cell)
                made.addElement(kept)
            table.addElement(made)
        book.spreadsheet.addElement(table)
        book.save(path)
    return [e.mouth for e in bake.exposures for _ in range(e.length)]


@pytest.mark.parametrize("ident", ["sheet-csv", "sheet-xlsx"])
def test_a_corrected_sheet_tells_what_differs(delivery, ident, tmp_path):
    path = write(delivery, ident, tmp_path)
    before = corrected(path, delivery.bake)
    found, unknown = differences(read_sheet(path), delivery.bake)
    assert unknown == []
    assert {frame for each in found for frame in range(each.start, each.end)} == {
        n for n in range(2, 5) if before[n] != "Open"
    }
    assert all(each.wanted == "Open" for each in found)


def test_names_that_the_chart_has_not_are_told(delivery):
    first = delivery.bake.start_frame
    found, unknown = differences({first: "Grin", first + 9999: "Open"}, delivery.bake)
    assert (found, unknown) == ([], ["Grin"])
    assert differences({first: "OPEN"}, delivery.bake)[0] == [SheetDifference(0, 1, "Rest", "Open")]


@pytest.mark.parametrize(
    ("name", "content", "reason"),
    [
        ("a.csv", b"word,time\nplums,1\n", "no columns frame and mouth"),
        ("a.csv", b"frame,mouth\nten,Open\n", "row 2 has no frame"),
        ("a.csv", b"frame,mouth\n1.5,Open\n", "whole numbers"),
        ("a.csv", b"", "no columns"),
        ("a.csv", b"frame,mouth\n", "no row names a mouth"),
        ("a.csv", b"\xff\xfe\x00", "cannot be understood"),
        ("a.xlsx", b"PK\x03\x04rubbish", "cannot be understood"),
        ("a.ods", b"no zip", "cannot be understood"),
        ("a.pdf", b"%PDF", "not read from"),
    ],
)
def test_what_is_no_sheet_is_refused_in_words(name, content, reason, tmp_path):
    path = tmp_path / name
    path.write_bytes(content)
    with pytest.raises(SheetError, match=reason):
        read_sheet(path)
    with pytest.raises(SheetError, match="cannot be read"):
        read_sheet(tmp_path / f"missing{path.suffix}")


def test_a_sheet_that_swells_when_unpacked_is_refused(tmp_path):
    path = tmp_path / "bomb.xlsx"
    with zipfile.ZipFile(path, "w") as packed:
        packed.writestr("sheet.xml", b"small")
    content = bytearray(path.read_bytes())
    entry = content.index(b"PK\x01\x02")
    content[entry + 24 : entry + 28] = (0x7FFFFFFF).to_bytes(4, "little")  # as large as it says it will be
    path.write_bytes(content)
    with pytest.raises(SheetError, match="too large"):
        read_sheet(path)
