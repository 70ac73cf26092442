"""Scenes: ten minutes in forty lines of three roles, opened, edited, gone through and heard; the docket of a season."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import msgspec
import numpy as np
import soundfile
from PyQt6.QtWidgets import QApplication

from benchmarks.mouths import repeated
from benchmarks.recording import resident
from benchmarks.report import bar, best
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.app.docket.model import DocketModel
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.app.window.window import MainWindow
from buccaphon.audio.mixing import Part, mixed
from buccaphon.audio.reading import read_recording
from buccaphon.batch.docket import Marks, read_docket
from buccaphon.batch.ledger import NAME
from buccaphon.batch.line import Outcome
from buccaphon.demo.line import recording_path, script_text
from buccaphon.painting.theme import PAPER
from buccaphon.project.file.store import save_project
from buccaphon.project.standing import Standing
from buccaphon.project.state import Line, Role, State
from buccaphon.project.take import Take
from buccaphon.speech.script import script_words
from buccaphon.timing import Span

_COUNT, _ROLES, _PATIENCE = 40, ("Maren", "Timo", "Ole"), 60.0
_SCENES, _MARKED = 5000, 500


def run() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = season(Path(name))
        before = resident()
        bar("scenes.docket_opens_5000", best(lambda: read_docket(folder), 3), "s", 1.0)
        bar("scenes.docket_memory", resident() - before, "MB", 200)
        scenes = read_docket(folder)
        model = DocketModel(PAPER)
        model.take(scenes)
        bar("scenes.docket_filters_5000", 1000 * best(lambda: model.filter("line 4"), 5), "ms", 50)
    _lines()


def _lines() -> None:
    """The window on forty lines of fifteen seconds."""
    _app = QApplication.instance() or QApplication([])
    window = make_window(SimulatedDevice())
    window.resize(1280, 800)
    window.show()
    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "scene.buccaphon"
        save_project(_forty(Path(name)), path)
        bar("scenes.file_of_40_lines", path.stat().st_size / 1e6, "MB", 2.0)
        begun = time.perf_counter()
        _open(window, path)
        bar("scenes.opens", time.perf_counter() - begun, "s", 1.0)
        _wait_for(lambda: len(window.session.lines.sounds) == _COUNT and not window.session.jobs.busy())
        spent = [1000 * _spent(lambda: _go(window, 1)) for _each in range(_COUNT - 1)]
        bar("scenes.next_line", float(np.median(spent)), "ms", 100)
        painted = [1000 * _painted(window, number) for number in range(_COUNT)]
        window.document.project.settle()
        alone = Path(name) / "alone.buccaphon"
        save_project(_alone(window.document.state), alone)
        _open(window, alone)
        _wait_for(lambda: not window.session.jobs.busy())
        as_one = [1000 * _painted(window, number) for number in range(_COUNT)]
        bar("scenes.edit_for_one_line", float(np.median(painted) / np.median(as_one)), "times", 1.33)
        bar("scenes.edit_median", float(np.median(painted)), "ms", 10)
        bar("scenes.edit_95", float(np.quantile(painted, 0.95)), "ms", 16)
    bar("scenes.plays_8", _share_of_playing(), "%", 5.0)
    window.document.project.settle()
    window.close()


def _forty(folder: Path) -> State:
    """Lines of fifteen seconds, in turn of three roles."""
    recording, text = read_recording(recording_path()), script_text()
    score = repeated(align(AlignmentRequest(recording, script_words(text))), 15.0)
    file = folder / "call.wav"
    soundfile.write(file, np.resize(np.asarray(recording.samples)[:, 0], 15 * recording.rate), recording.rate)
    lines = []
    for number in range(_COUNT):
        path = folder / f"call {number}.wav"
        path.write_bytes(file.read_bytes())
        take = Take(path, score=score, offset=15.0 * number)
        lines.append(Line((take,), name=f"line {number}", role=_ROLES[number % 3], key=number))
    return State(tuple(lines), roles=tuple(Role(name) for name in _ROLES))


def _alone(state: State) -> State:
    """The open line as a scene, with nothing painted yet."""
    line = replace(state.line, takes=tuple(replace(take, painted=()) for take in state.takes), role="")
    return State((line,), rate=state.rate)


def _open(window: MainWindow, path: Path) -> None:
    window.session.opening.open(path)
    _wait_for(lambda: window.document.recording is not None)
    window.grab()


def _go(window: MainWindow, by: int) -> None:
    window.session.lines.step(by)
    window.grab()


def _painted(window: MainWindow, number: int) -> float:
    """Seconds of painting a mouth, until the page shows it."""
    window.document.player.seek(1.0 + number * 0.2)
    QApplication.processEvents()
    begun = time.perf_counter()
    window.document.paint(("Round", "Open")[number % 2])
    window.galley.viewport().repaint()
    return time.perf_counter() - begun


def _wait_for(so: Callable[[], bool]) -> None:
    until = time.monotonic() + _PATIENCE
    while not so() and time.monotonic() < until:
        QApplication.processEvents()
        time.sleep(0.002)


def _spent(call: Callable[[], object]) -> float:
    begun = time.perf_counter()
    call()
    return time.perf_counter() - begun


def _share_of_playing() -> float:
    """Percent of the time that is heard which mixing eight recordings takes."""
    recording = read_recording(recording_path())
    parts = [Part(recording, Span(0.0, recording.duration), 0.1 * number) for number in range(8)]
    mix, heard, block = mixed(parts, 10.0, "scene"), 0.0, 1024
    begun = time.process_time()
    for first in range(0, len(mix.samples) - block, block):
        np.asarray(mix.samples[first : first + block])
        heard += block / mix.rate
    return 100 * (time.process_time() - begun) / heard


def season(folder: Path) -> Path:
    """A folder as a batch leaves it, with some scenes that were looked at."""
    outcomes = []
    for number in range(_SCENES):
        scene = f"line {number}.buccaphon"
        (folder / scene).touch()
        issues = tuple(f"{at}.20 s: Press is too short for the p of plums" for at in range(number % 7))
        key, title, doubts = f"{number:064}", f"line {number}", number % 3
        outcomes.append(Outcome(key, title, "call.wav", "", 34, doubts, issues, 11.4, (scene,), scene))
    (folder / NAME).write_bytes(b"\n".join(map(msgspec.json.encode, outcomes)) + b"\n")
    marks = Marks(folder, "odile")
    for number in range(0, _SCENES, _SCENES // _MARKED):
        marks.put(f"line {number}.buccaphon", Standing.LOOKED_AT, float(number))
    os.sync()
    return folder
