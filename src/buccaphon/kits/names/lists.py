"""A host's list of names, as people have it: pasted, in a text file or in a table."""

from __future__ import annotations

import csv
import io
import re
from pathlib import Path

from buccaphon.errors import KitError
from buccaphon.files import read_text, whole_text
from buccaphon.texts import _

MOST_NAMES = 4000  # a bound for hostile lists; faces have a few hundred shapes
_LONGEST = 300  # letters
_HEADINGS = ("name", "names", "shape", "shape key", "target", "blend shape", "layer", "drawing")


def parse_list(text: str, subject: str) -> tuple[str, ...]:
    """The names in a text: one a line, or in one line parted by commas, tabs or semicolons; each once, in their order. Quotes
    and bullets around them go. Raises KitError when there is none, or far too many."""
    lines = [line for line in text.splitlines() if line.strip()]
    parts = re.split(r"[,;\t]", lines[0]) if len(lines) == 1 else lines
    stripped = (re.sub(r"^\s*[-•*]\s+", "", part).strip().strip("\"'“”,;").strip() for part in parts)
    return _checked([name for name in stripped if name], subject)


def read_list(path: Path) -> tuple[str, ...]:
    """The names in a text file, or in the column of a CSV file whose heading says so, else in its first. Raises KitError."""
    text = read_text(path, KitError)
    if path.suffix.lower() not in (".csv", ".tsv"):
        return parse_list(text, str(path))
    rows = [
        row for row in csv.reader(io.StringIO(text), delimiter="\t" if "\t" in text.partition("\n")[0] else ",") if row
    ]
    headings = [cell.strip().lower() for cell in rows[0]] if rows else []
    column = next((headings.index(heading) for heading in _HEADINGS if heading in headings), None)
    cells = [row[column or 0] for row in rows[0 if column is None else 1 :] if len(row) > (column or 0)]
    return _checked([cell.strip() for cell in cells if cell.strip()], str(path))


def _checked(names: list[str], subject: str) -> tuple[str, ...]:
    found = tuple(dict.fromkeys(whole_text(name[:_LONGEST]) for name in names))
    if not found:
        raise KitError(subject, _("it contains no names"), _("Write one name per line"))
    if len(found) > MOST_NAMES:
        raise KitError(
            subject,
            _("it holds {count} names, more than {most}", count=len(found), most=MOST_NAMES),
            _("Remove names that are not mouths"),
        )
    return found
