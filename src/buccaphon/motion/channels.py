"""Channels: named curves with one value a frame, and what is known of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum
from functools import cached_property

from buccaphon.arrays import Floats


class Origin(Enum):
    """What drives a channel."""

    SOUNDS = "the sounds, and how loud they are"
    LOUDNESS = "loudness alone"
    MOUTHS = "the mouths on show"


@dataclass(frozen=True, slots=True)
class Channel:
    """id: as files name it. name: for people. low, high: the range of its values. rest: its value while nothing is said."""

    id: str
    name: str
    origin: Origin
    low: float = 0.0
    high: float = 1.0
    rest: float = 0.0
    unit: str = ""


@dataclass(frozen=True, eq=False)
class Channels:
    """values: (frames, n), one column for each of the channels."""

    of: tuple[Channel, ...]
    values: Floats

    @cached_property
    def ids(self) -> tuple[str, ...]:
        return tuple(channel.id for channel in self.of)

    def curve(self, ident: str) -> Floats:
        """(frames,) of one channel; KeyError when there is none of that id."""
        if ident not in self.ids:
            raise KeyError(ident)
        return self.values[:, self.ids.index(ident)]

    def find(self, ident: str) -> tuple[Channel, Floats] | None:
        """A channel with its (frames,) values; None when there is none of that id."""
        if ident not in self.ids:
            return None
        number = self.ids.index(ident)
        return self.of[number], self.values[:, number]

    def columns(self, idents: Sequence[str]) -> Floats:
        """(frames, n) of several."""
        return self.values[:, [self.ids.index(ident) for ident in idents]]

    def part(self, first: int, end: int) -> Channels:
        """Some frames alone."""
        return Channels(self.of, self.values[first:end])
