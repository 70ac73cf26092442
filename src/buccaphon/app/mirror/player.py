"""Playing, looping, stepping and scrubbing, with the playhead on the device's clock."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QObject, Qt, QTimer, pyqtSignal

from buccaphon.app.mirror.device import Block, Device
from buccaphon.audio.recording import Recording
from buccaphon.timing import Span

_FADE = 0.003  # seconds; long enough that nothing clicks
_TICK = 12  # ms between two looks at the device's clock
_GRAIN = 0.07  # seconds of sound around the pointer while scrubbing


class Passage:
    """A stretch of a recording on its way to the device: once, or round and round; soft at both ends."""

    def __init__(self, recording: Recording, span: Span, begin: float, loops: bool) -> None:
        rate = recording.rate
        self._samples = recording.samples
        self._first = max(round(span.start * rate), 0)
        self._end = min(round(span.end * rate), len(recording.samples))
        self._begin = min(max(round(begin * rate), self._first), self._end)
        self._at = self._origin = self._begin
        self._loops = loops and self._end > self._first
        self._fade = max(min(int(_FADE * rate), (self._end - self._first) // 2), 1)
        self._rate = rate

    def read(self, count: int) -> Block:
        blocks = []
        while count > 0:
            if self._at >= self._end:
                if not self._loops:
                    break
                self._at = self._origin = self._first
            take = min(count, self._end - self._at)
            blocks.append(self._faded(self._at, take))
            self._at += take
            count -= take
        if not blocks:
            return np.zeros((0, self._samples.shape[1]), np.float32)
        return np.concatenate(blocks)

    def _faded(self, at: int, count: int) -> Block:
        place = np.arange(at, at + count)
        gain = np.clip(np.minimum(place - self._origin, self._end - 1 - place) / self._fade, 0.0, 1.0).astype(
            np.float32
        )
        return self._samples[at : at + count] * gain[:, None]

    def position(self, heard: int) -> float:
        """Where in the recording the sound is that was heard last, in seconds."""
        at = self._begin + heard
        if self._loops and at >= self._end:
            at = self._first + (at - self._first) % (self._end - self._first)
        return min(at, self._end) / self._rate

    def is_over(self, heard: int) -> bool:
        return not self._loops and self._begin + heard >= self._end


class Player(QObject):
    """The transport. `moved` follows what is heard; `playing_changed` tells when it starts and stops."""

    moved = pyqtSignal(float)
    playing_changed = pyqtSignal(bool)

    def __init__(self, device: Device, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.device = device
        self.recording: Recording | None = None
        self.loop: Span | None = None
        self.volume = 1.0
        self.loops = False
        self._limits = Span(0.0, 0.0)
        self._position = 0.0
        self._passage: Passage | None = None
        self._carries_playhead = False
        self._timer = QTimer(self, interval=_TICK, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self.tick)

    @property
    def position(self) -> float:
        return self._position

    @property
    def playing(self) -> bool:
        return self._passage is not None and self._carries_playhead

    def load(self, recording: Recording | None) -> None:
        self.stop()
        self.recording, self.loop, self.loops = recording, None, False
        self._limits = Span(0.0, recording.duration if recording else 0.0)
        self.seek(0.0)

    def limit(self, used: Span, muted: bool) -> None:
        """Stay inside the used part of the recording; a muted take moves the playhead without a sound."""
        self._limits = used
        self.device.set_volume(0.0 if muted else self.volume)
        if not used.start <= self._position <= used.end:
            self.seek(self._position)

    def seek(self, seconds: float) -> None:
        """Put the playhead somewhere; playing goes on from there."""
        self._position = self._limits.clamp(seconds)
        if self.playing:
            self.play()
        self.moved.emit(self._position)

    def play(self) -> None:
        """Play from the playhead to the end, or round the loop when looping is on."""
        if self.recording is None:
            return
        span = self.loop if self.loops and self.loop else self._limits
        begin = self._position if span.start <= self._position < span.end - 0.01 else span.start
        self._start(Passage(self.recording, span, begin, self.loops), carries_playhead=True)

    def toggle(self) -> None:
        if self.playing:
            self.stop()
        else:
            self.play()

    def stop(self) -> None:
        was_playing = self.playing
        self.device.stop()
        self._passage = None
        self._timer.stop()
        if was_playing:
            self.playing_changed.emit(False)

    def hear(self, span: Span) -> None:
        """Play a stretch once; the playhead stays where it is."""
        if self.recording is not None and span.length > 0:
            self._start(Passage(self.recording, span, span.start, False), carries_playhead=False)

    def scrub(self, seconds: float) -> None:
        """Put the playhead somewhere and hear a grain of sound around it."""
        if self.playing:
            self.stop()
        self.seek(seconds)
        if self.recording is not None:
            middle = self._position
            self.hear(Span(self._limits.clamp(middle - _GRAIN / 2), self._limits.clamp(middle + _GRAIN / 2)))

    def tick(self) -> None:
        """Let the device render and the playhead follow it."""
        passage = self._passage
        if passage is None:
            return
        self.device.pump()
        heard = self.device.heard()
        if self._carries_playhead:
            self._position = passage.position(heard)
            self.moved.emit(self._position)
        if passage.is_over(heard):
            self.stop()

    def _start(self, passage: Passage, carries_playhead: bool) -> None:
        was_playing = self.playing
        self.device.stop()
        recording = self.recording
        assert recording is not None
        self._passage, self._carries_playhead = passage, carries_playhead
        self.device.start(recording.rate, recording.channels, passage)
        self._timer.start()
        if was_playing != self.playing:
            self.playing_changed.emit(self.playing)
