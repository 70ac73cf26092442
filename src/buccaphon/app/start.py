"""Starting the application: fonts, theme, the window and what it opens on."""

from __future__ import annotations

import logging
import os
import signal
import sys
import threading
from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QCoreApplication, QEvent, QMessageLogContext, QTimer, QtMsgType, qInstallMessageHandler
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication

from buccaphon import log
from buccaphon.alignment.readiness import get_ready
from buccaphon.app.commands import words
from buccaphon.app.commands.desk import Step
from buccaphon.app.session.session import Session
from buccaphon.app.settings import SCALE, THEME
from buccaphon.app.sound.device import Device
from buccaphon.app.sound.outputs import choose_device
from buccaphon.app.style.dressing import dress
from buccaphon.app.timers import every
from buccaphon.app.window.window import MainWindow
from buccaphon.demo.line import NIGHT_CALL, STALL_CALL, demo_project, demo_scene
from buccaphon.painting.theme import shared, theme_named
from buccaphon.project.edits.script import SetScript

_DEMOS = {"demo": STALL_CALL, "spanish demo": NIGHT_CALL}
_log = logging.getLogger("buccaphon.app")
_SETTLE = 250  # ms after the work is done until a picture is taken


def make_window(device: Device | None = None) -> MainWindow:
    """A dressed window with nothing open. The application must exist."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme = shared(theme_named(THEME.read()))
    dress(app, theme)
    return MainWindow(Session(device or choose_device()), theme)


def run(what: str, paths: Sequence[Path]) -> int:
    """Open the window and stay until it closes. what: 'demo', 'spanish demo', 'demo scene', or 'open' for `paths` if there
    are some."""
    os.environ.setdefault("QT_LOGGING_RULES", "qt.multimedia.*=false")  # it reports every codec it does not find
    QCoreApplication.setOrganizationName("Buccaphon")
    QCoreApplication.setApplicationName("Buccaphon")
    os.environ.setdefault("QT_SCALE_FACTOR", str(SCALE.read()))
    app = QApplication.instance() or QApplication(sys.argv[:1])
    QGuiApplication.setDesktopFileName("buccaphon")
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    log.start_file(log.state_folder())
    qInstallMessageHandler(_log_qt)
    window = make_window()
    _log.info("Qt platform %s, sound on %s", QGuiApplication.platformName(), window.session.document.player.device.name)
    window.faults.install()
    window.show()
    threading.Thread(target=load_ahead, daemon=True).start()
    if what in _DEMOS:
        project = demo_project(_DEMOS[what])
        if script := os.environ.get("BUCCAPHON_SHOT_SCRIPT"):
            project.apply(SetScript(script))
        window.session.opening.open_prepared(project)
    elif what == "demo scene":
        window.session.opening.open_prepared(demo_scene())
    elif paths:
        window.open(*paths)
    window.session.safekeeping.offer()
    if shot := os.environ.get("BUCCAPHON_SHOT"):
        _photograph(window, Path(shot))
    code = app.exec()
    window.deleteLater()  # before the application is gone: Qt crashes now and then where a widget outlives it
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    return code


def _log_qt(kind: QtMsgType, _where: QMessageLogContext, text: str | None) -> None:
    """Qt's own messages go where ours go, and to standard error as before."""
    serious = kind in (QtMsgType.QtCriticalMsg, QtMsgType.QtFatalMsg)
    logging.getLogger("buccaphon.qt").log(logging.ERROR if serious else logging.WARNING, "%s", text)
    sys.stderr.write(f"{text}\n")


def load_ahead() -> None:
    """What the first alignment needs: the window would wait for it else."""
    get_ready()


def _photograph(window: MainWindow, target: Path) -> None:
    """Take a picture once the work is done, then leave. BUCCAPHON_SHOT_STEP, _AT, _SIZE, _WORD, _SCRIPT and _COMMANDS say of
    what."""
    window.show_step(Step[os.environ.get("BUCCAPHON_SHOT_STEP", "Script").upper()])
    width, height = os.environ.get("BUCCAPHON_SHOT_SIZE", "1280x800").split("x")
    window.resize(int(width), int(height))
    at = float(os.environ.get("BUCCAPHON_SHOT_AT", "1.3"))

    def ready() -> None:
        if window.session.jobs.busy():
            return
        timer.stop()
        window.document.player.seek(at)
        if word := os.environ.get("BUCCAPHON_SHOT_WORD"):
            words.pronounce(window.desk, int(word))
        for command in os.environ.get("BUCCAPHON_SHOT_COMMANDS", "").split():
            window.do(command)
            QApplication.processEvents()
        QTimer.singleShot(_SETTLE, finish)

    def finish() -> None:
        if window.session.jobs.busy():  # the commands began more
            QTimer.singleShot(_SETTLE, finish)
            return
        saved = window.grab().save(str(target))
        window.mirror.close_films()
        window.session.shut_down()
        QApplication.exit(0 if saved else 2)

    timer = every(window, 50, ready)
    timer.start()
