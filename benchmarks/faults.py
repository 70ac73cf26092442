"""Long runs of what must never break anything: random hands, bent project files, and kills in the middle of work."""

import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import traceback
from dataclasses import replace
from itertools import islice
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication
from tests.helpers.bent import bent
from tests.helpers.monkey import Monkey

from benchmarks.report import bar
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.demo.line import demo_project, recording_path, script_text
from buccaphon.errors import BuccaphonError
from buccaphon.mouths.laying import Painted
from buccaphon.project.derived import Derived
from buccaphon.project.edits.script import TakeAlignment
from buccaphon.project.file.safekeeping import left_behind
from buccaphon.project.file.store import open_project, save_project
from buccaphon.score.records import Note
from buccaphon.speech.script import script_words
from buccaphon.timing import Span

_SEEDS, _ACTS, _BATCH = (11, 12, 13, 14, 15), 4000, 50
_FILES = 3000
_KILLS = 60
_WORKING = """
import sys, time
from pathlib import Path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.project.edits.scene import SetScene
project, pace, save_every = Path(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3])
app = QApplication([])
app.setOrganizationName("Buccaphon"); app.setApplicationName("Buccaphon faults")
window = make_window(SimulatedDevice())
window.open(project)
count = 0
def work():
    global count
    if window.document.score is None:
        return
    count += 1
    window.document.apply(SetScene(start_frame=count))
    print(count, time.monotonic(), flush=True)
    if save_every and count % save_every == 0:
        window.session.saving.save(project)
timer = QTimer(interval=pace); timer.timeout.connect(work); timer.start()
app.exec()
"""


def run() -> None:
    with tempfile.TemporaryDirectory() as home:
        for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"):
            os.environ[name] = str(Path(home) / name)
        bar("faults.killed", len(killed(Path(home))), f"of {_KILLS}", 0)
        bar("faults.bent_files", len(bent_files(Path(home))), f"of {_FILES}", 0)
        bar("faults.random_hands", sum(len(hands(seed, Path(home))) for seed in _SEEDS), f"of {len(_SEEDS) * _ACTS}", 0)


def _tell(what: str, problem: str) -> str:
    print(f"# {what}: {problem}", flush=True)
    return problem


def hands(seed: int, folder: Path) -> list[str]:
    """What broke while random hands worked in the window; after each break they go on in a project of their own."""
    app = QApplication.instance() or QApplication([])
    app.setApplicationName("Buccaphon faults")
    window, faults, broken = make_window(SimulatedDevice()), list[str](), list[str]()
    window.resize(1280, 800)
    window.show()
    window.faults.install()
    window.faults.happened.connect(lambda _text, details: faults.append(details))
    monkey = Monkey(window, seed, folder)

    def settle() -> None:
        while window.session.jobs.busy():
            app.processEvents()
            time.sleep(0.002)

    monkey.open_a_line()
    settle()
    for batch in range(_ACTS // _BATCH):
        acts = [monkey.act() for _ in range(_BATCH)]
        monkey.let_go()
        if batch % 3 == 0:
            settle()
        try:
            found = [*faults, *monkey.broken(), *(monkey.broken_in_undo() if batch % 10 == 9 else ())]
        except Exception:
            found = [*faults, traceback.format_exc()]
        if found:
            broken += [_tell(f"seed {seed}, batch {batch}, {' '.join(acts[-8:])}", problem) for problem in found]
            faults.clear()
            monkey.open_a_line()
            settle()
        if not window.isVisible():
            window.show()
    window.document.project.settle()
    window.close()
    return broken


def bent_files(folder: Path) -> list[str]:
    """What went wrong with bent project files: each is refused in a sentence, or can be worked with and saved."""
    recording = read_recording(recording_path())
    peaks, path, broken = build_peaks(recording), folder / "bent.buccaphon", list[str]()
    for what, content in islice(bent(json.loads(_worked_on(folder).read_text()), 1), _FILES):
        path.write_bytes(content)
        try:
            state = open_project(path)
        except BuccaphonError:
            continue
        except Exception:
            broken.append(_tell(what, traceback.format_exc()))
            continue
        try:
            save_project(state, folder / "again.buccaphon")
            derived = Derived(recording, peaks)
            derived.bake(state)
            if open_project(folder / "again.buccaphon") != state:
                broken.append(_tell(what, "read again it is another project"))
        except Exception:
            broken.append(_tell(what, traceback.format_exc()))
    return broken


def _worked_on(folder: Path) -> Path:
    """A project file with some of everything in it."""
    score = align(AlignmentRequest(read_recording(recording_path()), script_words(script_text())))
    state = TakeAlignment(score, script_text()).apply(demo_project().state)
    assert state.take is not None
    painted, notes = (Painted(Span(1.0, 1.25), "Rest"),), (Note(Span(0.5, 0.9), "louder"),)
    take = replace(state.take, painted=painted, notes=notes, not_speech=(Span(0.0, 0.1),))
    save_project(state.with_take(take), folder / "whole.buccaphon")
    return folder / "whole.buccaphon"


def killed(folder: Path) -> list[str]:
    """What was lost that was older than two seconds when the application was killed, and what could not be read."""
    chance, whole, broken = random.Random(5), _worked_on(folder), list[str]()
    project, kept_in = folder / "market.buccaphon", folder / "XDG_DATA_HOME" / "Buccaphon" / "Buccaphon faults" / "kept"
    for number in range(_KILLS):
        shutil.copy(whole, project)
        shutil.rmtree(kept_in, ignore_errors=True)
        pace, save_every = chance.choice([30, 100, 300]), chance.choice([0, 0, 3, 7, 40])
        command = [sys.executable, "-c", _WORKING, str(project), str(pace), str(save_every)]
        working = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        assert working.stdout is not None
        first = working.stdout.readline()
        time.sleep(chance.uniform(0.1, 4.0))
        at = time.monotonic()
        os.kill(working.pid, signal.SIGKILL)
        lines = [line.split() for line in (first + working.stdout.read()).splitlines()]
        working.wait()
        safe = [int(line[0]) for line in lines if len(line) == 2 and float(line[1]) < at - 2.0]
        try:
            there = [
                open_project(path).start_frame for path in (project, *(kept.path for kept in left_behind(kept_in)))
            ]
        except BuccaphonError as odd:
            broken.append(_tell(f"kill {number}", str(odd)))
            continue
        if not first or (safe and max(there) < safe[-1]):
            broken.append(
                _tell(f"kill {number}", f"edit {safe[-1:] or 'none'} was older than two seconds, kept is {there}")
            )
    return broken
