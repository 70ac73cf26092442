"""What all tests share: recordings, an aligned line, a real window offscreen, and no patience for stray Qt messages."""

from __future__ import annotations

import contextlib
import ctypes
import gc
import os
import shutil
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("BUCCAPHON_THREADS", "1")  # the other cores have other tests
# Two pools of memory for all threads, where glibc makes eight a core: half-empty pools are not what is looked for after each
# window. Read when a process starts, so of use to the workers, which start after this.
os.environ.setdefault("MALLOC_ARENA_MAX", "2")

import hypothesis
import numpy as np
import pytest
import soundfile
from PyQt6.QtCore import QCoreApplication, QEvent, QSettings

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.app.window.window import MainWindow
from buccaphon.audio.peaks import Peaks, build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.demo.line import demo_project, recording_path, script_text
from buccaphon.project.edits.script import TakeAlignment
from buccaphon.project.project import Project
from buccaphon.project.state import State
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words
from tests.helpers.waiting import idle

# Nobody's own folders are touched, and no other worker's.
_HOME = tempfile.mkdtemp(prefix="buccaphon-tests-")
for _folder in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"):
    os.environ[_folder] = str(Path(_HOME) / _folder)

DATA = Path(__file__).with_name("data")


hypothesis.settings.register_profile("suite", deadline=None)  # beside other work a machine may stand still for a moment
hypothesis.settings.load_profile("suite")


# Marked slow: windows that are worked in, whole lines aligned again and again, processes that are killed. One journey is not:
# the whole way from a recording to files.
SLOW = (
    "journeys", "batch", "alignment/test_pieces", "alignment/test_constraints", "alignment/test_pace", "alignment/test_acted",
    "alignment/test_loose", "motion/test_making_over", "app/finding", "cli/test_deliver", "formats/test_killed",
    "painting/artwork/test_hostile", "cli/test_cli", "formats/test_picture_files", "speech/test_dictionary",
)  # fmt: skip
QUICK = "test_from_an_empty_page_to_files_for_the_host"


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    for item in items:
        place = item.path.relative_to(DATA.parent).as_posix()
        if place.startswith(SLOW) and item.name != QUICK:
            item.add_marker(pytest.mark.slow)


def pytest_xdist_auto_num_workers() -> int:
    """One more than there are cores: some tests wait."""
    return len(os.sched_getaffinity(0)) + 1


@pytest.fixture(scope="session")
def call() -> Recording:
    """Marigold's stall call."""
    return read_recording(recording_path())


@pytest.fixture(scope="session")
def call_peaks(call: Recording) -> Peaks:
    return build_peaks(call)


@pytest.fixture(scope="session")
def call_score(call: Recording) -> Score:
    return align(AlignmentRequest(call, script_words(script_text())))


@pytest.fixture
def tone(tmp_path: Path) -> Callable[..., Path]:
    """Writes a sound file: `tone(name, seconds, rate, channels)`; a sine with a quiet start and end."""

    def write(name: str = "tone.wav", seconds: float = 1.0, rate: int = 16000, channels: int = 1) -> Path:
        t = np.arange(round(seconds * rate)) / rate
        wave = 0.5 * np.sin(2 * np.pi * 220 * t) * ((t > 0.25 * seconds) & (t < 0.75 * seconds))
        path = tmp_path / name
        soundfile.write(path, np.repeat(wave[:, None], channels, axis=1), rate)
        return path

    return write


def memory_in_use() -> int:
    """Megabytes that this process holds for itself (Linux: without libraries, which all workers share), once all that nobody
    uses has gone back to the system: closed windows are circles of objects, which Python lets go late, and what it lets go
    glibc keeps."""
    gc.collect()
    with contextlib.suppress(AttributeError):  # another C library
        ctypes.CDLL(None).malloc_trim(0)
    status = Path("/proc/self/status").read_text("ascii")
    return int(status.split("RssAnon:")[1].split()[0]) >> 10


class Clock:
    """Time that passes only when a test says so."""

    def __init__(self) -> None:
        self.now = 100.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def window(qapp, qtbot, tmp_path: Path, clock: Clock) -> Iterator[MainWindow]:
    """The real window with a simulated sound device on the test's own clock; closing it never asks."""
    QSettings.setDefaultFormat(QSettings.Format.IniFormat)
    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(tmp_path / "settings"))
    qapp.setOrganizationName("Buccaphon")
    qapp.setApplicationName("Buccaphon tests")
    made = make_window(SimulatedDevice(clock))
    made.resize(1280, 800)
    made.show()
    yield made
    made.document.project.settle()
    made.close()
    made.deleteLater()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # or windows of earlier tests are styled again
    left = [widget for widget in qapp.topLevelWidgets() if isinstance(widget, MainWindow)]
    assert not left, f"leaked: {left}"
    assert memory_in_use() < 500, "a test worker holds on to more than it should (MB)"


@pytest.fixture(scope="session")
def aligned_call(call_score: Score) -> State:
    """The demo's line unchanged once it is aligned."""
    return TakeAlignment(call_score, script_text()).apply(demo_project().state)


@pytest.fixture
def demo(window: MainWindow, qtbot, aligned_call: State) -> MainWindow:
    """The window with the demo's line, aligned."""
    window.session.opening.open_prepared(Project(aligned_call))
    idle(window, qtbot)
    window.galley.setFocus()
    return window


def pytest_collection_finish() -> None:
    gc.collect()
    gc.freeze()  # what was imported stays: collecting after each window need not look at it


def pytest_unconfigure() -> None:
    shutil.rmtree(_HOME, ignore_errors=True)
