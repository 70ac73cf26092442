"""The window on the demo: how fast it starts, paints while playing, and follows a drag."""

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication
from tests.helpers.qtest import QTest

from benchmarks.report import bar
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.demo.line import demo_project

_STARTS = 3
_START_CODE = """
import time, sys
begin = time.perf_counter()
from PyQt6.QtWidgets import QApplication
app = QApplication([])
from buccaphon.app.start import make_window
from buccaphon.demo.line import demo_project
window = make_window()
window.show()
window.session.opening.open_prepared(demo_project())
app.processEvents()
window.grab()
print(time.perf_counter() - begin, flush=True)
window.session.shut_down()
"""

_ALIGN_CODE = """
import sys, time
from tests.helpers.qtest import QTest
from PyQt6.QtWidgets import QApplication
app = QApplication([])
import threading
from buccaphon.app.session.jobs import Slot
from buccaphon.app.start import load_ahead, make_window
from buccaphon.demo.line import demo_project
window = make_window()
window.show()
app.processEvents()
begin = time.perf_counter()
threading.Thread(target=load_ahead, daemon=True).start()
window.session.opening.open_prepared(demo_project())
while window.document.score is None:
    QTest.qWait(5)
print(time.perf_counter() - begin, flush=True)
while window.session.jobs.busy():
    QTest.qWait(5)
begin = time.perf_counter()
window.session.aligning.align()
while window.session.jobs.busy(Slot.TAKE):
    QTest.qWait(5)
print(time.perf_counter() - begin, window.document.recording.duration, flush=True)
window.session.shut_down()
"""


def run() -> None:
    bar("window.start_warm", min(warm_starts()), "s", 1.2)
    first, again = alignments()
    bar("window.first_alignment_of_10_s", first, "s", 1.5)
    bar("window.next_alignment_of_10_s", again, "s", 0.6)
    app = QApplication.instance() or QApplication([])
    now = [0.0]
    window = make_window(SimulatedDevice(lambda: now[0]))
    window.resize(1280, 800)
    window.show()
    window.session.opening.open_prepared(demo_project())
    while window.document.score is None:
        app.processEvents()
    with timed(GalleyView, "paintEvent") as paints:
        whole = playing(app, window, now)
    bar("window.paint_playing_p95", 1000 * np.percentile(paints, 95), "ms", 4)
    bar("window.frame_playing_p95", 1000 * np.percentile(whole, 95), "ms", 8)
    settle(app, window)
    drag = dragging(app, window)
    bar("window.drag_median", 1000 * np.median(drag), "ms", 10)
    bar("window.drag_p95", 1000 * np.percentile(drag, 95), "ms", 16)
    window.document.project.settle()
    window.close()


def warm_starts() -> list[float]:
    """Seconds that starting takes."""
    return [float(said) for said in warm(_START_CODE)]


def alignments() -> tuple[float, float]:
    """Seconds that aligning ten seconds takes in a window that has just opened, which has all of it to load, and again."""
    found = []
    for said in warm(_ALIGN_CODE):
        first, again, duration = map(float, said.split())
        found.append((10 * first / duration, 10 * again / duration))
    firsts, agains = zip(*found, strict=True)
    return min(firsts), min(agains)


def warm(code: str) -> list[str]:
    """What a program prints in some runs, after a first one that is not counted: it compiles what the others load."""
    with tempfile.TemporaryDirectory() as compiled:
        around = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
        around["PYTHONPYCACHEPREFIX"] = compiled
        return [
            subprocess.check_output([sys.executable, "-c", code], env=around, text=True) for _ in range(1 + _STARTS)
        ][1:]


@contextmanager
def timed(owner: type, name: str) -> Iterator[list[float]]:
    """Seconds that each call of a method takes meanwhile."""
    plain, taken = getattr(owner, name), []

    def stopped(*arguments):
        start = time.perf_counter()
        result = plain(*arguments)
        taken.append(time.perf_counter() - start)
        return result

    setattr(owner, name, stopped)
    yield taken
    setattr(owner, name, plain)


def playing(app, window, now: list[float]) -> list[float]:
    """Seconds that each sixtieth of playing takes, from the device's clock to the painted galley, mirror and tiles."""
    player = window.document.player
    player.play()
    taken = []
    for _ in range(400):
        now[0] += 1 / 60
        start = time.perf_counter()
        player.tick()
        app.processEvents()
        taken.append(time.perf_counter() - start)
    player.stop()
    return taken


def settle(app, window) -> None:
    """Until nothing is under way, nor begun by what ended last."""
    quiet_since = time.perf_counter()
    while time.perf_counter() - quiet_since < 0.05:
        app.processEvents()
        time.sleep(0.005)
        if window.session.jobs.busy():
            quiet_since = time.perf_counter()


def dragging(app, window, number: int = 2) -> list[float]:
    """Seconds from a mouse move that drags a word's start to everything painted again. With Ctrl, so that nothing snaps and
    every move is an edit."""
    view, left = window.galley.viewport(), Qt.MouseButton.LeftButton
    at = window.galley.point_at(window.document.score.words[number].start, Lane.WORDS)
    QTest.mousePress(view, left, pos=at)
    taken = []
    for step in range(60):
        before, where = window.document.score, QPointF(at + QPoint(step % 13 - 6, 0))
        held = Qt.KeyboardModifier.ControlModifier
        move = QMouseEvent(QEvent.Type.MouseMove, where, view.mapToGlobal(where), left, left, held)
        start = time.perf_counter()
        app.sendEvent(view, move)
        app.processEvents()
        if window.document.score is not before:
            taken.append(time.perf_counter() - start)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at)
    return taken
