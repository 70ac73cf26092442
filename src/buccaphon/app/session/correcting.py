"""Files that come back corrected: what differs is shown first, and done then."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.formats.in_.corrected import Corrected, read_corrected
from buccaphon.project.corrections import Correction, as_one, corrections_in
from buccaphon.texts import _


class Correcting(QObject):
    """found: what of a file differs from what is here (a list of Correction), to be taken or not."""

    found = pyqtSignal(object)

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs

    def read(self, path: Path) -> None:
        """In the background. Whoever hears `found` decides."""

        def done(file: Corrected) -> None:
            document = self._document
            bake = document.bake()
            if bake is None:
                return
            result = corrections_in(file, document.state, bake)
            if result.unplaced:
                document.said.emit(f"{path.name}: {result.unplaced}.")
            if result.found:
                self.found.emit(list(result.found))
            elif not result.unplaced:
                document.said.emit(_("{name} contains no changes.", name=path.name))

        self._jobs.start(Slot.SHEET, _("Reading corrections"), lambda _progress: read_corrected(path), done)

    def take(self, found: Sequence[Correction]) -> None:
        """As one step."""
        self._document.attempt(as_one(found, _("Corrections from a file")))
