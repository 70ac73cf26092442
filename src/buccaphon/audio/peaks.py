"""The waveform pyramid: lowest, highest and RMS of ever larger groups of samples, so that any zoom draws at once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.audio.recording import Samples

_FIRST_GROUP = 32  # samples in a group of the finest level
_GROWTH = 4  # how many groups of one level make one of the next

Level = npt.NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Peaks:
    """levels[i]: (groups, 3) float32 of lowest, highest, mean square over `32 * 4**i` samples each."""

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
        first, last = np.maximum(first, 0), np.minimum(np.maximum(last, first + 1), level.shape[0])
        found = np.zeros((count, 3), np.float32)
        inside = last > first
        if not inside.any():
            return found
        low, high = int(first[inside][0]), int(last[inside][-1])
        part = np.concatenate([level[low:high], np.zeros((1, 3), np.float32)])  # so that `high` is an index too
        bounds = np.stack([first[inside], last[inside]], axis=1).reshape(-1) - low
        found[inside, 0] = np.minimum.reduceat(part[:, 0], bounds)[::2]
        found[inside, 1] = np.maximum.reduceat(part[:, 1], bounds)[::2]
        squares = np.add.reduceat(part[:, 2], bounds)[::2]
        found[inside, 2] = np.sqrt(squares / (last - first)[inside])
        return found


def build_peaks(mono: Samples, rate: int) -> Peaks:
    """Build the pyramid of a (frames,) signal; about 3/32 of its size in memory for the finest level, 1/3 more above it."""
    groups = -(-len(mono) // _FIRST_GROUP)
    padded = np.zeros(groups * _FIRST_GROUP, np.float32)
    padded[: len(mono)] = mono
    blocks = padded.reshape(groups, _FIRST_GROUP)
    level = np.stack([blocks.min(1), blocks.max(1), np.einsum("ij,ij->i", blocks, blocks) / _FIRST_GROUP], axis=1)
    levels = [level]
    while level.shape[0] > _GROWTH:
        whole = level[: level.shape[0] // _GROWTH * _GROWTH].reshape(-1, _GROWTH, 3)
        level = np.stack([whole[:, :, 0].min(1), whole[:, :, 1].max(1), whole[:, :, 2].mean(1)], axis=1)
        levels.append(level)
    return Peaks(tuple(levels), rate, len(mono))
