"""Channels: named curves with one value a frame, and what is known of each."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import Enum
from functools import cached_property
from operator import is_

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.motion.curve import Curve
from buccaphon.texts import N_, _

_FINE_UP_TO = 20.0  # the range of a channel without a unit that is read in hundredths


class Origin(Enum):
    """What drives a channel."""

    SOUNDS = N_("the sounds, and how loud they are")
    LOUDNESS = N_("loudness alone")
    MOUTHS = N_("the mouths shown")


@dataclass(frozen=True, slots=True)
class Channel:
    """id: as files name it. name: for people. low, high: the range of its values. rest: its value while nothing is said.
    steps: whether it is on or off, with nothing between."""

    id: str
    name: str
    origin: Origin
    low: float = 0.0
    high: float = 1.0
    rest: float = 0.0
    unit: str = ""
    steps: bool = False

    def says(self, value: float) -> str:
        """A value of it with its unit, as people read it."""
        decimals = 2 if not self.unit and self.high - self.low <= _FINE_UP_TO else 1
        return f"{value:.{decimals}f} {_(self.unit)}".rstrip()


@dataclass(frozen=True, eq=False)
class Channels:
    """kept: the curve of each of the channels; one that an edit does not change stays the same object."""

    of: tuple[Channel, ...]
    kept: tuple[Curve, ...]

    @classmethod
    def of_arrays(cls, of: Iterable[Channel], curves: Iterable[Floats]) -> Channels:
        """curves: (frames,) each."""
        return cls(tuple(of), tuple(map(Curve, curves)))

    @cached_property
    def curves(self) -> tuple[Floats, ...]:
        """(frames,) each."""
        return tuple(curve.whole for curve in self.kept)

    @cached_property
    def values(self) -> Floats:
        """(frames, n), one column for each."""
        return np.stack(self.curves, axis=1) if self.curves else np.zeros((0, 0), np.float32)

    @cached_property
    def ids(self) -> tuple[str, ...]:
        return tuple(channel.id for channel in self.of)

    def are(self, others: Channels) -> bool:
        """Whether others have the same channels and the very same curves."""
        return self.of == others.of and all(map(is_, self.kept, others.kept))

    def curve(self, ident: str) -> Floats:
        """(frames,) of one channel; KeyError when there is none of that id."""
        if ident not in self.ids:
            raise KeyError(ident)
        return self.kept[self.ids.index(ident)].whole

    def find(self, ident: str) -> tuple[Channel, Curve] | None:
        """A channel with its curve; None when there is none of that id."""
        if ident not in self.ids:
            return None
        number = self.ids.index(ident)
        return self.of[number], self.kept[number]

    def columns(self, idents: Sequence[str]) -> Floats:
        """(frames, n) of several."""
        return np.stack([self.curve(ident) for ident in idents], axis=1)

    def beside(self, others: Channels) -> Channels:
        """With others after them, but for those whose names they have themselves."""
        new = [n for n, channel in enumerate(others.of) if channel.id not in self.ids]
        return Channels((*self.of, *(others.of[n] for n in new)), (*self.kept, *(others.kept[n] for n in new)))

    def held(self, count: int) -> Channels:
        """With the last frame held for so many more."""
        return Channels.of_arrays(
            self.of, (np.concatenate((curve.whole, np.repeat(curve[-1:], count))) for curve in self.kept)
        )

    def part(self, first: int, end: int) -> Channels:
        """Some frames alone."""
        return Channels.of_arrays(self.of, (curve[first:end] for curve in self.kept))
