"""Recording a scratch take: a count-in, a level, a limit, and a WAV file at the end."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

import numpy as np
import soundfile
from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.sound.device import Block
from buccaphon.app.sound.microphone import RATE, Microphone
from buccaphon.app.timers import every

COUNT_IN = 3  # beats of a second
LIMIT = 180.0  # seconds
_TICK = 40  # ms


class Recorder(QObject):
    """counted: beats left before it records. heard: level 0..1 and seconds so far. finished: the file, None if nothing
    was kept."""

    counted = pyqtSignal(int)
    heard = pyqtSignal(float, float)
    finished = pyqtSignal(object)

    def __init__(self, microphone: Microphone, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.microphone = microphone
        self._folder = Path()
        self._blocks: list[Block] = []
        self._counting = 0
        self._beat = every(self, 1000, self.beat)
        self._timer = every(self, _TICK, self.tick)

    @property
    def busy(self) -> bool:
        return self._beat.isActive() or self._timer.isActive()

    @property
    def seconds(self) -> float:
        return sum(map(len, self._blocks)) / RATE

    def begin(self, folder: Path) -> None:
        """Count in, then record into a new file in that folder."""
        self._folder, self._blocks, self._counting = folder, [], COUNT_IN
        self.counted.emit(self._counting)
        self._beat.start()

    def beat(self) -> None:
        self._counting -= 1
        self.counted.emit(self._counting)
        if self._counting <= 0:
            self._beat.stop()
            self.microphone.start()
            self._timer.start()

    def tick(self) -> None:
        """Take in what the microphone has."""
        level = self._take_in()
        self.heard.emit(level, self.seconds)
        if self.seconds >= LIMIT:
            self.finish()

    def finish(self) -> None:
        """Stop, and keep what was recorded."""
        if not self.busy:
            return
        if self._timer.isActive():
            self._take_in()
        self._beat.stop()
        self._timer.stop()
        self.microphone.stop()
        self.finished.emit(self._kept() if self._blocks else None)

    def _take_in(self) -> float:
        """Keep what came in; its peak."""
        block = self.microphone.read()
        if len(block):
            self._blocks.append(block)
        return float(np.abs(block).max(initial=0.0))

    def _kept(self) -> Path:
        self._folder.mkdir(parents=True, exist_ok=True)
        stem = f"scratch {datetime.now():%Y-%m-%d %H.%M.%S}"
        path = self._folder / f"{stem}.wav"
        number = 2
        while path.exists():
            path, number = self._folder / f"{stem} {number}.wav", number + 1
        samples = np.concatenate(self._blocks)[: round(LIMIT * RATE)]
        soundfile.write(path, samples, RATE, subtype="PCM_24")
        return path
