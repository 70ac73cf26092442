"""Keeps what is open, a moment after every change, so that a crash loses at most that moment."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject

from buccaphon.app.places import safe_folder
from buccaphon.app.session.document import Document
from buccaphon.app.session.opening import Opening
from buccaphon.app.timers import later
from buccaphon.errors import BuccaphonError
from buccaphon.project.file.safekeeping import Keeper, Kept, forget, left_behind
from buccaphon.project.file.store import open_project
from buccaphon.project.project import Project
from buccaphon.project.state import State
from buccaphon.texts import _

_PAUSE = 1000  # ms from a change until it is kept


class Safekeeping(QObject):
    def __init__(self, document: Document, opening: Opening) -> None:
        super().__init__(document)
        self._opening = opening
        self._document, self.keeper = document, Keeper(safe_folder())
        self._thread: threading.Thread | None = None
        self._told = False
        self.leave: Callable[[Callable[[], None]], None] = lambda then: (
            then()
        )  # asks about what is open, where somebody can
        self._due = later(self, _PAUSE, self._keep)
        document.changed.connect(self._on_change)
        document.opened.connect(self._on_change)

    def _on_change(self, _what: object = None) -> None:
        if not self._document.project.is_changed:
            self._due.stop()
            self._wait()
            self.keeper.let_go()
        elif not self._due.isActive():  # the first change of a series counts, so that no series is too long
            self._due.start()

    def keep_now(self) -> None:
        """Something went wrong: what is open is kept at once."""
        if self._document.project.is_changed:
            self._keep()

    def _keep(self) -> None:
        if self._thread is not None and self._thread.is_alive():
            self._due.start()
            return
        document = self._document
        work = (document.state, document.project.path, document.title)
        self._thread = threading.Thread(target=self._write, args=work, daemon=True)
        self._thread.start()

    def _write(self, state: State, original: Path | None, title: str) -> None:
        try:
            self.keeper.keep(state, original, title)
        except Exception as problem:  # whatever it is: that work is not safe must be known
            if not self._told:
                self._document.said.emit(_("Automatic backup is not working: {reason}", reason=problem))
            self._told = True
        else:
            self._told = False

    def _wait(self) -> None:
        if self._thread is not None:
            self._thread.join()

    def finish(self) -> None:
        """The window closes: all is saved or let go."""
        self._due.stop()
        self._wait()
        self.keeper.let_go()

    def offer(self) -> None:
        """Say when an earlier session ended without saving, and offer what was kept."""
        found = left_behind(self.keeper.folder)
        if found:
            kept = found[0]
            text = _("“{title}” had unsaved changes when Buccaphon last closed.", title=kept.title)
            self._document.offered.emit(text, _("Recover"), lambda: self.leave(lambda: self.open(kept)))

    def open(self, kept: Kept) -> None:
        """Recover; it counts as changed until it is saved."""
        try:
            state = open_project(kept.path)
        except BuccaphonError as problem:
            self._document.report(problem)
            return
        project = Project(state, kept.original)
        project.count_as_changed()
        self._opening.open_prepared(project)
        try:
            self.keeper.keep(state, kept.original, kept.title)
        except (BuccaphonError, OSError) as problem:
            self._document.said.emit(_("Automatic backup is not working: {reason}", reason=problem))
        else:
            forget(kept)  # only now: it is kept anew, for this run

    def left_behind(self) -> list[Kept]:
        """What earlier sessions left without saving, the newest first."""
        return left_behind(self.keeper.folder)
