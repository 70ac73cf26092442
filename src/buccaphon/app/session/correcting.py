"""A corrected exposure sheet: what differs is shown first, and painted then."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.formats.in_.sheet import SheetDifference, differences, read_sheet
from buccaphon.project.edits import Together
from buccaphon.project.edits.mouths import Paint
from buccaphon.timing import Span


class Correcting(QObject):
    """found: what of a sheet differs from what is shown (SheetDifference), to be painted or not."""

    found = pyqtSignal(object)

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs

    def read(self, path: Path) -> None:
        """In the background. Whoever hears `found` decides."""

        def done(sheet: dict[int, str]) -> None:
            bake = self._document.bake()
            if bake is None:
                return
            found, unknown = differences(sheet, bake)
            if unknown:
                names = ", ".join(unknown[:6])
                self._document.said.emit(
                    f"{path.name}: chart {bake.chart.name} has no {names}; these frames stay as they are."
                )
            if found:
                self.found.emit(found)
            elif not unknown:
                self._document.said.emit(f"{path.name} shows the same mouths as here.")

        self._jobs.start(Slot.SHEET, "Reading the sheet", lambda _progress: read_sheet(path), done)

    def paint(self, differing: Sequence[SheetDifference]) -> None:
        """As one step."""
        edits = tuple(Paint(self.span_of(each), each.wanted) for each in differing)
        self._document.apply(Together(edits, name="Mouths from a sheet"))

    def span_of(self, difference: SheetDifference) -> Span:
        rate = self._document.state.rate
        return Span(rate.seconds(difference.start), rate.seconds(difference.end))

    def says(self, difference: SheetDifference) -> str:
        first = difference.start + self._document.state.first_number
        last = difference.end - 1 + self._document.state.first_number
        frames = f"Frame {first}" if first == last else f"Frames {first} to {last}"
        return f"{frames}: {difference.shown} becomes {difference.wanted}"
