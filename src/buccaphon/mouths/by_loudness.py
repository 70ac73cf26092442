"""Mouths from loudness alone, for recordings without words."""

from __future__ import annotations

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.grid import Grid


def choose_by_loudness(opening: Floats, chart: Chart, grid: Grid, *, always_opens: bool = False) -> list[int]:
    """The mouth of each cell: the chart's mouths on a line from shut to open, each cell the one nearest its widest jaw.

    opening: (frames,) 0..1. always_opens: what is above 0 shows a mouth that is open, however little; without that, what is
    nearer to rest rests.
    """
    order = np.array([i for i, mouth in enumerate(chart.mouths) if not mouth.contact or i == chart.rests])
    if always_opens and len(order) > 1:
        order = order[order != chart.rests]
    poses = [chart.mouths[i].pose for i in order]
    jaws, odd = np.array([pose.jaw for pose in poses]), np.array([pose.spread + pose.round for pose in poses])
    if not len(opening):
        return []
    loud = _of_cells(opening, grid)
    # among mouths that open equally wide take the plainest
    best = (np.abs(jaws - loud[:, None] * jaws.max()) + 0.3 * odd).argmin(1)
    chosen: list[int] = np.where(loud == 0, chart.rests, order[best]).tolist()
    return chosen


def _of_cells(opening: Floats, grid: Grid) -> Floats:
    """(cells,) how open each is: the widest of its frames; the least open where the cell is a dip between two wider ones, or
    drawings that are held would not close between syllables."""
    edges = np.minimum(grid.edges[:-1], len(opening) - 1)
    widest, least = np.maximum.reduceat(opening, edges), np.minimum.reduceat(opening, edges)
    before, after = np.r_[np.inf, least[:-1]], np.r_[least[1:], np.inf]
    is_dip = (least < before) & (least <= after) & (widest < np.maximum(*_beside(widest)))
    return np.where(is_dip, least, widest)


def _beside(cells: Floats) -> tuple[Floats, Floats]:
    return np.r_[cells[:1], cells[:-1]], np.r_[cells[1:], cells[-1:]]
