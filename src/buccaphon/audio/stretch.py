"""Slower or faster with the pitch kept, a piece at a time: waveform similarity overlap-add.

Verhelst and Roelands, "An overlap-add technique based on waveform similarity (WSOLA) for high quality time-scale
modification of speech" (1993): windows are taken from the source at the new pace, each moved by a few milliseconds to
where it continues the one before best.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from buccaphon.audio.recording import LazySamples, Samples, mix_down

_WINDOW = 0.032  # seconds; about three periods of a deep voice
_SEARCH = 0.008  # seconds either way


class Stretcher:
    """Plays samples[first:end] at a speed. `position` is the source sample that is being heard."""

    def __init__(self, samples: Samples | LazySamples, rate: int, first: int, end: int, speed: float) -> None:
        """samples: (frames, channels). rate: samples a second. speed: 0.1..4, 0.5 is half as fast."""
        if not 0.1 <= speed <= 4.0:
            raise ValueError(f"speed {speed} is not between 0.1 and 4")
        self._samples, self._end, self._speed = samples, end, speed
        self._hop = max(round(_WINDOW * rate / 2), 8)
        self._search = round(_SEARCH * rate)
        self._window = np.hanning(2 * self._hop + 1)[:-1].astype(np.float32)[:, None]
        self._source = float(first)  # what ought to be heard where the next window begins
        self._taken = first - self._hop  # where the last one was taken: its middle is heard first, at full strength
        self._tail = self._take(first)[: self._hop] * self._window[self._hop :]
        self._ready: list[Samples] = []
        self._waiting = 0

    def read(self, count: int) -> Samples:
        """The next (n, channels) samples, n <= count; none when the end is reached."""
        while self._waiting < count and self._source < self._end:
            self._add_window()
        ready = np.concatenate(self._ready) if self._ready else np.zeros((0, self._samples.shape[1]), np.float32)
        self._ready = [ready[count:]]
        self._waiting = len(self._ready[0])
        return ready[:count]

    def _add_window(self) -> None:
        # the middle of a window is what is heard most: it is to lie where the pace has come by then
        ideal = round(self._source + self._hop * self._speed) - self._hop
        at = self._most_alike(ideal)
        window = self._take(at)
        mixed = self._tail + window[: self._hop] * self._window[: self._hop]
        self._tail = window[self._hop :] * self._window[self._hop :]
        self._taken = at
        self._source += self._hop * self._speed
        self._ready.append(mixed)
        self._waiting += self._hop

    def _most_alike(self, ideal: int) -> int:
        """The place near `ideal` whose sound continues what was taken last."""
        continued = self._mono(self._taken + self._hop, self._hop)
        around = self._mono(ideal - self._search, 2 * self._search + self._hop)
        likeness = np.correlate(around, continued, "valid")
        energy = np.convolve(around**2, np.ones(self._hop, np.float32), "valid")
        return ideal - self._search + int((likeness / np.sqrt(energy + 1e-6)).argmax())

    def _take(self, at: int) -> Samples:
        """(2 hops, channels) from a place; silence outside the recording."""
        count = 2 * self._hop
        low, high = max(at, 0), min(max(at + count, 0), self._end)
        taken = np.zeros((count, self._samples.shape[1]), np.float32)
        if high > low:
            taken[low - at : high - at] = self._samples[low:high]
        return taken

    def _mono(self, at: int, count: int) -> npt.NDArray[np.float32]:
        low, high = max(at, 0), min(max(at + count, 0), len(self._samples))
        mono = np.zeros(count, np.float32)
        if high > low:
            mono[low - at : high - at] = mix_down(self._samples[low:high])
        return mono
