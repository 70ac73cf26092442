"""The machine's sound output, through QtMultimedia."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QIODevice
from PyQt6.QtMultimedia import QAudio, QAudioFormat, QAudioSink, QMediaDevices

from buccaphon.app.sound.device import Source

_BUFFER_SECONDS = 0.08  # a shorter buffer would run dry when the window is busy for a moment


def output_names() -> list[str]:
    """The machine's outputs, the default first."""
    default = QMediaDevices.defaultAudioOutput().description()
    names = [device.description() for device in QMediaDevices.audioOutputs()]
    return sorted(names, key=lambda name: name != default)


class _Pull(QIODevice):
    """Hands the source's samples to the sink when it asks for them."""

    def __init__(self, source: Source, channels: int) -> None:
        super().__init__()
        self._source, self._channels = source, channels
        self.open(QIODevice.OpenModeFlag.ReadOnly)

    def readData(self, size: int) -> bytes:
        count = size // (4 * self._channels)
        return np.ascontiguousarray(self._source.read(count), np.float32).tobytes()

    def bytesAvailable(self) -> int:
        return 1 << 16


class QtDevice:
    """One output, by its name. It counts as lost when its sink does not open or stops by itself."""

    def __init__(self, name: str) -> None:
        self.name = name
        self._sink: QAudioSink | None = None
        self._pull: _Pull | None = None
        self._rate = 1
        self._volume = 1.0

    def start(self, rate: int, channels: int, source: Source) -> None:
        self.stop()
        form = QAudioFormat()
        form.setSampleRate(rate)
        form.setChannelCount(channels)
        form.setSampleFormat(QAudioFormat.SampleFormat.Float)
        self._rate = rate
        self._pull = _Pull(source, channels)
        outputs = QMediaDevices.audioOutputs()
        chosen = next((o for o in outputs if o.description() == self.name), QMediaDevices.defaultAudioOutput())
        self._sink = QAudioSink(chosen, form)
        self._sink.setBufferSize(int(rate * _BUFFER_SECONDS) * 4 * channels)
        self._sink.setVolume(self._volume)
        self._sink.start(self._pull)

    def stop(self) -> None:
        if self._sink is not None:
            self._sink.setVolume(0.0)
            self._sink.stop()
        self._sink, self._pull = None, None

    @property
    def is_lost(self) -> bool:
        if self._sink is None:
            return False
        stopped = self._sink.state() == QAudio.State.StoppedState
        return stopped and self._sink.error() not in (QAudio.Error.NoError, QAudio.Error.UnderrunError)

    def pump(self) -> None:
        """The sink pulls by itself."""

    def heard(self) -> int:
        if self._sink is None or self._sink.state() == QAudio.State.StoppedState:
            return 0
        waiting = self._sink.bufferSize() - self._sink.bytesFree()
        waiting_samples = waiting // (4 * max(self._sink.format().channelCount(), 1))
        return max(int(self._sink.processedUSecs() * self._rate / 1_000_000) - waiting_samples, 0)

    def set_volume(self, volume: float) -> None:
        self._volume = volume
        if self._sink is not None:
            self._sink.setVolume(volume)
