"""Exporting: the files of the project's export list, written in the background, once or again whenever it is saved."""

from __future__ import annotations

import os
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.pictures.studio import Studio
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.errors import BuccaphonError, ListError
from buccaphon.formats.delivering import Delivered, Wanted, deliver_all, in_the_way, wanted_of
from buccaphon.formats.format import Format, Needs
from buccaphon.formats.listing import Entry, ExportList, stem
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import names_of
from buccaphon.progress import Progress
from buccaphon.project.delivering import deliver, facts
from buccaphon.project.edits.exports import SetExports


class Exporting(QObject):
    """told: how it stands, in words. asked: files are there already; `replace` writes over them. written: the files that are
    there now, as far as this window wrote them last."""

    told = pyqtSignal(str)
    asked = pyqtSignal(str)

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs
        self.studio = Studio(self)
        self.written: list[Path] = []
        self._under_way = False
        jobs.changed.connect(self._see_it_stopped)
        document.opened.connect(self.written.clear)

    # --- the list ------------------------------------------------------------------------------------------------------

    @property
    def exports(self) -> ExportList:
        return self._document.state.exports

    def put(self, exports: ExportList, name: str, gesture: str = "") -> bool:
        """Another list, as one step to undo. Whether it can be."""
        return exports == self.exports or self._document.attempt(SetExports(exports, name=name, gesture=gesture))

    def add(self, form: Format) -> None:
        self.put(replace(self.exports, entries=(*self.exports.entries, Entry(form.id))), f"Export {form.name}, too")

    def change(self, row: int, entry: Entry, name: str, gesture: str = "") -> bool:
        entries = self.exports.entries
        return self.put(replace(self.exports, entries=(*entries[:row], entry, *entries[row + 1 :])), name, gesture)

    def into(self, folder: Path) -> None:
        """Where all of it goes; below the project's folder it is kept as that, so that both can move together."""
        home = self._home
        text = str(folder)
        if home is not None and folder.resolve().is_relative_to(home.resolve()):
            text = os.path.relpath(folder.resolve(), home.resolve())
        self.put(replace(self.exports, folder=text), "Choose the folder of the export")

    @property
    def _home(self) -> Path | None:
        path = self._document.project.path
        return path.parent if path is not None else None

    @property
    def folder(self) -> Path | None:
        """Where all of it goes; None until that was said."""
        text = self.exports.folder
        if not text:
            return None
        if Path(text).is_absolute():
            return Path(text)
        return self._home / text if self._home is not None else None

    def can(self, form: Format) -> bool:
        """Whether there is something to write in a format now."""
        ready = self._document.recording is not None
        return ready and (Needs.WORDS not in form.needs or self._document.score is not None)

    def shown_name(self, entry: Entry) -> str:
        """What an entry's file will be called, with its folder; why it can have no name, in a sentence."""
        try:
            name = stem(entry.name, facts(self._document.state, self._document.title))
        except ListError as problem:
            return str(problem)
        return f"{entry.folder + '/' if entry.folder else ''}{name}{format_named(entry.format).ending}"

    # --- writing -------------------------------------------------------------------------------------------------------

    def export(self) -> None:
        """Write what is on in the list; asks first when some of it is there already."""
        wanted = self._wanted()
        if wanted is None:
            return
        there = in_the_way(wanted)
        if there:
            self.asked.emit(f"Already there: {names_of(there)}")
        else:
            self._write(wanted)

    def replace(self) -> None:
        """Write it, over what is there."""
        wanted = self._wanted()
        if wanted is not None:
            self._write(wanted)

    def keep(self) -> None:
        """Leave what is there as it is."""
        self.told.emit("Nothing was written.")

    def again(self) -> None:
        """The project was saved: write all of it again, if that is wanted."""
        if self.exports.again and self.folder is not None and self._document.recording is not None:
            self.replace()

    def _wanted(self) -> list[Wanted] | None:
        """What is to be written; None when there is nothing, after saying why."""
        if self._document.derived is None or self.folder is None:
            return None
        try:
            known = facts(self._document.state, self._document.title)
            wanted = wanted_of(replace(self.exports, folder=""), known, self.folder)
        except BuccaphonError as problem:
            self.told.emit(str(problem))
            return None
        wanted = [each for each in wanted if self.can(each.form)]
        if not wanted:
            self.told.emit("Nothing is on in the list." if self.exports.entries else "The list is empty.")
            return None
        return wanted

    def _write(self, wanted: list[Wanted]) -> None:
        document, studio = self._document, self.studio
        derived = document.derived
        assert derived is not None
        delivery, peaks = (
            deliver(document.state, derived, document.title),
            derived.peaks,
        )  # what is shown is what is written

        def work(progress: Progress) -> Delivered:
            return deliver_all(delivery, wanted, progress, lambda each: studio.pictures(each, peaks))

        def done(result: Delivered) -> None:
            self._under_way = False
            self.written = [each.path for each in result.written]
            for problem in result.problems:
                document.report(problem)
            self.told.emit(_said(result, wanted[0].place.parent))

        self._under_way = True
        self.told.emit("Writing …")
        self._jobs.start(Slot.EXPORT, "Exporting", work, done)

    def _see_it_stopped(self) -> None:
        if self._under_way and not self._jobs.busy(Slot.EXPORT):
            self._under_way = False
            self.told.emit("Stopped. What was written before that is there.")

    def shut_down(self) -> None:
        """Nobody paints any more."""
        self.studio.close()


def _said(result: Delivered, folder: Path) -> str:
    parts = []
    if result.new:
        parts.append(f"Written into {folder}: {names_of(result.new)}.")
    if result.unchanged:
        count = len(result.unchanged)
        parts.append(f"{count} {'file is' if count == 1 else 'files are'} as before.")
    if result.problems:
        count = len(result.problems)
        parts.append(f"{count} of the list could not be written: {result.problems[0]}")
    return " ".join(parts) or "Nothing was written."
