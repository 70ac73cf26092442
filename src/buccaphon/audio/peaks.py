"""The waveform pyramid: lowest, highest and RMS of ever larger groups of samples, so that any zoom draws at once."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from buccaphon.audio.recording import Recording, Samples, mix_down

_FIRST_GROUP = 32  # samples in a group of the finest level
_GROWTH = 4  # how many groups of one level make one of the next

Level = npt.NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Peaks:
    """levels[i]: (3, groups) float32 of lowest, highest, mean square over `32 * 4**i` samples each."""

    levels: tuple[Level, ...]
    rate: int
    length: int

    def columns(self, start: float, end: float, count: int) -> Level:
        """Summaries for `count` equal columns of the time from `start` to `end` seconds.

        Returns (count, 3) float32: lowest, highest, RMS; zeros outside the recording.
        """
        if count <= 0 or end <= start:
            return np.zeros((0, 3), np.float32)
        per_column = (end - start) * self.rate / count
        depth = int(np.clip(np.log(max(per_column, 1) / _FIRST_GROUP) / np.log(_GROWTH), 0, len(self.levels) - 1))
        level, group = self.levels[depth], _FIRST_GROUP * _GROWTH**depth
        edges = (start + (end - start) * np.arange(count + 1) / count) * self.rate / group
        first, last = np.floor(edges[:-1]).astype(np.int64), np.ceil(edges[1:]).astype(np.int64)
        first, last = np.maximum(first, 0), np.minimum(np.maximum(last, first + 1), level.shape[1])
        found = np.zeros((count, 3), np.float32)
        inside = last > first
        if not inside.any():
            return found
        low, high = int(first[inside][0]), int(last[inside][-1])
        part = np.zeros((3, high - low + 1), np.float32)  # so that `high` is an index too
        part[:, :-1] = level[:, low:high]
        bounds = np.stack([first[inside], last[inside]], axis=1).reshape(-1) - low
        found[inside, 0] = np.minimum.reduceat(part[0], bounds)[::2]
        found[inside, 1] = np.maximum.reduceat(part[1], bounds)[::2]
        squares = np.add.reduceat(part[2], bounds)[::2]
        found[inside, 2] = np.sqrt(squares / (last - first)[inside])
        return found

    @property
    def duration(self) -> float:
        """Length in seconds."""
        return self.length / self.rate

    def loudest(self) -> float:
        """The largest sample, 0..1."""
        return float(np.abs(self.levels[-1][:2]).max(initial=0.0))

    def mean_squares(self, starts: npt.NDArray[np.float64], ends: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        """Mean square of the stretches from `starts` to `ends` seconds, to the nearest group of 32 samples; 0 outside."""
        last = len(self._sums) - 1
        low = np.clip(np.round(starts * self.rate / _FIRST_GROUP), 0, last).astype(np.int64)
        high = np.clip(np.round(ends * self.rate / _FIRST_GROUP), 0, last).astype(np.int64)
        found: npt.NDArray[np.float64] = (self._sums[high] - self._sums[low]) / np.maximum(high - low, 1)
        return np.maximum(found, 0.0)

    @cached_property
    def _sums(self) -> npt.NDArray[np.float64]:
        return np.concatenate([[0.0], np.cumsum(self.levels[0][2], dtype=np.float64)])


class PeaksBuilder:
    """Builds the pyramid of a mix block by block; its finest level takes 3/32 of the mix's size, all above it a third of
    that."""

    def __init__(self) -> None:
        self._finest: list[Level] = []
        self._rest = np.zeros(0, np.float32)
        self._length = 0

    def add(self, block: Samples) -> None:
        """Take in the next (frames, channels)."""
        mono = mix_down(block)
        self._length += len(mono)
        if len(self._rest):
            mono = np.concatenate([self._rest, mono])
        whole = len(mono) // _FIRST_GROUP * _FIRST_GROUP
        self._finest.append(_summary(mono[:whole].reshape(-1, _FIRST_GROUP)))
        self._rest = mono[whole:]

    def finish(self, rate: int) -> Peaks:
        if len(self._rest):
            padded = np.pad(self._rest, (0, _FIRST_GROUP - len(self._rest)))
            self._finest.append(_summary(padded.reshape(1, _FIRST_GROUP)))
        level = np.concatenate(self._finest, axis=1) if self._finest else np.zeros((3, 0), np.float32)
        levels = [level]
        while level.shape[1] > _GROWTH:
            whole = level.shape[1] // _GROWTH * _GROWTH
            parts = [_joined(level[:, :whole])]
            if whole < level.shape[1]:
                rest = level[:, whole:]
                parts.append(_joined(np.pad(rest, ((0, 0), (0, _GROWTH - rest.shape[1])), mode="edge")))
            level = np.concatenate(parts, axis=1)
            levels.append(level)
        return Peaks(tuple(levels), rate, self._length)


def build_peaks(recording: Recording) -> Peaks:
    """The pyramid of a whole recording's mix."""
    builder = PeaksBuilder()
    for block in recording.blocks():
        builder.add(block)
    return builder.finish(recording.rate)


def _summary(groups: Samples) -> Level:
    """(3, n) of (n, samples)."""
    turned = np.ascontiguousarray(groups.T)  # reducing along the long axis is several times quicker
    squares = np.einsum("ij,ij->j", turned, turned) / _FIRST_GROUP
    return np.stack([turned.min(0), turned.max(0), squares])


def _joined(level: Level) -> Level:
    """Each four groups of a level made one. By halves, which is far quicker than along a short axis."""
    low, high, square = level.reshape(3, -1, 2, 2).transpose(0, 3, 2, 1)
    low, high = np.minimum(low[0], low[1]), np.maximum(high[0], high[1])
    mean = (square[0] + square[1]).sum(0) / np.float32(_GROWTH)
    return np.stack([np.minimum(low[0], low[1]), np.maximum(high[0], high[1]), mean])
