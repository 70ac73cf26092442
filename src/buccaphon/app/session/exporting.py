"""Exporting: the chosen formats of the take that is shown, written into a folder in the background."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.errors import BuccaphonError, Cancelled
from buccaphon.files import is_there
from buccaphon.formats.format import Format, Needs
from buccaphon.formats.registry import FORMATS
from buccaphon.formats.writing import write_files
from buccaphon.progress import Progress
from buccaphon.project.delivering import deliver

_USUAL = ("keys-csv", "keys-json", "textgrid")


class Exporting(QObject):
    """chosen: the ids of the formats that are written. folder: where to, once one was named. told: how it stands, in words.
    asked: files are there already; `replace` writes over them."""

    told = pyqtSignal(str)
    asked = pyqtSignal(str)

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs
        self.chosen: set[str] = set(_USUAL)
        self.folder: Path | None = None

    @property
    def stem(self) -> str:
        """What the files are called, before their endings."""
        return self._document.title.replace(" ", "_")

    def can(self, form: Format) -> bool:
        """Whether there is something to write in a format now."""
        ready = self._document.recording is not None and Needs.PICTURES not in form.needs
        return ready and (Needs.WORDS not in form.needs or self._document.score is not None)

    def export(self, folder: Path) -> None:
        """Write the chosen files into a folder; asks first when some are there already."""
        self.folder = folder
        there = [target.name for target in self._targets(folder, self._formats()) if is_there(target)]
        if there:
            self.asked.emit(f"Already in {folder}: {', '.join(there)}")
        else:
            self.replace()

    def replace(self) -> None:
        """Write them, over what is there."""
        document, folder, formats = self._document, self.folder, self._formats()
        derived, state, title, stem = document.derived, document.state, document.title, self.stem
        if folder is None or derived is None:
            return
        if not formats:
            self.told.emit("Nothing was chosen.")
            return
        delivery = deliver(state, derived, title)  # what is shown is what is written

        def work(progress: Progress) -> tuple[list[str], BuccaphonError | None]:
            written: list[str] = []
            for number, form in enumerate(formats):
                if not progress(number / len(formats), f"Writing {form.name}"):
                    raise Cancelled
                try:
                    files = form.files(replace(delivery, place=folder / stem))
                    written += [path.name for path in write_files(files, folder, progress)]
                except BuccaphonError as problem:
                    return written, problem
            return written, None

        def done(result: tuple[list[str], BuccaphonError | None]) -> None:
            written, problem = result
            if problem is not None:
                document.report(problem)
            self.told.emit(f"Written into {folder}: {', '.join(written)}" if written else "Nothing was written.")

        self._jobs.start(Slot.EXPORT, "Exporting", work, done)

    def keep(self) -> None:
        """Leave what is there as it is."""
        self.told.emit("Nothing was written.")

    def _formats(self) -> list[Format]:
        return [form for form in FORMATS if form.id in self.chosen and self.can(form)]

    def _targets(self, folder: Path, formats: Sequence[Format]) -> list[Path]:
        return [folder / f"{self.stem}{form.ending}" for form in formats]
