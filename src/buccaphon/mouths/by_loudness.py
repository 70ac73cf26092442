"""Mouths from loudness alone, for recordings without words."""

from __future__ import annotations

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.grid import Grid


def choose_by_loudness(opening: Floats, chart: Chart, grid: Grid) -> list[int]:
    """The mouth of each cell: the chart's mouths on a line from shut to open, each cell the one nearest its widest jaw.

    opening: (frames,) 0..1.
    """
    order = np.array([i for i, mouth in enumerate(chart.mouths) if not mouth.contact or i == chart.rests])
    poses = [chart.mouths[i].pose for i in order]
    jaws, odd = np.array([pose.jaw for pose in poses]), np.array([pose.spread + pose.round for pose in poses])
    if not len(opening):
        return []
    loud = np.maximum.reduceat(opening, np.minimum(grid.edges[:-1], len(opening) - 1))
    # among mouths that open equally wide take the plainest
    best = (np.abs(jaws - loud[:, None] * jaws.max()) + 0.3 * odd).argmin(1)
    chosen: list[int] = np.where(loud == 0, chart.rests, order[best]).tolist()
    return chosen
