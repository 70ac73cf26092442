"""Exposures: which mouth is shown from which frame to which."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Exposure:
    """A mouth held from frame `start` up to, not including, frame `end`; frames counted from 0."""

    mouth: str
    start: int
    end: int

    @property
    def length(self) -> int:
        return self.end - self.start


def runs(mouths: Sequence[str]) -> tuple[Exposure, ...]:
    """Held mouths from one mouth name a frame."""
    found: list[Exposure] = []
    start = 0
    for frame in range(1, len(mouths) + 1):
        if frame == len(mouths) or mouths[frame] != mouths[start]:
            found.append(Exposure(mouths[start], start, frame))
            start = frame
    return tuple(found)


def exposure_at(exposures: Sequence[Exposure], frame: int) -> Exposure | None:
    """The exposure on show at a frame."""
    index = bisect_right(exposures, frame, key=lambda exposure: exposure.start) - 1
    return exposures[index] if index >= 0 and frame < exposures[index].end else None
