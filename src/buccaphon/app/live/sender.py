"""Sends a bundle a frame from a thread of its own, each slightly ahead of its time."""

from __future__ import annotations

import contextlib
import math
import socket
import threading
import time
from collections.abc import Callable

from buccaphon.formats.osc import Live, Message, bundles
from buccaphon.texts import _

LEAD = 0.010  # seconds that a bundle goes out before it counts
_JUMP = 0.060  # seconds by which the sound may differ from what was expected before it is another place
_FOLLOW = 0.08  # of a smaller difference is made up for with each look at the sound
_IDLE = 0.2  # seconds


class Sender(threading.Thread):
    """Told from the window's thread where the sound is; `finish` ends it. told: is called with a sentence when it cannot
    send, and with '' when it can again."""

    def __init__(self, address: tuple[str, int], told: Callable[[str], None]) -> None:
        super().__init__(name="live", daemon=True)
        self._address, self._told = address, told
        self._socket = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        self._wake = threading.Condition()
        self._live: Live | None = None
        self._plays = self._over = False
        self._anchor = (0.0, 0.0, 1.0)  # a moment of the clock, the place of the sound then, and how fast it goes
        self._next: int | None = None  # the frame that is sent next
        self._last = 0.0  # where the sound was when it was told last
        self._asked: list[list[Message]] = []
        self._failed = ""

    # --- from the window -----------------------------------------------------------------------------------------------

    def take(self, live: Live | None) -> None:
        """Another line, or the same one made over."""
        with self._wake:
            self._live = live
            self._wake.notify()

    def play(self, position: float, speed: float) -> None:
        with self._wake:
            live = self._live
            self._plays = True
            self._anchor, self._next = (time.perf_counter(), position, speed), None
            self._last = position
            if live is not None:
                first, last = live.start_frame, live.start_frame + len(live.mouths) - 1
                self._asked.append([Message(f"{live.prefix}/play", (first, last, live.rate))])
            self._wake.notify()

    def follow(self, position: float, speed: float) -> None:
        """Where the sound is now. Small differences are made up for little by little, for the sound's own clock is told in
        steps; when it waits, so does what is sent; when it goes back or far ahead, that is another place."""
        now = time.perf_counter()
        with self._wake:
            at, place, before = self._anchor
            off = position - (place + (now - at) * before)
            if position < self._last - 1e-3 or off > _JUMP or speed != before:
                self._next = None
            if self._next is None or abs(off) > _JUMP:
                self._anchor = (now, position, speed)
                self._wake.notify()
            else:
                self._anchor = (at, place + _FOLLOW * off, before)
            self._last = position

    def stop(self) -> None:
        with self._wake:
            if self._plays and self._live is not None:
                self._asked.append([Message(f"{self._live.prefix}/stop")])
            self._plays = False
            self._wake.notify()

    def show(self, position: float) -> None:
        """One frame, now: the playhead was put there."""
        with self._wake:
            live = self._live
            if live is not None and live.mouths:
                number = min(max(math.floor(position * live.rate + 1e-6), 0), len(live.mouths) - 1)
                self._asked.append(live.frame(number, number / live.rate))
                del self._asked[:-8]  # a hand that scrubs is quicker than anybody draws
            self._wake.notify()

    def finish(self) -> None:
        """End, at once."""
        with self._wake:
            self._over = True
            self._wake.notify()
        self.join(5)
        self._socket.close()

    # --- in its own thread ---------------------------------------------------------------------------------------------

    def run(self) -> None:
        while True:
            with self._wake:
                wait = self._wait()
                if wait > 0:
                    self._wake.wait(wait)
                if self._over:
                    break
                asked, self._asked = self._asked, []
                due = self._due()
            for messages in asked:
                self._send(0.0, messages)
            if due is not None:
                self._send(*due)
        with contextlib.suppress(OSError):  # what was asked for last, such as that it stopped
            for messages in self._asked:
                for data in bundles(0.0, messages):
                    self._socket.sendto(data, self._address)

    def _wait(self) -> float:
        if self._asked or self._over:
            return 0.0
        if not self._plays or self._live is None or not self._live.mouths:
            return _IDLE
        return min(max(self._shown_at(self._coming()) - LEAD - time.perf_counter(), 0.0), _IDLE)

    def _coming(self) -> int:
        """The frame that is to be sent next."""
        assert self._live is not None
        if self._next is None:
            at, place, speed = self._anchor
            here = place + (time.perf_counter() - at) * speed
            self._next = max(math.floor(here * self._live.rate + 1e-6), 0)
        return self._next

    def _shown_at(self, number: int) -> float:
        assert self._live is not None
        at, place, speed = self._anchor
        return at + (number / self._live.rate - place) / max(speed, 1e-6)

    def _due(self) -> tuple[float, list[Message]] | None:
        """The bundle whose time has come, with when it counts."""
        live = self._live
        if not self._plays or live is None:
            return None
        number = self._coming()
        if number >= len(live.mouths):
            return None
        shown, now = self._shown_at(number), time.perf_counter()
        if shown - LEAD > now + 5e-4:
            return None
        self._next = number + 1
        return time.time() + shown - now, live.frame(number, number / live.rate)

    def _send(self, seconds: float, messages: list[Message]) -> None:
        try:
            for data in bundles(seconds, messages):
                self._socket.sendto(data, self._address)
        except (OSError, ValueError) as problem:
            host, port = self._address
            said = _(
                "Nothing can be sent to {host}:{port} ({value})",
                host=host,
                port=port,
                value=getattr(problem, "strerror", None) or problem,
            )
        else:
            said = ""
        if said != self._failed:
            self._failed = said
            self._told(said)
