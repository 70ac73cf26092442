"""Where a scratch take comes from: the machine's microphone, or a simulated one where there is none."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import cache
from typing import Protocol

import numpy as np

from buccaphon.app.sound.device import Block
from buccaphon.texts import N_

RATE = 48_000


class Microphone(Protocol):
    """An input, mono at RATE. `read` gives what has come in since the last call."""

    name: str

    def start(self) -> None: ...
    def read(self) -> Block: ...
    def stop(self) -> None: ...


class SimulatedMicrophone:
    """Hears a given sound, or a murmur of its own, in exact time. The clock can be replaced."""

    name = N_("no microphone (simulated voice)")

    def __init__(self, sound: Block | None = None, clock: Callable[[], float] = time.monotonic) -> None:
        self._sound = sound
        self._clock = clock
        self._since: float | None = None
        self._given = 0

    def start(self) -> None:
        self._since, self._given = self._clock(), 0

    def read(self) -> Block:
        if self._since is None:
            return np.zeros((0, 1), np.float32)
        due = int((self._clock() - self._since) * RATE + 1e-6) - self._given
        sound = self._sound if self._sound is not None else _murmur()
        at = (self._given + np.arange(due)) % len(sound)
        self._given += due
        return sound[at]

    def stop(self) -> None:
        self._since = None


@cache
def _murmur() -> Block:
    """Two seconds of a soft voice-like buzz that comes and goes."""
    t = np.arange(2 * RATE) / RATE
    buzz = sum(np.sin(2 * np.pi * 130 * k * t) / k for k in range(1, 12))
    return (0.08 * buzz * np.clip(np.sin(2 * np.pi * 1.5 * t), 0, 1))[:, None].astype(np.float32)
