"""Several recordings heard together: each from its place on, none of them copied."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from buccaphon.audio.recording import LazySamples, Recording, Samples
from buccaphon.timing import Span

_MOST_CHANNELS = 2


@dataclass(frozen=True, eq=False)
class Part:
    """A part of a recording in a mix. used: its seconds. at: when that part begins, in seconds of the mix, even before it."""

    recording: Recording
    used: Span
    at: float


def mixed(clips: Sequence[Part], seconds: float, name: str) -> Recording:
    """All of them as one recording of some length. Samples a second are those of the finest of them, channels one, or two
    where any has more than one; what is louder than full scale is cut off. Recordings of another rate are made over once."""
    rate = max((clip.recording.rate for clip in clips), default=48_000)
    channels = max((min(clip.recording.channels, _MOST_CHANNELS) for clip in clips), default=1)
    placed = []
    for clip in clips:
        first, end = (round(moment * clip.recording.rate) for moment in (clip.used.start, clip.used.end))
        part: Samples | LazySamples = clip.recording.samples[first:end]
        if clip.recording.rate != rate:
            part = _at_rate(np.asarray(part), clip.recording.rate, rate)
        placed.append((round(clip.at * rate), part))
    return Recording(_Mix(tuple(placed), (round(seconds * rate), channels)), rate, name)


def _at_rate(samples: Samples, before: int, after: int) -> Samples:
    import soxr  # noqa: PLC0415  (only where rates differ)

    found: Samples = soxr.resample(samples, before, after).astype(np.float32)
    return found


class _Mix(LazySamples):
    """parts: each with the sample of the mix that it begins at."""

    def __init__(self, parts: tuple[tuple[int, Samples | LazySamples], ...], shape: tuple[int, int]) -> None:
        super().__init__(shape)
        self._parts = parts

    def _read(self) -> Samples:
        first, end = self._rows[0], self._rows[-1] + 1
        found = np.zeros((end - first, self._columns[-1] + 1), np.float32)
        for at, samples in self._parts:
            low, high = max(first, at), min(end, at + samples.shape[0])
            if high > low:
                heard = np.asarray(samples[low - at : high - at])
                if heard.shape[1] > found.shape[1]:
                    heard = heard.mean(axis=1, keepdims=True) if found.shape[1] == 1 else heard[:, : found.shape[1]]
                found[low - first : high - first] += heard  # a single channel is heard on both sides
        np.clip(found, -1.0, 1.0, out=found)
        return found[:: self._rows.step, self._columns[0] :]
