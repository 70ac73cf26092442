"""A recording: decoded sound, in memory or, when it is long, in a file that is mapped into memory."""

from __future__ import annotations

import mmap
from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import Enum
from functools import cached_property

import numpy as np
import numpy.typing as npt

from buccaphon.timing import Span

Samples = npt.NDArray[np.float32]

BLOCK = 1 << 20  # frames that are looked at together in long recordings
_SILENT = 1e-5  # peak, about -100 dBFS: dither, not a recording


class Listen(Enum):
    """Which of several channels is meant, besides a channel's number."""

    MIX = "mix"
    LOUDEST = "loudest"


Channel = Listen | int  # a number counts from 0


def mixed(samples: Samples) -> Samples:
    """(frames,) float32: the mean of the channels of (frames, channels). Summed channel by channel, which is far quicker
    than a mean along the short axis."""
    mono = np.array(samples[:, 0], np.float32)
    for channel in range(1, samples.shape[1]):
        mono += samples[:, channel]
    if samples.shape[1] > 1:
        mono *= np.float32(1 / samples.shape[1])
    return mono


@dataclass(frozen=True, eq=False)
class Recording:
    """Decoded sound.

    samples: (frames, channels) float32 in -1..1. rate: samples a second. name: what to call it in messages. missing:
    seconds that should be there but could not be read.
    """

    samples: Samples
    rate: int
    name: str
    missing: float = 0.0

    @property
    def duration(self) -> float:
        """Length in seconds."""
        return float(self.samples.shape[0] / self.rate)

    @property
    def channels(self) -> int:
        return int(self.samples.shape[1])

    @cached_property
    def mono(self) -> Samples:
        """(frames,) float32: the mean of the channels."""
        return mixed(self.samples)

    def blocks(self) -> Iterator[Samples]:
        """(n, channels) stretches one after the other; what is mapped from a file does not stay in memory."""
        mapped = getattr(self.samples, "_mmap", None) or getattr(self.samples.base, "_mmap", None)
        for start in range(0, len(self.samples), BLOCK):
            yield np.array(self.samples[start : start + BLOCK])
            if isinstance(mapped, mmap.mmap):
                mapped.madvise(mmap.MADV_DONTNEED)

    @cached_property
    def peak(self) -> float:
        """The largest sample, 0..1."""
        return max((float(max(block.max(), -block.min())) for block in self.blocks()), default=0.0)

    @property
    def is_silent(self) -> bool:
        return self.peak < _SILENT

    def part(self, span: Span) -> Recording:
        """The stretch between two moments, without copying it."""
        first, last = round(span.start * self.rate), round(span.end * self.rate)
        return replace(self, samples=self.samples[max(first, 0) : last], missing=0.0)

    def listened_to(self, channel: Channel) -> Recording:
        """The same recording with one channel only, or all of them mixed as they are."""
        if channel is Listen.MIX or self.channels == 1:
            return self
        number = self._loudest() if isinstance(channel, Listen) else min(channel, self.channels - 1)
        return replace(self, samples=self.samples[:, number : number + 1])

    def _loudest(self) -> int:
        energy = sum((block.astype(np.float64) ** 2).sum(0) for block in self.blocks())
        return int(np.argmax(energy))
