"""Slow work off the window's thread: functions run in threads, their results are handed over on the main thread."""

from __future__ import annotations

import logging
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from enum import Enum
from typing import Any

from PyQt6.QtCore import QObject, QThread, pyqtSignal

from buccaphon.app.timers import later
from buccaphon.errors import BuccaphonError, Cancelled
from buccaphon.progress import Progress

_log = logging.getLogger("buccaphon.app.session")
_HANDS_REST = 400  # milliseconds after the last change in which the next one is likely
_LOOKS_UP = 0.05  # seconds after which work that stands still sees whether it was cancelled


class Slot(Enum):
    """Kinds of work. Of each kind there is one job at a time, starting another cancels it; kinds leave each other alone."""

    TAKE = "reading a recording, and aligning it"
    MEASURE = "measuring a recording"
    LISTEN = "hearing where somebody speaks"
    STEER = "measuring a part of the sound"
    COMPARE = "comparing script and sound, listening ahead"
    WEIGH = "weighing ways to say a word"
    EXPORT = "writing files for a host"
    SAVE = "saving the project"
    SHEET = "reading an exposure sheet"
    KIT = "reading a character's files"
    AHEAD = "reading and aligning the other lines of the scene"
    COMPANY = "reading the characters of the other roles"
    DOCKET = "changing and exporting scenes of the docket"
    DOCKET_AHEAD = "reading the scene that will be next"
    REFERENCE = "reading a reference picture"


@dataclass(eq=False)
class Job:
    """name: what is being done. shown: whether people are told. share: 0..1 done. what: which part of it is under way."""

    slot: Slot
    name: str
    shown: bool
    thread: _Thread = field(repr=False)
    share: float = 0.0
    what: str = ""
    began: float = field(default_factory=time.monotonic)


class _Thread(QThread):
    progressed = pyqtSignal(float, str)
    succeeded = pyqtSignal(object)
    failed = pyqtSignal(object)

    def __init__(self, work: Callable[[Progress], Any], go: threading.Event, parent: QObject) -> None:
        """go: while it is not set the work stands still, wherever it next tells how far it is."""
        super().__init__(parent)
        self._work, self._go = work, go
        self.stop = threading.Event()

    def run(self) -> None:
        try:
            self.succeeded.emit(self._work(self._report))
        except BaseException as problem:  # whatever it is must reach the main thread and end the job
            self.failed.emit(problem)

    def _report(self, share: float, what: str) -> bool:
        self.progressed.emit(share, what)
        while not self.stop.is_set() and not self._go.wait(_LOOKS_UP):
            pass
        return not self.stop.is_set()


class Jobs(QObject):
    """changed: a job began or ended. progressed: one is further than it was. failed: one ended for a reason that the user is
    to be told."""

    changed = pyqtSignal()
    progressed = pyqtSignal()
    failed = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._running: dict[Slot, Job] = {}
        self._always, self._hands_rest = threading.Event(), threading.Event()
        self._always.set()
        self._hands_rest.set()
        self._soon = later(self, _HANDS_REST, self._hands_rest.set)

    def make_way(self) -> None:
        """Hands are at work: what nobody waits for stands still until they rest. Beside it, even on a processor of its own,
        an edit takes up to twice as long."""
        self._hands_rest.clear()
        self._soon.start()

    def busy(self, *slots: Slot) -> bool:
        """Whether work of one of these kinds is under way, or of any."""
        return any(slot in self._running for slot in slots or Slot)

    @property
    def shown(self) -> list[Job]:
        """Those that people are told of, the oldest first."""
        return [job for job in self._running.values() if job.shown]

    def start(
        self,
        slot: Slot,
        name: str,
        work: Callable[[Progress], Any],
        done: Callable[[Any], None],
        *,
        shown: bool = True,
        awaited: bool = True,
        failed: Callable[[str], None] | None = None,
    ) -> None:
        """Run `work(progress)` in a thread and `done(result)` here when it succeeds and was not cancelled; `failed` with a
        sentence when it could not be done, for who tells of that in another way. awaited: somebody waits for it; what nobody
        waits for makes way for hands at work."""
        self.cancel(slot)
        thread = _Thread(work, self._always if awaited else self._hands_rest, self)
        job = self._running[slot] = Job(slot, name, shown, thread)
        thread.progressed.connect(lambda share, what: self._go_on(job, share, what))
        thread.succeeded.connect(lambda result: self._end(job, lambda: done(result)))
        thread.failed.connect(lambda problem: self._end(job, lambda: self._tell(problem, failed)))
        thread.finished.connect(thread.deleteLater)
        self.changed.emit()
        _log.info("%s begins", slot.name)
        thread.start()

    def cancel(self, slot: Slot) -> None:
        """Ask a job to stop and forget it; its result is thrown away."""
        job = self._running.pop(slot, None)
        if job is not None:
            job.thread.stop.set()
            _log.info("%s cancelled", slot.name)
            self.changed.emit()

    def cancel_shown(self) -> None:
        """All that people are told of, but saving: what was begun of that is carried through."""
        for job in self.shown:
            if job.slot is not Slot.SAVE:
                self.cancel(job.slot)

    def shut_down(self) -> None:
        """Cancel and wait, for closing the window: however long it takes, for a thread must not outlive its object."""
        for thread in self.findChildren(_Thread):
            thread.stop.set()
            thread.wait()
        self._running.clear()

    def _go_on(self, job: Job, share: float, what: str) -> None:
        if self._running.get(job.slot) is job:
            job.share, job.what = share, what
            self.progressed.emit()

    def _end(self, job: Job, then: Callable[[], Any]) -> None:
        if self._running.get(job.slot) is not job:
            return
        del self._running[job.slot]
        _log.info("%s ended after %.2f s", job.slot.name, time.monotonic() - job.began)
        self.changed.emit()
        then()

    def _tell(self, problem: BaseException, failed: Callable[[str], None] | None) -> None:
        if isinstance(problem, BuccaphonError) and failed is not None:
            failed(str(problem))
        elif isinstance(problem, BuccaphonError):
            _log.warning("failed: %s", problem)
            self.failed.emit(problem)
        elif not isinstance(problem, Cancelled):  # a fault of ours, told where all of them are
            sys.excepthook(type(problem), problem, problem.__traceback__)
