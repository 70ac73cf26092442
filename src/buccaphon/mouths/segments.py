"""A plan of mouths in seconds, before it is put on frames."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import IntEnum
from typing import NamedTuple

COARSE = 0.062  # seconds; on exposures as long as this the plan may only cut where they begin
_HAIR = 1e-9  # seconds: rounding


class Kind(IntEnum):
    """Why a mouth is shown; what matters more is the higher."""

    CHOSEN = 0
    REST = 1
    STRESSED = 2
    CONTACT = 3
    PAINTED = 4


class Segment(NamedTuple):
    """A mouth from `start` to `end` seconds. reads: how much a contact would be missed."""

    mouth: int
    start: float
    end: float
    kind: Kind = Kind.CHOSEN
    reads: float = 0.0

    @property
    def length(self) -> float:
        return self.end - self.start


@dataclass(frozen=True, eq=False)
class Exposed:
    """The exposures of a passage. edges: (cells + 1) rising seconds, from where it begins to where it ends. cells: how many
    there are. step: how long each is, in seconds; None when they differ."""

    edges: Sequence[float]
    step: float | None = None
    cells: int = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "cells", len(self.edges) - 1)

    def cell(self, seconds: float) -> int:
        """The exposure that a moment lies in; the first or last one beyond them."""
        cell = bisect_right(self.edges, seconds) - 1
        return 0 if cell < 0 else cell if cell < self.cells else self.cells - 1

    def size(self, seconds: float) -> float:
        """How long the exposure at a moment is, in seconds."""
        if self.step is not None:
            return self.step
        cell = self.cell(seconds)
        return self.edges[cell + 1] - self.edges[cell]

    def place(self, seconds: float) -> float:
        """A moment counted in exposures."""
        cell = self.cell(seconds)
        start, end = self.edges[cell], self.edges[cell + 1]
        return min(max(cell + (seconds - start) / (end - start), 0.0), float(self.cells))

    def nearest(self, seconds: float) -> float:
        """The edge nearest to a moment, in seconds."""
        after = bisect_right(self.edges, seconds + self.size(seconds) / 2 - _HAIR)
        return self.edges[after - 1 if after else 0]

    def snapped(self, segment: Segment) -> Segment:
        """On coarse exposures the segment with its ends on the nearest edges."""
        mouth, start, end, kind, reads = segment
        if self.size(start) < COARSE:
            return segment
        return Segment(mouth, self.nearest(start), self.nearest(end), kind, reads)


def without(segments: Sequence[Segment], others: Sequence[Segment]) -> list[Segment]:
    """Segments cut back to where none of the others are: both in order of time, the others not overlapping."""
    found: list[Segment] = []
    first = 0
    for segment in segments:
        start, end = segment.start, segment.end
        while first < len(others) and others[first].end <= start:
            first += 1
        at = first
        while at < len(others) and others[at].start < end:
            other = others[at]
            at += 1
            if other.end > start:
                if other.start - start > end - other.end:
                    end = min(end, other.start)
                else:
                    start = max(start, other.end)
        if start == segment.start and end == segment.end:
            found.append(segment)
        elif end > start + _HAIR:
            found.append(Segment(segment.mouth, start, end, segment.kind, segment.reads))
    return found


def tidied(segments: Sequence[Segment]) -> list[Segment]:
    """Without empty ones; neighbours of the same mouth are one."""
    found: list[Segment] = []
    last = -1  # the mouth of the one before
    for segment in segments:
        mouth, start, end, kind, reads = segment
        if mouth == last:
            before = found[-1]
            found[-1] = Segment(mouth, before.start, end, max(before.kind, kind), max(before.reads, reads))
        elif end > start + _HAIR:
            found.append(segment)
            last = mouth
    return found
