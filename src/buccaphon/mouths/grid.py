"""The grid: on which frames drawings may change. On twos a cell is two frames; some stretches may differ."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Doubles, Ints
from buccaphon.timing import FrameRate


@dataclass(frozen=True, slots=True)
class HeldRange:
    """From frame `first` up to frame `end` every drawing stays for `hold` frames at least."""

    first: int
    end: int
    hold: int


@dataclass(frozen=True, eq=False)
class Grid:
    """edges: (cells + 1,) rising frames, from 0 to the end of the recording or, where the last cell is longer, beyond.
    frames: of the recording. step: frames of every cell; None when they differ."""

    edges: Ints
    frames: int
    step: int | None = None

    @classmethod
    def of(cls, frames: int, hold: int, ranges: Sequence[HeldRange] = ()) -> Grid:
        """Cells of `hold` frames, others in some ranges, which do not overlap."""
        edges: list[Ints] = []
        at = 0
        for part in sorted(ranges, key=lambda part: part.first):
            edges += [np.arange(at, part.first, hold), np.arange(part.first, part.end, part.hold)]
            at = part.end
        end = max(at, at + -(-(frames - at) // hold) * hold)
        whole = np.concatenate([*edges, np.arange(at, end, hold), [end]]).astype(np.int_)
        return cls(whole, frames, None if ranges else hold)

    @property
    def cells(self) -> int:
        return len(self.edges) - 1

    def cell_at(self, frame: float) -> int:
        """The cell that a frame lies in, counted on beyond both ends."""
        return int(np.searchsorted(self.edges, frame, side="right")) - 1

    def edge_from(self, frame: float) -> int:
        """The number of the first edge at or after a frame."""
        return int(np.searchsorted(self.edges, frame, side="left"))

    def nearest_edge(self, frame: float) -> int:
        """The frame of the edge nearest to a frame."""
        return int(self.edges[int(np.abs(self.edges - frame).argmin())])

    def seconds(self, first: int, end: int, rate: FrameRate) -> Doubles:
        """(end - first + 1,) seconds of the edges of the cells from `first` up to `end`."""
        return self.edges[first : end + 1] * rate.value.denominator / rate.value.numerator
