"""A ten-minute project in the window: opening it, dragging a boundary, taking that back, and memory over many edits."""

import os
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
import soundfile
from PyQt6.QtWidgets import QApplication
from tests.helpers.qtest import QTest

from benchmarks.recording import resident
from benchmarks.report import bar
from benchmarks.window import dragging, settle
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.audio.reading import read_recording
from buccaphon.demo.line import recording_path, script_text
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.project import DEEPEST, Project
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.score.edits import Boundary, shifted
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words

_SECONDS, _EDITS = 600, 10_000


def run() -> None:
    app = QApplication.instance() or QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        path = ten_minutes(Path(folder))
        window, taken = opened(app, path)
        bar("project.open_ten_minutes", taken, "s", 1)
        settle(app, window)
        window.document.player.seek(300.0)
        window.galley.show_time(300.0)
        app.processEvents()
        number = window.document.score.word_at(302.0) or 0
        drag = dragging(app, window, number)
        bar("project.drag_median", 1000 * np.median(drag), "ms", 10)
        bar("project.drag_p95", 1000 * np.percentile(drag, 95), "ms", 16)
        undo = undoing(app, window, number)
        bar("project.undo_median", 1000 * np.median(undo), "ms", 10)
        bar("project.undo_p95", 1000 * np.percentile(undo, 95), "ms", 16)
        opening, *keys = finding(app, window)
        bar("project.find_open", 1000 * opening, "ms", 250)
        bar("project.find_key_slowest", 1000 * max(keys), "ms", 16)
        window.document.project.settle()
        window.close()
        bar("project.memory_growth_10000_edits", growth(path), "MB", 40)


def ten_minutes(folder: Path) -> Path:
    """The demo's line, said again and again, saved as a project."""
    recording = read_recording(recording_path())
    score = align(AlignmentRequest(recording, script_words(script_text())))
    count = round(_SECONDS / recording.duration)
    whole = count * recording.duration
    soundfile.write(folder / "long.wav", np.tile(recording.mono, count), recording.rate)
    words = [word for n in range(count) for word in shifted(score, n * recording.duration, whole).words]
    script = "\n".join([script_text()] * count)
    take = Take(folder / "long.wav", score=Score(tuple(words), whole), aligned_script=script)
    save_project(one_line(takes=(take,), script=script), folder / "long.buccaphon")
    return folder / "long.buccaphon"


def opened(app, path: Path):
    """A window on a project, and the seconds from opening it to its picture."""
    window = make_window(SimulatedDevice())
    window.resize(1280, 800)
    window.show()
    app.processEvents()
    start = time.perf_counter()
    window.open(path)
    while window.document.recording is None:
        app.processEvents()
        time.sleep(0.002)  # as a person would: not in the way of the work
    window.grab()
    return window, time.perf_counter() - start


def undoing(app, window, number: int) -> list[float]:
    """Seconds from taking an edit back to everything painted again."""
    session, taken = window.session, []
    for step in range(40):
        session.document.apply(
            MoveBoundary(Boundary(number, 0), session.document.score.words[number].start + 0.004 * (-1) ** step)
        )
    app.processEvents()
    for _ in range(40):
        start = time.perf_counter()
        session.document.undo()
        app.processEvents()
        taken.append(time.perf_counter() - start)
    return taken


def finding(app, window) -> list[float]:
    """Seconds from opening the finder, then from each key typed in it, to what it lists."""
    taken = []
    for letter in " plums":
        start = time.perf_counter()
        if letter == " ":
            window.do("find")
        else:
            QTest.keyClick(window.chooser.search, letter)
        app.processEvents()
        taken.append(time.perf_counter() - start)
    window.chooser.leave()
    return taken


def growth(path: Path) -> float:
    """Megabytes that edits keep in memory once the history is as deep as it gets."""
    project = Project(open_project(path))
    words = len(project.state.score.words)
    for step in range(_EDITS):
        if step == DEEPEST + 1000:
            before = resident()
        number = step % words
        at = project.state.score.words[number].start
        project.apply(MoveBoundary(Boundary(number, 0), at + 0.002 * (-1) ** (step // words)))
    return resident() - before
