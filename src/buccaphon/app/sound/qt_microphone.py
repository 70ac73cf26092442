"""The machine's microphone, through QtMultimedia."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QIODevice
from PyQt6.QtMultimedia import QAudioFormat, QAudioSource, QMediaDevices

from buccaphon.app.sound.device import Block
from buccaphon.app.sound.microphone import RATE


def has_input() -> bool:
    return bool(QMediaDevices.audioInputs())


class QtMicrophone:
    """The default input."""

    def __init__(self) -> None:
        self.name = QMediaDevices.defaultAudioInput().description()
        self._source: QAudioSource | None = None
        self._pipe: QIODevice | None = None

    def start(self) -> None:
        form = QAudioFormat()
        form.setSampleRate(RATE)
        form.setChannelCount(1)
        form.setSampleFormat(QAudioFormat.SampleFormat.Float)
        self._source = QAudioSource(QMediaDevices.defaultAudioInput(), form)
        self._pipe = self._source.start()

    def read(self) -> Block:
        data = self._pipe.readAll().data() if self._pipe is not None else b""
        return np.frombuffer(data[: len(data) // 4 * 4], np.float32).reshape(-1, 1).copy()

    def stop(self) -> None:
        if self._source is not None:
            self._source.stop()
        self._source, self._pipe = None, None
