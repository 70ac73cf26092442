"""An exposure sheet that comes back from a spreadsheet: which mouth stands at which frame, and what differs."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from pathlib import Path

import defusedxml.ElementTree

from buccaphon.errors import SheetError
from buccaphon.motion.record import Bake
from buccaphon.texts import N_, _

SUFFIXES = (".csv", ".xlsx", ".ods")
_MOST_BYTES, _MOST_ROWS = 64 << 20, 1_000_000
_MOST_STRINGS = 16 << 20  # bytes of a table's texts, which are read as a whole
_TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
_TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
_OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
_NO_SHEET = N_("Import a sheet with the columns frame and mouth, as exported by Buccaphon")


@dataclass(frozen=True, slots=True)
class SheetDifference:
    """Frames [start, end) counted from 0 in the bake, on which the sheet has another mouth."""

    start: int
    end: int
    shown: str
    wanted: str


def read_sheet(path: Path) -> dict[int, str]:
    """The mouth of each frame of the scene. An empty cell holds the mouth above it. Raises SheetError."""
    return _mouths(sheet_rows(path), str(path))


def sheet_rows(path: Path) -> list[Sequence[object]]:
    """The cells of a table's first sheet, row by row. Raises SheetError."""
    try:
        if path.stat().st_size > _MOST_BYTES:
            raise SheetError(str(path), _("it is too large for a sheet"), _NO_SHEET)
        found = list(islice(_READERS[path.suffix.lower()](path), _MOST_ROWS + 2))
    except SheetError:
        raise
    except KeyError:
        raise SheetError(
            str(path), _("sheets are not read from “{suffix}” files", suffix=path.suffix), _("Use .csv, .xlsx or .ods")
        ) from None
    except OSError as problem:
        raise SheetError(
            str(path),
            _("it cannot be read ({reason})", reason=problem.strerror),
            _("Check the name and the folder"),
        ) from None
    except Exception as problem:  # the libraries raise whatever they like at broken files
        reason = _("it cannot be understood ({kind})", kind=type(problem).__name__)
        raise SheetError(str(path), reason, _NO_SHEET) from None
    return found


def _mouths(rows: Iterable[Sequence[object]], subject: str) -> dict[int, str]:
    lines = iter(rows)
    heads = [str(cell or "").strip().lower() for cell in next(lines, ())]
    if "frame" not in heads or "mouth" not in heads:
        raise SheetError(subject, _("it has no columns frame and mouth in its first row"), _NO_SHEET)
    frame_at, mouth_at = heads.index("frame"), heads.index("mouth")
    found: dict[int, str] = {}
    last = ""
    for number, cells in enumerate(lines, 2):
        if number > _MOST_ROWS:
            raise SheetError(subject, _("it has more than {most} rows", most=_MOST_ROWS), _NO_SHEET)
        frame = str(cells[frame_at] if frame_at < len(cells) and cells[frame_at] is not None else "").strip()
        if not frame:
            continue
        mouth = str(cells[mouth_at] if mouth_at < len(cells) and cells[mouth_at] is not None else "").strip()
        last = mouth.removeprefix("'") or last
        try:
            place = float(frame.replace(",", "."))
        except ValueError:
            raise SheetError(
                subject,
                _("row {number} has no frame but “{frame}”", number=number, frame=frame[:20]),
                _("Correct that row"),
            ) from None
        if place != int(place):
            raise SheetError(
                subject,
                _("row {number} has {frame} for a frame", number=number, frame=frame[:20]),
                _("Frames are whole numbers"),
            )
        if last:
            found[int(place)] = last
    if not found:
        raise SheetError(subject, _("no row names a mouth"), _NO_SHEET)
    return found


def _csv_rows(path: Path) -> Iterator[Sequence[object]]:
    text = path.read_bytes().decode("utf-8-sig")
    first = text.split("\n", 1)[0]
    return csv.reader(io.StringIO(text), delimiter=max(",;\t", key=first.count))


def _xlsx_rows(path: Path) -> Iterator[Sequence[object]]:
    from openpyxl import load_workbook  # noqa: PLC0415  # half a second that only this needs

    _refuse_bombs(path)
    content = io.BytesIO(path.read_bytes())
    return iter(load_workbook(content, read_only=True, data_only=True).worksheets[0].iter_rows(values_only=True))


def _ods_rows(path: Path) -> Iterator[Sequence[object]]:
    """Row by row, as OpenDocument 1.3 part 3 writes tables: a whole document in memory would take a hundred times its
    size."""
    _refuse_bombs(path)
    with zipfile.ZipFile(path) as packed, packed.open("content.xml") as content:
        for _rest, element in defusedxml.ElementTree.iterparse(content):
            if element.tag == f"{_TABLE}table-row":
                cells: list[object] = []
                for cell in element.iter(f"{_TABLE}table-cell"):
                    repeated = min(int(cell.get(f"{_TABLE}number-columns-repeated") or 1), 50)
                    number = cell.get(f"{_OFFICE}value")
                    text = "\n".join("".join(part.itertext()) for part in cell.findall(f"{_TEXT}p"))
                    cells += [number if number is not None else text] * repeated
                yield cells
                element.clear()
            elif element.tag == f"{_TABLE}table":
                return  # the first one alone


def _refuse_bombs(path: Path) -> None:
    with zipfile.ZipFile(path) as packed:
        entries = packed.infolist()
        strings = sum(entry.file_size for entry in entries if entry.filename.endswith("sharedStrings.xml"))
        if sum(entry.file_size for entry in entries) > 4 * _MOST_BYTES or strings > _MOST_STRINGS:
            raise SheetError(str(path), _("it is too large for a sheet once unpacked"), _NO_SHEET)


_READERS = {".csv": _csv_rows, ".xlsx": _xlsx_rows, ".ods": _ods_rows}


def differences(sheet: dict[int, str], bake: Bake) -> tuple[list[SheetDifference], list[str]]:
    """What differs from a bake, in order, and the names that are none of its chart's. Names are known in any case; frames
    outside the bake are passed over."""
    known = {name.lower(): name for name in bake.chart.names} | {name: name for name in bake.chart.names}
    found: list[SheetDifference] = []
    unknown: dict[str, None] = {}
    for exposure in bake.exposures:
        for frame in range(exposure.start, exposure.end):
            name = sheet.get(frame + bake.start_frame)
            wanted = known.get(name, known.get(name.lower())) if name else exposure.mouth
            if wanted is None:
                unknown[str(name)] = None
            elif wanted != exposure.mouth:
                last = found[-1] if found else None
                if last is not None and last.end == frame and (last.shown, last.wanted) == (exposure.mouth, wanted):
                    found[-1] = SheetDifference(last.start, frame + 1, last.shown, wanted)
                else:
                    found.append(SheetDifference(frame, frame + 1, exposure.mouth, wanted))
    return found, list(unknown)
