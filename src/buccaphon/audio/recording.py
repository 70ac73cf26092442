"""A recording: sound as numbers, in memory or, when it is long, in a file."""

from __future__ import annotations

import copy
import mmap
import os
import threading
from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import Enum
from functools import cached_property
from pathlib import Path
from typing import Any, Self

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


class LazySamples:
    """Stands for a (frames, channels) array that is not in memory: a part of it is one again, `np.asarray` makes it float32
    where it is looked at."""

    def __init__(self, shape: tuple[int, int]) -> None:
        self._rows, self._columns = range(shape[0]), range(shape[1])

    @property
    def shape(self) -> tuple[int, int]:
        return len(self._rows), len(self._columns)

    def __len__(self) -> int:
        return len(self._rows)

    def __getitem__(self, part: slice | tuple[slice, slice]) -> Self:
        rows, columns = part if isinstance(part, tuple) else (part, slice(None))
        taken = copy.copy(self)
        taken._rows, taken._columns = self._rows[rows], self._columns[columns]
        return taken

    def __array__(self, dtype: Any = None, copy: bool | None = None) -> npt.NDArray[Any]:
        del copy  # always one
        found = self._read() if len(self) else np.zeros(self.shape, np.float32)
        return found.astype(dtype or np.float32, copy=False)

    def _read(self) -> Samples:
        """(frames, channels) of the part that it stands for."""
        raise NotImplementedError


class MappedSamples(LazySamples):
    """Uncompressed sound that stays in its file and is read where it is looked at: nothing to decode, nothing to copy. What
    the file no longer holds is silence."""

    def __init__(self, path: Path, shape: tuple[int, int]) -> None:
        import soundfile  # noqa: PLC0415  (loads libsndfile; not needed to show the first window)

        super().__init__(shape)
        self._file, self._lock = soundfile.SoundFile(os.fsencode(path)), threading.Lock()

    def _read(self) -> Samples:
        found = np.zeros(self.shape, np.float32)
        with self._lock:
            self._file.seek(self._rows[0])
            read = self._file.read(len(self), dtype="float32", always_2d=True)
        found[: len(read)] = read[:, self._columns[0] : self._columns[-1] + 1]
        return finite(found)


def finite(samples: Samples) -> Samples:
    """The samples with silence where they are no numbers, and full scale where they are infinite."""
    with np.errstate(invalid="ignore"):
        clean = bool(np.isfinite(samples.sum()))
    return samples if clean else np.nan_to_num(samples, nan=0.0, posinf=1.0, neginf=-1.0)


def mix_down(samples: Samples | LazySamples) -> Samples:
    """(frames,) float32: the mean of the channels of (frames, channels). As a product, which is far quicker than a mean
    along the short axis."""
    numbers, channels = np.asarray(samples), samples.shape[1]
    return numbers[:, 0].copy() if channels == 1 else numbers @ np.full(channels, 1 / channels, np.float32)


@dataclass(frozen=True, eq=False)
class Recording:
    """Decoded sound.

    samples: (frames, channels) float32 in -1..1, or what stands for them. rate: samples a second. name: what to call it in
    messages. missing: seconds that should be there but could not be read.
    """

    samples: Samples | LazySamples
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
        return np.concatenate([mix_down(block) for block in self.blocks()])

    def blocks(self) -> Iterator[Samples]:
        """(n, channels) stretches one after the other; what is mapped from a file does not stay in memory."""
        base = getattr(self.samples, "base", None)
        mapped = getattr(self.samples, "_mmap", None) or getattr(base, "_mmap", None)
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
