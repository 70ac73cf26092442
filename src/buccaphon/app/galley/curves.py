"""Where the values of a channel lie in its lane."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from buccaphon.app.galley.pixels import Values
from buccaphon.motion.channels import Channel

_ABOVE, _BELOW = 5.0, 1.0  # pixels of a lane above its largest value, and below its least


@dataclass(frozen=True, slots=True)
class ChannelScale:
    """Values against pixels of a lane of some height."""

    channel: Channel
    height: int

    @property
    def _room(self) -> float:
        return max(self.height - _ABOVE - _BELOW, 1.0)

    @property
    def _width(self) -> float:
        return max(self.channel.high - self.channel.low, 1e-9)

    def shares(self, values: Values) -> Values:
        """0..1 of the range."""
        return np.asarray((values - self.channel.low) / self._width, np.float32)

    def y(self, value: float) -> float:
        share = (value - self.channel.low) / self._width
        return self.height - _BELOW - self._room * share

    def value(self, down: float) -> float:
        """The value at so many pixels below the lane's upper edge, within the channel's range."""
        share = (self.height - _BELOW - down) / self._room
        return self.channel.low + self._width * min(max(share, 0.0), 1.0)

    @property
    def per_pixel(self) -> float:
        return self._width / self._room
