"""Slow work off the window's thread: a function runs in a thread, its result is handed over on the main thread."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QThread, pyqtSignal

from buccaphon.errors import BuccaphonError, Cancelled

Progress = Callable[[float, str], bool]


class _Thread(QThread):
    progressed = pyqtSignal(float, str)
    succeeded = pyqtSignal(object)
    failed = pyqtSignal(object)

    def __init__(self, work: Callable[[Progress], Any], parent: QObject) -> None:
        super().__init__(parent)
        self._work = work
        self.stop = threading.Event()

    def run(self) -> None:
        try:
            self.succeeded.emit(self._work(self._report))
        except Cancelled:
            self.failed.emit(None)
        except BuccaphonError as problem:
            self.failed.emit(problem)
        except Exception as problem:  # a fault of ours must still reach the user and end the progress bar
            self.failed.emit(
                BuccaphonError("This did not work", f"{type(problem).__name__}: {problem}", "Please report it")
            )

    def _report(self, share: float, what: str) -> bool:
        self.progressed.emit(share, what)
        return not self.stop.is_set()


class Background(QObject):
    """At most one job at a time; starting another cancels the first. Signals arrive on the main thread."""

    started = pyqtSignal(str)
    progressed = pyqtSignal(float, str)
    finished = pyqtSignal()
    failed = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._thread: _Thread | None = None

    @property
    def busy(self) -> bool:
        return self._thread is not None

    def run(self, name: str, work: Callable[[Progress], Any], done: Callable[[Any], None]) -> None:
        """Run `work(progress)` in a thread and `done(result)` here when it succeeds and was not cancelled."""
        self.cancel()
        thread = self._thread = _Thread(work, self)
        thread.progressed.connect(self.progressed)
        thread.succeeded.connect(lambda result: self._end(thread, lambda: done(result)))
        thread.failed.connect(lambda problem: self._end(thread, lambda: problem and self.failed.emit(problem)))
        thread.finished.connect(thread.deleteLater)
        self.started.emit(name)
        thread.start()

    def cancel(self) -> None:
        """Ask the job to stop and forget it; its result is thrown away."""
        if self._thread is not None:
            thread, self._thread = self._thread, None
            thread.stop.set()
            self.finished.emit()

    def shut_down(self) -> None:
        """Cancel and wait, for closing the window: however long it takes, for a thread must not outlive its object."""
        for thread in self.findChildren(_Thread):
            thread.stop.set()
            thread.wait()
        self._thread = None

    def _end(self, thread: _Thread, then: Callable[[], Any]) -> None:
        if self._thread is not thread:
            return
        self._thread = None
        self.finished.emit()
        then()
