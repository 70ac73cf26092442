"""The character's own pieces for a host that moves them itself: PNGs of one size, and where each lies on them."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Sequence
from dataclasses import asdict

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.format import Files
from buccaphon.formats.out.pictures.strips import as_png
from buccaphon.formats.pictures import Piece
from buccaphon.texts import _

_NO_NAME = re.compile(r"[\\/:*?\"<>|\x00-\x1f]")  # what no file's name may hold everywhere
_COLUMNS = ("file", "name", "role", "mouths", "x", "y", "width", "height", "pivot_x", "pivot_y")


def pieces(delivery: Delivery, _options: object) -> Files:
    """NAME.pieces.json with the places, the same as CSV, and a PNG of each piece on the whole canvas: laid over each other in
    their order they are the character. Raises TargetError for a character that has none."""
    assert delivery.bake is not None
    assert delivery.pictures is not None
    found = delivery.pictures.pieces()
    if not found:
        raise TargetError(
            _("the pieces"), _("the character is no artwork"), _("Choose a character of drawings, or a cut-out")
        )
    stem = delivery.place.name
    names = _file_names(stem, found)
    mouths = {piece.name: [m for m in delivery.bake.chart.names if delivery.called(m) == piece.name] for piece in found}
    rows = [
        {"file": name, "mouths": mouths[piece.name] if piece.role == "mouth" else [], **_place(piece)}
        for name, piece in zip(names, found, strict=True)
    ]
    height, width = found[0].pixels.shape[:2]
    told = {"format": "buccaphon.pieces", "version": 1, "width": width, "height": height, "pieces": rows}
    data = (json.dumps(told, ensure_ascii=False, indent=1) + "\n").encode()
    pictures = {name: as_png(piece.pixels) for name, piece in zip(names, found, strict=True)}
    return {f"{stem}.pieces.json": data, f"{stem}.pieces.csv": _as_csv(rows), **pictures}


def _place(piece: Piece) -> dict[str, object]:
    place = asdict(piece)
    del place["pixels"]
    pivot = place.pop("pivot")
    return {**place, "pivot_x": pivot[0], "pivot_y": pivot[1]}


def _as_csv(rows: Sequence[dict[str, object]]) -> bytes:
    text = io.StringIO()
    writer = csv.DictWriter(text, _COLUMNS, lineterminator="\r\n")
    writer.writeheader()
    for row in rows:
        mouths = row["mouths"]
        assert isinstance(mouths, list)
        writer.writerow(row | {"mouths": " ".join(mouths)})
    return b"\xef\xbb\xbf" + text.getvalue().encode()


def _file_names(stem: str, found: Sequence[Piece]) -> list[str]:
    """Names that files can have, each once whatever the case."""
    taken: set[str] = set()
    names = []
    for piece in found:
        plain = _NO_NAME.sub("_", piece.name).strip(" .")[:80] or "piece"
        tries = (plain, *(f"{plain} {number}" for number in range(2, len(found) + 2)))
        own = next(each for each in tries if each.lower() not in taken)
        taken.add(own.lower())
        names.append(f"{stem}.{own}.png")
    return names
