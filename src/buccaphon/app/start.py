"""Starting the application: fonts, theme, the window and what it opens on."""

from __future__ import annotations

import os
import signal
import sys
from pathlib import Path

from PyQt6.QtCore import QCoreApplication, QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from buccaphon.app.mirror.device import Device, choose_device
from buccaphon.app.session import Session
from buccaphon.app.theme import NIGHT, PAPER, dress, shared
from buccaphon.app.window import STEPS, MainWindow
from buccaphon.demo.line import NIGHT_CALL, STALL_CALL, demo_project
from buccaphon.project.edits.script import SetScript

_DEMOS = {"demo": STALL_CALL, "spanish demo": NIGHT_CALL}
_SETTLE = 250  # ms after the work is done until a picture is taken


def make_window(device: Device | None = None) -> MainWindow:
    """A dressed window with nothing open. The application must exist."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme = shared(NIGHT if QSettings().value("theme", "paper") == "night" else PAPER)
    dress(app, theme)
    return MainWindow(Session(device or choose_device()), theme)


def run(what: str, path: Path | None) -> int:
    """Open the window and stay until it closes. what: 'demo', 'spanish demo', or 'open' for `path` if there is one."""
    os.environ.setdefault("QT_LOGGING_RULES", "qt.multimedia.*=false")  # it reports every codec it does not find
    QCoreApplication.setOrganizationName("Buccaphon")
    QCoreApplication.setApplicationName("Buccaphon")
    os.environ.setdefault("QT_SCALE_FACTOR", str(QSettings().value("scale", "1.0")))
    app = QApplication.instance() or QApplication(sys.argv[:1])
    app.setDesktopFileName("buccaphon")
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    window = make_window()
    window.faults.install()
    window.show()
    if what in _DEMOS:
        project = demo_project(_DEMOS[what])
        if script := os.environ.get("BUCCAPHON_SHOT_SCRIPT"):
            project.apply(SetScript(script))
        window.session.open_prepared(project)
    elif path is not None:
        window.open(path)
    window.safekeeping.offer()
    if shot := os.environ.get("BUCCAPHON_SHOT"):
        _photograph(window, Path(shot))
    return app.exec()


def _photograph(window: MainWindow, target: Path) -> None:
    """Take a picture once the work is done, then leave. BUCCAPHON_SHOT_STEP, _AT, _SIZE, _WORD, _SCRIPT and _COMMANDS say of
    what."""
    window.show_step(STEPS.index(os.environ.get("BUCCAPHON_SHOT_STEP", "Script")))
    width, height = os.environ.get("BUCCAPHON_SHOT_SIZE", "1280x800").split("x")
    window.resize(int(width), int(height))
    at = float(os.environ.get("BUCCAPHON_SHOT_AT", "1.3"))

    def ready() -> None:
        if window.session.background.busy or window.session.comparing.busy:
            return
        timer.stop()
        window.session.player.seek(at)
        if word := os.environ.get("BUCCAPHON_SHOT_WORD"):
            window.pronounce_word(int(word))
        for command in os.environ.get("BUCCAPHON_SHOT_COMMANDS", "").split():
            window.actions_by_id[command].trigger()
        QTimer.singleShot(_SETTLE, finish)

    def finish() -> None:
        saved = window.grab().save(str(target))
        window.mirror.actor.close_film()
        window.session.shut_down()
        QApplication.exit(0 if saved else 2)

    timer = QTimer(window, interval=50)
    timer.timeout.connect(ready)
    timer.start()
