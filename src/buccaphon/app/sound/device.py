"""Where sound goes: the machine's output, or a simulated one with an exact clock where there is none."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Protocol

import numpy as np
import numpy.typing as npt

from buccaphon.texts import N_

Block = npt.NDArray[np.float32]


class Source(Protocol):
    """What a device plays."""

    def read(self, count: int) -> Block:
        """The next (n, channels) samples, n <= count; fewer means that the end is near, none that it is reached."""


class Device(Protocol):
    """An output. `heard` counts the samples that have really sounded since `start`; `is_lost` tells that it went away."""

    name: str

    @property
    def is_lost(self) -> bool: ...

    def start(self, rate: int, channels: int, source: Source) -> None: ...
    def stop(self) -> None: ...
    def pump(self) -> None: ...
    def heard(self) -> int: ...
    def set_volume(self, volume: float) -> None: ...


class SimulatedDevice:
    """Renders into `rendered` as its clock runs. The clock can be replaced, so that tests decide what time it is."""

    name = N_("no sound device (silent, but exactly timed)")
    is_lost = False

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._source: Source | None = None
        self._rate, self._since, self._pulled = 1, 0.0, 0
        self._volume = 1.0
        self.is_lost = False
        self.rendered: list[Block] = []

    def start(self, rate: int, channels: int, source: Source) -> None:
        del channels
        self._source, self._rate, self._since, self._pulled = source, rate, self._clock(), 0
        self.rendered = []

    def stop(self) -> None:
        self._source = None

    def pump(self) -> None:
        """Render up to now."""
        if self._source is None:
            return
        due = int((self._clock() - self._since) * self._rate + 1e-6) - self._pulled
        while due > 0:
            block = self._source.read(due)
            if not len(block):
                break
            self.rendered.append(block * np.float32(self._volume))
            self._pulled += len(block)
            due -= len(block)

    def heard(self) -> int:
        return self._pulled

    def set_volume(self, volume: float) -> None:
        self._volume = volume

    @property
    def output(self) -> Block:
        """Everything rendered since the last start, (samples, channels)."""
        return np.concatenate(self.rendered) if self.rendered else np.zeros((0, 1), np.float32)
