"""Files that come back corrected, or that somebody put labels into: what they would change is shown first, and done then."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.aligning import Aligning
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.formats.in_.corrected import Corrected, read_corrected
from buccaphon.formats.in_.markers import has_markers
from buccaphon.formats.in_.wording import Wording
from buccaphon.project.corrections import Correction, as_one
from buccaphon.project.markers import Reading, readings_of
from buccaphon.texts import _, ngettext


class Correcting(QObject):
    """found: the ways in which a file can be taken (a list of Reading), one of which may be, or a part of it."""

    found = pyqtSignal(object)

    def __init__(self, document: Document, aligning: Aligning, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._aligning, self._jobs = document, aligning, jobs

    def read(self, path: Path) -> None:
        """In the background. Whoever hears `found` decides."""

        def done(file: Corrected) -> None:
            document = self._document
            bake = document.bake()
            if bake is None:
                return
            readings = readings_of(file, document.state, bake)
            unplaced = readings[0].would.unplaced
            if unplaced:
                document.said.emit(f"{path.name}: {unplaced}.")
            possible = [reading for reading in readings if reading.would.found or reading.anew]
            if possible:
                self.found.emit(possible)
            elif not unplaced:
                document.said.emit(_("{name} contains no changes.", name=path.name))

        self._jobs.start(Slot.SHEET, _("Reading corrections"), lambda _progress: read_corrected(path), done)

    def offer_markers(self, path: Path) -> None:
        """Of a recording that was just brought in, if somebody has labelled places in it."""
        count = has_markers(path)
        if count:
            text = ngettext(
                "There is {count} labelled marker in {name}.",
                "There are {count} labelled markers in {name}.",
                count,
                name=path.name,
            )
            self._document.offered.emit(text, _("Look at them"), lambda: self.read(path))

    def take(self, found: Sequence[Correction]) -> None:
        """As one step."""
        self._document.attempt(as_one(found, _("Corrections from a file")))

    def take_all(self, reading: Reading) -> None:
        """A file in one of the ways in which it can be taken."""
        if reading.anew:
            words = " ".join(marker.text for marker in reading.anew)
            self._aligning.bring_in(Wording(words, reading.anew))
        else:
            self.take(reading.would.found)
