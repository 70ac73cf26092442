"""Playing, looping, stepping and scrubbing, with the playhead on the device's clock."""

from __future__ import annotations

from PyQt6.QtCore import QObject, Qt, pyqtSignal

from buccaphon.app.sound.device import Device
from buccaphon.app.sound.sources import Playback, ScrubGrains
from buccaphon.app.timers import every
from buccaphon.audio.recording import Recording
from buccaphon.timing import Span

SPEEDS = (0.25, 0.5, 0.75, 1.0)
PRE_ROLLS = (0.0, 0.25, 0.5, 1.0)  # seconds

_TICK = 12  # ms between two looks at the device's clock


class Player(QObject):
    """The transport. `moved` follows what is heard; `playing_changed` tells when it starts and stops; `device_lost` that
    the sound goes on without a device.

    loop: the stretch marked on the ruler. loops: whether playing goes round. speed: one of SPEEDS. pre_roll: seconds that
    are heard before the loop on every round.
    """

    moved = pyqtSignal(float)
    playing_changed = pyqtSignal(bool)
    device_lost = pyqtSignal(str)

    def __init__(self, device: Device, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.device = device
        self.recording: Recording | None = None
        self.loop: Span | None = None
        self.loops = False
        self.speed = 1.0
        self.pre_roll = 0.0
        self._volume, self._muted = 1.0, False
        self._limits = Span(0.0, 0.0)
        self._position = 0.0
        self._source: Playback | ScrubGrains | None = None
        self._carries_playhead = False
        self._timer = every(self, _TICK, self.tick)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)

    # --- what is loaded, and on what it is heard -------------------------------------------------------------------------

    @property
    def position(self) -> float:
        return self._position

    @property
    def playing(self) -> bool:
        return self._source is not None and self._carries_playhead

    @property
    def volume(self) -> float:
        return self._volume

    def load(self, recording: Recording | None) -> None:
        self.stop()
        self.recording, self.loop, self.loops = recording, None, False
        self._limits = Span(0.0, recording.duration if recording else 0.0)
        self.seek(0.0)

    def limit(self, used: Span, muted: bool) -> None:
        """Stay inside the used part of the recording; a muted take moves the playhead without a sound."""
        self._limits, self._muted = used, muted
        self._apply_volume()
        if not used.start <= self._position <= used.end:
            self.seek(self._position)

    def set_volume(self, volume: float) -> None:
        """0..1."""
        self._volume = min(max(volume, 0.0), 1.0)
        self._apply_volume()

    def set_device(self, device: Device) -> None:
        """Go on with another output."""
        self.stop()
        self.device = device
        self._apply_volume()

    def set_speed(self, speed: float) -> None:
        self.speed = speed
        if self.playing:
            self.play()

    def _apply_volume(self) -> None:
        self.device.set_volume(0.0 if self._muted else self._volume)

    # --- moving and playing ----------------------------------------------------------------------------------------------

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
        span = self._limits
        if self.loops and self.loop:
            span = Span(self._limits.clamp(self.loop.start - self.pre_roll), self._limits.clamp(self.loop.end))
        begin = self._position if span.start <= self._position < span.end - 0.01 else span.start
        self._start(Playback(self.recording, span, begin, self.loops, self.speed), carries_playhead=True)

    def toggle(self) -> None:
        if self.playing:
            self.stop()
        else:
            self.play()

    def stop(self) -> None:
        was_playing = self.playing
        if self._source is not None:  # else another player may be at the device
            self.device.stop()
        self._source = None
        self._timer.stop()
        if was_playing:
            self.playing_changed.emit(False)

    def hear(self, span: Span) -> None:
        """Play a stretch once; the playhead stays where it is."""
        if self.recording is not None and span.length > 0:
            self._start(Playback(self.recording, span, span.start, False), carries_playhead=False)

    def hear_other(self, recording: Recording) -> None:
        """Play something else once; the playhead stays where it is."""
        self._start(Playback(recording, Span(0.0, recording.duration), 0.0, False), False, recording)

    def scrub(self, seconds: float) -> None:
        """Put the playhead somewhere and hear the sound there; called again and again, it follows the hand."""
        if self.playing:
            self.stop()
        self.seek(seconds)
        if self.recording is None:
            return
        if isinstance(self._source, ScrubGrains):
            self._source.aim(self._position)
        else:
            self._start(ScrubGrains(self.recording, self._position), carries_playhead=False)

    def tick(self) -> None:
        """Let the device render and the playhead follow it."""
        source = self._source
        if source is None:
            return
        self.device.pump()
        if self.device.is_lost:
            self.stop()
            self.device_lost.emit(self.device.name)
            return
        heard = self.device.heard()
        if self._carries_playhead and isinstance(source, Playback):
            self._position = source.position(heard)
            self.moved.emit(self._position)
        if source.is_over(heard):
            self.stop()

    def _start(self, source: Playback | ScrubGrains, carries_playhead: bool, other: Recording | None = None) -> None:
        was_playing = self.playing
        self.device.stop()
        recording = other or self.recording
        assert recording is not None
        self._source, self._carries_playhead = source, carries_playhead
        self.device.start(recording.rate, recording.channels if recording.channels <= 2 else 1, source)
        self._timer.start()
        if was_playing != self.playing:
            self.playing_changed.emit(self.playing)
