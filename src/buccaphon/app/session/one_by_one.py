"""Work of one kind that is asked for several times at once, each begun when the one before has ended."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable

from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.timers import later


class OneByOne:
    def __init__(self, jobs: Jobs, *slots: Slot) -> None:
        """slots: while one of these is busy nothing more is begun."""
        self._jobs, self._slots = jobs, slots
        self._waiting: deque[Callable[[], None]] = deque()
        self._soon = later(jobs, 0, self._go_on)  # what follows from the last one begins first
        jobs.changed.connect(self._look)

    def add(self, begin: Callable[[], None]) -> None:
        """At once where nothing is under way."""
        if self._waiting or self._jobs.busy(*self._slots):
            self._waiting.append(begin)
        else:
            begin()

    def clear(self) -> None:
        self._waiting.clear()

    def _look(self) -> None:
        if self._waiting:
            self._soon.start()

    def _go_on(self) -> None:
        if self._waiting and not self._jobs.busy(*self._slots):
            self._waiting.popleft()()
            self._look()
