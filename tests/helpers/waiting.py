"""Waiting for the window's slow work, on its signals."""

from pathlib import Path

from buccaphon.app.session.jobs import Slot
from buccaphon.app.window.window import MainWindow
from buccaphon.demo.line import STALL_CALL, Line, demo_project

PATIENCE = 60_000  # ms


def idle(window: MainWindow, qtbot, *slots: Slot) -> None:
    """Until no work of these kinds is under way, or of any."""
    qtbot.waitUntil(lambda: not window.session.jobs.busy(*slots), timeout=PATIENCE)


def aligned(window: MainWindow, qtbot) -> None:
    """Until the words have times, and nothing that leads there goes on."""
    qtbot.waitUntil(
        lambda: window.document.score is not None and not window.session.jobs.busy(Slot.TAKE), timeout=PATIENCE
    )


def heard(window: MainWindow, qtbot) -> None:
    """Until the sound of the shown take is there."""
    qtbot.waitUntil(lambda: window.document.recording is not None, timeout=PATIENCE)


def open_demo(window: MainWindow, qtbot, line: Line = STALL_CALL) -> None:
    """One of the demo's lines, aligned."""
    window.session.opening.open_prepared(demo_project(line))
    aligned(window, qtbot)


def save(window: MainWindow, qtbot, path: Path) -> bool:
    """Whether the project was saved."""
    window.session.saving.save(path)
    idle(window, qtbot, Slot.SAVE)
    return window.document.project.path == path and not window.document.project.is_changed
