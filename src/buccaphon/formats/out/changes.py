"""Where mouths change, and nothing else: lists that people type from, frame by frame."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from itertools import groupby

from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.keys import CsvOptions
from buccaphon.texts import N_, _

COLUMNS = ("frame", "mouth", "shown", "number", "length")
_ABOUT = N_("# {title}: {count} changes of mouth, frames {first} to {last} at {fps} fps")

Row = tuple[int, str, str, int, int]


def changes(delivery: Delivery) -> Iterator[Row]:
    """The scene's frame on which another mouth begins, the chart's name for it, what it is called in the host and its number
    there, and for how many frames it is held. Mouths that are called alike are one."""
    bake = delivery.bake
    assert bake is not None
    for shown, group in groupby(bake.exposures, key=lambda exposure: delivery.called(exposure.mouth)):
        held = list(group)
        length = held[-1].end - held[0].start
        yield held[0].start + bake.start_frame, held[0].mouth, shown, delivery.number_of(held[0].mouth), length


def changes_csv(delivery: Delivery, options: CsvOptions) -> bytes:
    """With a byte-order mark and CRLF, as spreadsheets expect it."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for frame, mouth, shown, number, length in changes(delivery):
        writer.writerow([frame, options.cell(mouth), options.cell(shown), number, length])
    return b"\xef\xbb\xbf" + text.getvalue().encode()


def changes_text(delivery: Delivery, _options: object) -> bytes:
    """Columns that stand below each other, parted by tabs: to be read beside another window, or printed."""
    bake = delivery.bake
    assert bake is not None
    rows = [COLUMNS, *(tuple(map(_one_line, row)) for row in changes(delivery))]
    widths = [max(len(row[column]) for row in rows) for column in range(len(COLUMNS))]
    about = _(
        _ABOUT,
        title=_one_line(delivery.title),
        count=len(rows) - 1,
        first=bake.start_frame,
        last=bake.start_frame + bake.frames - 1,
        fps=bake.rate.label,
    )
    lines = ("\t".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip() for row in rows)
    return ("\n".join((about, *lines)) + "\n").encode()


def _one_line(cell: object) -> str:
    return " ".join(str(cell).split())
