"""A take brought in instead of another: aligned where the other is, and given all that was made by hand on that; and going
between two."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject

from buccaphon.app.session.document import Document
from buccaphon.app.session.takes import Takes
from buccaphon.project.carrying import time_map
from buccaphon.project.edits.takes import CarryOver, ShowTake
from buccaphon.project.project import Project
from buccaphon.texts import _, ngettext


class Replacing(QObject):
    """Waits until the new take is heard, and aligned if the other one is, then brings everything over; each of the two is a
    step that can be undone."""

    def __init__(self, document: Document, takes: Takes) -> None:
        super().__init__(document)
        self._document, self._takes = document, takes
        self._waits: tuple[Project, int, Path] | None = None
        self._before: tuple[Project, int] | None = None
        self._shown = 0
        document.opened.connect(self._begin_anew)
        document.changed.connect(self._look)
        document.sound_ready.connect(self._look)

    def bring_in(self, path: Path) -> None:
        """Bring a recording in instead of the shown take; that stays in the project, to go back to."""
        document = self._document
        if document.state.take is not None:
            self._waits = document.project, document.state.shown, path
        self._takes.bring_in(path)

    @property
    def other(self) -> int | None:
        """The take that was shown before, or any other one."""
        takes, shown = self._document.state.takes, self._document.state.shown
        if self._before is not None and self._before[0] is self._document.project and self._before[1] < len(takes):
            return self._before[1] if self._before[1] != shown else None
        return next((number for number in range(len(takes)) if number != shown), None)

    def go_between(self) -> None:
        """Show the take that was shown before, at the same place of the line."""
        document, number = self._document, self.other
        if number is None:
            return
        here, there = document.score, document.state.takes[number].score
        seconds = document.player.position
        if here is not None and there is not None:
            seconds = time_map(here, there)(seconds)
        document.apply(ShowTake(number, gesture="go between takes"))
        document.player.seek(seconds)
        if document.state.take is not None:
            document.said.emit(_("This is “{title}”.", title=document.state.take.title))

    def _begin_anew(self) -> None:
        if self._before is not None and self._before[0] is not self._document.project:
            self._before = None
        self._shown = self._document.state.shown

    def _look(self, _what: object = None) -> None:
        document, state = self._document, self._document.state
        if state.shown != self._shown:
            self._before, self._shown = (document.project, self._shown), state.shown
        if self._waits is None:
            return
        project, number, path = self._waits
        if project is not document.project or number >= len(state.takes):
            self._waits = None
            return
        take, known, recording = state.take, state.takes[number], document.recording
        if take is None or take.path != path or recording is None or (take.score is None) != (known.score is None):
            return
        self._waits = None
        document.apply(CarryOver(number, recording.duration if take.score is None else None))
        left = len(document.state.take.unplaced) if document.state.take is not None else 0
        told = [_("Your corrections and settings were carried over.")]
        limits = known.loudness_settings
        if limits.floor is not None or limits.ceiling is not None:
            told.append(_("Floor and ceiling of loudness are automatic again."))
        if known.trim_in or known.trim_out is not None:
            told.append(_("All of the new recording is used."))
        if left:
            told.append(
                ngettext(
                    "{count} could not be placed; it is listed in Take.",
                    "{count} could not be placed; they are listed in Take.",
                    left,
                )
            )
        document.said.emit(" ".join(told))
