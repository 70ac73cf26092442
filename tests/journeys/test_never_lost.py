"""A crash at any moment loses at most what was done in the last two seconds."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PyQt6.QtCore import QStandardPaths

from buccaphon.app.places import safe_folder
from buccaphon.project.file.safekeeping import left_behind
from buccaphon.project.file.store import open_project
from tests.helpers.waiting import save

WORKING = """
import sys
from PyQt6.QtCore import QStandardPaths, QTimer
from PyQt6.QtWidgets import QApplication
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.start import make_window
from buccaphon.demo.line import demo_project
app = QApplication([])
app.setOrganizationName("Buccaphon"); app.setApplicationName("Buccaphon tests")
window = make_window(SimulatedDevice())
window.session.opening.open_prepared(demo_project())
count = 0
def work():
    global count
    if window.document.score is not None:
        count += 1
        window.script.text.appendPlainText(f"({count})")
        print(count, flush=True)
timer = QTimer(interval=100); timer.timeout.connect(work); timer.start()
app.exec()
"""


@pytest.fixture
def home(tmp_path: Path, monkeypatch) -> Path:
    for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name))
    QStandardPaths.setTestModeEnabled(False)
    return tmp_path


@pytest.mark.parametrize("seconds", [2.6, 3.5])
def test_a_killed_process_loses_at_most_two_seconds(qapp, home, window, qtbot, seconds):
    working = subprocess.Popen([sys.executable, "-c", WORKING], stdout=subprocess.PIPE, text=True)
    lines: list[tuple[float, int]] = []
    while not lines or lines[-1][0] - lines[0][0] < seconds:
        count = int(working.stdout.readline())
        lines.append((time.monotonic(), count))
    os.kill(working.pid, signal.SIGKILL)
    killed = time.monotonic()
    working.wait()
    working.stdout.close()
    (kept,) = left_behind(safe_folder())
    script = open_project(kept.path).script
    safe = [count for at, count in lines if at < killed - 2.0]
    assert f"({safe[-1]})" in script
    with qtbot.waitSignal(window.document.offered) as offered:
        window.session.safekeeping.offer()
    assert "had unsaved changes" in offered.args[0]
    window.notice.button.click()
    assert window.document.state.script == script
    assert window.document.project.is_changed
    assert left_behind(safe_folder()) == []


def test_saving_and_closing_leave_nothing_behind(qapp, home, window, qtbot, tmp_path):
    window.script.text.setPlainText("Warm plums")
    qtbot.waitUntil(lambda: any(safe_folder().glob("*.buccaphon")), timeout=5000)
    assert save(window, qtbot, tmp_path / "market.buccaphon")
    assert list(safe_folder().glob("*.buccaphon")) == []
