"""A sprite sheet: drawings in rows and columns of one picture."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PyQt6.QtGui import QImage

from buccaphon.arrays import Bools
from buccaphon.errors import KitError
from buccaphon.kits.limits import read_bytes
from buccaphon.kits.own.sorting import Chosen
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.folder import sort_out
from buccaphon.painting.artwork.pixels import LARGEST_SHOWN, Picture, as_array, cropped, decode, scaled, shrink_by
from buccaphon.texts import _

MOST_CELLS = 64  # a side
_FEWEST_PIXELS = 4  # of a cell's side


def propose_grid(image: QImage) -> tuple[int, int] | None:
    """Columns and rows: the largest grid of equal cells that cuts no drawing and leaves few cells empty; None where drawings
    touch, or the ground is opaque."""
    drawn: Bools = as_array(image)[:, :, 3] > 0
    if drawn.all() or not drawn.any():
        return None
    columns, rows = _shares(drawn, 0), _shares(drawn, 1)
    grids = sorted(((c * r, c, r) for c in columns for r in rows), reverse=True)
    for _rest, across, down in grids:
        if across * down > 1 and _filled(drawn, across, down):
            return across, down
    return None


def read_sprites(
    path: Path, columns: int, rows: int, chosen: Chosen | None = None, longest: int = LARGEST_SHOWN
) -> Artwork:
    """The cells of a sheet, row by row, named by their numbers from 1; empty ones are left out. chosen: what somebody said
    that cells are for. Raises KitError."""
    image = decode(read_bytes(path), path.name)
    if not (1 <= columns <= MOST_CELLS and 1 <= rows <= MOST_CELLS):
        raise KitError(
            path.name,
            _(
                "a grid of {columns} x {rows} is not between 1 and {most}",
                columns=columns,
                rows=rows,
                most=MOST_CELLS,
            ),
            _("Choose another"),
        )
    width, height = image.width() // columns, image.height() // rows
    if width < _FEWEST_PIXELS or height < _FEWEST_PIXELS:
        raise KitError(
            path.name,
            _("{columns} x {rows} cells are too many for its size", columns=columns, rows=rows),
            _("Choose fewer"),
        )
    share = shrink_by(width, height, longest)
    art = Artwork(round(width * share), round(height * share), share)
    cells: dict[str, Picture] = {}
    for row in range(rows):
        for column in range(columns):
            cell = cropped(scaled(image.copy(column * width, row * height, width, height), share))
            if not cell.is_empty:
                cells[str(len(cells) + 1)] = cell
    sort_out(art, cells, chosen)
    return art


def _shares(drawn: Bools, across: int) -> list[int]:
    """Into how many equal parts a side can be cut so that every cut runs beside nothing drawn."""
    empty: Bools = ~np.any(drawn, axis=across)
    length = len(empty)
    beside = empty | np.roll(empty, 1)
    return [
        parts
        for parts in range(1, min(MOST_CELLS, length // _FEWEST_PIXELS) + 1)
        if length % parts == 0 and all(beside[length // parts * cut] for cut in range(1, parts))
    ]


def _filled(drawn: Bools, columns: int, rows: int) -> bool:
    height, width = drawn.shape
    cells = drawn.reshape(rows, height // rows, columns, width // columns).any(axis=(1, 3)).ravel()
    used = int(np.flatnonzero(cells)[-1]) + 1 if cells.any() else 0
    return bool(cells[:used].all()) and used > (rows - 1) * columns  # only the last cells of the last row may be empty
