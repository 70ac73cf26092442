"""Exposures: which mouth is shown from which frame to which."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from buccaphon.arrays import Ints


@dataclass(frozen=True, slots=True)
class Exposure:
    """A mouth held from frame `start` up to, not including, frame `end`; frames counted from 0."""

    mouth: str
    start: int
    end: int

    @property
    def length(self) -> int:
        return self.end - self.start


def held_on(edges: Ints, frames: int, path: Sequence[int], names: Sequence[str]) -> tuple[Exposure, ...]:
    """Held mouths from one mouth a cell of a grid.

    edges: the frames at which the cells begin, and where the last one ends. frames: where the recording ends, at the latest.
    path: numbers of mouths. names: of all mouths.
    """
    mouths = np.asarray(path, np.int_)
    starts = np.concatenate([[0], np.flatnonzero(np.diff(mouths)) + 1]) if len(mouths) else mouths
    rims = np.minimum(edges[[*starts.tolist(), len(mouths)]], frames).tolist()
    held = zip(mouths[starts].tolist(), rims, rims[1:], strict=False)
    return tuple(_held(names[mouth], start, end) for mouth, start, end in held if end > start)


_held = lru_cache(maxsize=1 << 16)(Exposure)  # while a hand drags something most of them are those of before


def exposure_at(exposures: Sequence[Exposure], frame: int) -> Exposure | None:
    """The exposure on show at a frame."""
    index = bisect_right(exposures, frame, key=lambda exposure: exposure.start) - 1
    return exposures[index] if index >= 0 and frame < exposures[index].end else None
