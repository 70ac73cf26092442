"""What a device can play: a passage of a recording, or the sound under a moving hand."""

from __future__ import annotations

import numpy as np

from buccaphon.app.sound.device import Block
from buccaphon.audio.recording import Recording, mix_down
from buccaphon.audio.stretch import Stretcher
from buccaphon.timing import Span

_FADE = 0.003  # seconds; long enough that nothing clicks
_GRAIN, _GRAIN_STEP = 0.060, 0.015  # seconds of a scrubbing grain, and between two
_PATIENCE = 0.12  # seconds that a resting hand is still heard


def for_speakers(block: Block) -> Block:
    """At most two channels: more are mixed down."""
    return block if block.shape[1] <= 2 else mix_down(block)[:, None]


class Playback:
    """A stretch of a recording at a speed: once, or round and round; soft at both ends of every round."""

    def __init__(self, recording: Recording, span: Span, begin: float, loops: bool, speed: float = 1.0) -> None:
        rate = recording.rate
        self._recording = recording
        self._first = max(round(span.start * rate), 0)
        self._end = min(round(span.end * rate), len(recording.samples))
        self._begin = min(max(round(begin * rate), self._first), self._end)
        self._loops = loops and self._end > self._first
        self._rate, self._speed = rate, speed
        self._fade = max(min(int(_FADE * rate), (self._end - self._first) // 2), 1)
        self._start_round(self._begin)

    def _start_round(self, at: int) -> None:
        self._at = at
        self._length = max(round((self._end - at) / self._speed), 0)  # samples of this round, as heard
        self._done = 0
        recording = self._recording
        self._stretcher = (
            None if self._speed == 1.0 else Stretcher(recording.samples, self._rate, at, self._end, self._speed)
        )

    def read(self, count: int) -> Block:
        blocks = []
        while count > 0:
            if self._done >= self._length:
                if not self._loops:
                    break
                self._start_round(self._first)
            take = min(count, self._length - self._done)
            blocks.append(self._soft_part(take))
            self._done += take
            count -= take
        if not blocks:
            return for_speakers(np.zeros((0, self._recording.channels), np.float32))
        return for_speakers(np.concatenate(blocks))

    def _soft_part(self, count: int) -> Block:
        if self._stretcher is None:
            at = self._at + self._done
            block = np.array(self._recording.samples[at : at + count])
        else:
            block = np.zeros((count, self._recording.channels), np.float32)
            made = self._stretcher.read(count)
            block[: len(made)] = made
        place = np.arange(self._done, self._done + count)
        gain = np.clip(np.minimum(place, self._length - 1 - place) / self._fade, 0.0, 1.0).astype(np.float32)
        return block * gain[:, None]

    def position(self, heard: int) -> float:
        """Where in the recording the sound is that was heard last, in seconds."""
        at = self._begin + heard * self._speed
        if self._loops and at >= self._end:
            at = self._first + (at - self._end) % (self._end - self._first)
        return float(min(at, self._end) / self._rate)

    def is_over(self, heard: int) -> bool:
        return not self._loops and heard >= round((self._end - self._begin) / self._speed)


class ScrubGrains:
    """Short windowed grains around wherever the hand is. They overlap, so that they follow it without a click; when it
    rests they fade away."""

    def __init__(self, recording: Recording, seconds: float) -> None:
        self._recording = recording
        self._rate = recording.rate
        self._step = max(round(_GRAIN_STEP * self._rate), 1)
        self._size = self._step * round(_GRAIN / _GRAIN_STEP)
        self._window = np.hanning(self._size + 1)[:-1].astype(np.float32)[:, None] * np.float32(
            2 * _GRAIN_STEP / _GRAIN
        )
        self._tail = np.zeros((self._size, recording.channels), np.float32)
        self._ready = np.zeros((0, recording.channels), np.float32)
        self._given = self._sounding_until = 0
        self.aim(seconds)

    def aim(self, seconds: float) -> None:
        """The hand is here now."""
        self._target = round(seconds * self._rate)
        self._patience = round(_PATIENCE * self._rate)

    def read(self, count: int) -> Block:
        while len(self._ready) < count:
            self._add_grain()
        block, self._ready = self._ready[:count], self._ready[count:]
        self._given += len(block)
        if block.any() or self._ready.any() or self._patience > 0:
            self._sounding_until = self._given
        return for_speakers(block)

    def _add_grain(self) -> None:
        if self._patience > 0:
            self._tail += self._grain_at(self._target - self._size // 2) * self._window
            self._patience -= self._step
        self._ready = np.concatenate([self._ready, self._tail[: self._step]])
        self._tail = np.concatenate([self._tail[self._step :], np.zeros_like(self._tail[: self._step])])

    def _grain_at(self, at: int) -> Block:
        low, high = max(at, 0), min(max(at + self._size, 0), len(self._recording.samples))
        taken = np.zeros((self._size, self._recording.channels), np.float32)
        if high > low:
            taken[low - at : high - at] = self._recording.samples[low:high]
        return taken

    def is_over(self, heard: int) -> bool:
        return self._patience <= 0 and self._given > self._sounding_until and heard >= self._sounding_until
