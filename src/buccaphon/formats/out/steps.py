"""What is on or off stays so until the frame on which it changes: hosts that go straight from key to key get the old value
again just before each new one."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

import numpy as np

from buccaphon.arrays import Doubles, Floats
from buccaphon.formats.delivery import Delivery

Values = TypeVar("Values", Floats, Doubles)
BEFORE = 0.001  # of a frame: where the old value still stands


def stepping(delivery: Delivery) -> frozenset[str]:
    """The ids of the channels of one's own that are on or off, and that nothing has rounded since."""
    own = delivery.own_channels()
    switched = (n for n, channel in enumerate(own.of) if channel.steps)
    return frozenset(own.of[n].id for n in switched if len(np.unique(own.kept[n].whole)) <= 2)


def with_steps(values: Values, columns: Sequence[int]) -> tuple[Doubles, Values]:
    """(keys,) frames, whole or just before one, and (keys, n) values, from (frames, n) of every frame. columns: those that
    step; the others go straight on."""
    held = values[:, list(columns)]
    jumps = (held[1:] != held[:-1]).any(axis=1).nonzero()[0] + 1
    between = values[jumps] + BEFORE * (values[jumps - 1] - values[jumps])
    between[:, list(columns)] = held[jumps - 1]
    frames: Doubles = np.insert(np.arange(len(values), dtype=np.float64), jumps, jumps - BEFORE)
    stepped: Values = np.insert(values, jumps, between, axis=0)
    return frames, stepped
