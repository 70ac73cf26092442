"""A list of mouths as somebody types it: a frame of the scene and the mouth that begins there, a row each."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence
from pathlib import Path

from buccaphon.errors import SheetError
from buccaphon.files import read_text
from buccaphon.formats.in_.sheet import SUFFIXES as SHEETS
from buccaphon.formats.in_.sheet import sheet_rows
from buccaphon.texts import N_, _

SUFFIXES = (".txt", *SHEETS)
_MOST_ROWS = 100_000
_REMEDY = N_("Write a frame and a mouth a row, such as “12 Open” or “12, 4”")
_FRAME = re.compile(r"f?\s*(-?[0-9]{1,9})(?:\.0*)?")

Rows = tuple[tuple[int, str], ...]


def read_mouth_list(path: Path) -> Rows:
    """The rows of a file: text, .csv, .xlsx or .ods, with or without a heading that names the columns frame and mouth.

    Frames are the scene's numbers, in any order; a row without a mouth says nothing. Raises SheetError with the row.
    """
    if path.suffix.lower() in SHEETS[1:]:
        return _understood(sheet_rows(path), str(path))
    return parse_mouth_list(read_text(path, SheetError), str(path))


def parse_mouth_list(text: str, subject: str) -> Rows:
    """The rows of a text; frame and mouth are parted by a tab, a semicolon, a comma or by spaces. Raises SheetError."""
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip() and not line.lstrip().startswith("#")]
    mark = next((mark for mark in "\t;," if lines and all(mark in line for line in lines)), None)
    if mark is None:
        return _understood(
            [re.sub(r"^\s*f\s+", "f", line, flags=re.IGNORECASE).split(maxsplit=1) for line in lines], subject
        )
    return _understood(csv.reader(io.StringIO("\n".join(lines)), delimiter=mark), subject)


def is_mouth_list(text: str) -> bool:
    """Whether a text that was copied elsewhere is such a list, rather than words."""
    try:
        return bool(parse_mouth_list(text, "")) if len(text) < 1_000_000 else False
    except SheetError:
        return False


def _understood(rows: Iterable[Sequence[object]], subject: str) -> Rows:
    found: list[tuple[int, str]] = []
    frame_at, mouth_at = 0, 1
    for number, cells in enumerate(rows, 1):
        row = [str(cell if cell is not None else "").strip() for cell in cells]
        heads = [cell.lower() for cell in row]
        if number == 1 and "frame" in heads and "mouth" in heads:
            frame_at, mouth_at = heads.index("frame"), heads.index("mouth")
            continue
        if number > _MOST_ROWS:
            raise SheetError(subject, _("it has more than {most} rows", most=_MOST_ROWS), _("Part it"))
        if not any(row):
            continue
        frame = _FRAME.fullmatch(row[frame_at].lower()) if frame_at < len(row) else None
        if frame is None:
            said = row[frame_at][:20] if frame_at < len(row) else ""
            raise SheetError(subject, _("row {number} has no frame but “{said}”", number=number, said=said), _REMEDY)
        mouth = row[mouth_at].removeprefix("'").strip() if mouth_at < len(row) else ""
        if mouth:
            found.append((int(frame[1]), mouth))
        elif len(row) <= mouth_at:
            raise SheetError(subject, _("row {number} has a frame and no mouth", number=number), _REMEDY)
    if not found:
        raise SheetError(subject, _("no row names a frame and a mouth"), _REMEDY)
    return tuple(found)
