"""Keys for the clipboard: the same table as text and as HTML, and as JSON for whoever knows that."""

from __future__ import annotations

import html
from dataclasses import dataclass

from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.keys import KeysJsonOptions, keys_json
from buccaphon.kits.kit import Kind
from buccaphon.motion.record import JAW

KEYS_TYPE = "application/vnd.buccaphon.keys+json"
_RUN = ("=", "+", "-", "@")  # an office program would take what begins so for a formula

Cell = str | int | float


@dataclass(frozen=True, slots=True)
class Table:
    """text: rows with tabs between the cells. page: an HTML table. data: keys as JSON."""

    text: str
    page: str
    data: bytes


def keys_table(delivery: Delivery, *, comma: bool = False) -> Table:
    """A row a frame: frame, mouth, jaw, word; the mouth's number, too, where the character has drawings of its own. comma:
    decimal commas, as some office programs want them.

    A word that would be taken for a formula gets a space before it: that stays text in every program that was tried, and an
    apostrophe stays to be seen.
    """
    bake = delivery.bake
    assert bake is not None
    is_numbered = delivery.kit is not None and delivery.kit.kind is Kind.DRAWN
    rows: list[list[Cell]] = [["frame", "mouth", JAW, "word", *(["number"] if is_numbered else [])]]
    for exposure in bake.exposures:
        mouth = delivery.called(exposure.mouth)
        number = [delivery.number_of(exposure.mouth)] if is_numbered else []
        for frame in range(exposure.start, exposure.end):
            rows.append([frame + bake.start_frame, mouth, float(bake.jaw[frame]), bake.words[frame], *number])
    text = "".join("\t".join(_plain(cell, comma) for cell in row) + "\n" for row in rows)
    body = "".join(f"<tr>{''.join(f'<td>{_marked(cell, comma)}</td>' for cell in row)}</tr>" for row in rows)
    page = f'<html><head><meta charset="utf-8"></head><body><table>{body}</table></body></html>'
    return Table(text, page, keys_json(delivery, KeysJsonOptions()))


def _plain(cell: Cell, comma: bool) -> str:
    if isinstance(cell, str):
        one_line = " ".join(cell.split())
        return f" {one_line}" if one_line.startswith(_RUN) else one_line
    return _number(cell, comma)


def _marked(cell: Cell, comma: bool) -> str:
    """A plain space would be trimmed here."""
    if isinstance(cell, str):
        one_line = " ".join(cell.split())
        return ("&nbsp;" if one_line.startswith(_RUN) else "") + html.escape(one_line)
    return _number(cell, comma)


def _number(cell: int | float, comma: bool) -> str:
    text = f"{cell:.4f}" if isinstance(cell, float) else str(cell)
    return text.replace(".", ",") if comma else text
