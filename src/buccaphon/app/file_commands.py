"""The window's commands for files: open, save, export, and leaving without losing anything."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QFileDialog, QMessageBox

from buccaphon.app.mirror.mirror import Mirror
from buccaphon.app.panels.export import ExportPanel
from buccaphon.app.safekeeping import Safekeeping
from buccaphon.app.session import Session
from buccaphon.audio.reading import SUFFIXES
from buccaphon.demo.line import NIGHT_CALL, demo_project
from buccaphon.formats.words import SUFFIXES as WORDING_SUFFIXES
from buccaphon.project.file.store import SUFFIX


class FileCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    mirror: Mirror
    export_panel: ExportPanel
    safekeeping: Safekeeping
    show_step: Callable[[int], None]

    def ask_and_open(self) -> None:
        sounds = " ".join(f"*{suffix}" for suffix in SUFFIXES)
        kinds = f"Recordings and projects ({sounds} *{SUFFIX});;All files (*)"
        name, _ = QFileDialog.getOpenFileName(self, "Open", str(self._folder()), kinds)
        if name:
            self.open(Path(name))

    def open(self, path: Path) -> None:
        """Open a project (asking about unsaved changes first) or bring in a recording."""
        if path.suffix.lower() != SUFFIX or self.may_leave():
            self.session.open(path)

    def open_demo(self) -> None:
        if self.may_leave():
            self.session.open_prepared(demo_project())

    def open_demo_line(self) -> None:
        if self.may_leave():
            self.session.open_prepared(demo_project(NIGHT_CALL))

    def save(self) -> bool:
        path = self.session.project.path
        return self.session.save(path) if path else self.save_as()

    def save_as(self) -> bool:
        begin = self._folder() / f"{self.session.title.replace(' ', '_')}{SUFFIX}"
        name, _ = QFileDialog.getSaveFileName(self, "Save the project", str(begin), f"Buccaphon project (*{SUFFIX})")
        if not name:
            return False
        path = Path(name)
        return self.session.save(path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX))

    def export(self) -> None:
        self.show_step(3)
        if self.session.recording is not None:
            self.export_panel.choose_folder()

    def may_leave(self) -> bool:
        """Whether the project may be closed: it is unchanged, or the user saved it or let it go."""
        if not self.session.project.is_changed:
            return True
        answer = self.ask_to_save()
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def ask_to_save(self) -> QMessageBox.StandardButton:
        choices = QMessageBox.StandardButton
        return QMessageBox.question(
            self,
            "Save changes?",
            f"Save the changes to “{self.session.title}”?",
            choices.Save | choices.Discard | choices.Cancel,
            choices.Save,
        )

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self.may_leave():
            event.ignore()
            return
        self.mirror.actor.close_film()
        self.safekeeping.finish()
        self.session.shut_down()
        event.accept()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(_is_openable(Path(url.toLocalFile())) for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls()]
        self.open(next(path for path in paths if _is_openable(path)))

    def _folder(self) -> Path:
        project = self.session.project
        known = project.path or (project.state.take.path if project.state.take else None)
        inside = Path(__file__).parents[1]
        return known.parent if known and inside not in known.parents else Path.home()


def _is_openable(path: Path) -> bool:
    return path.suffix.lower() in (SUFFIX, *SUFFIXES, *WORDING_SUFFIXES)
