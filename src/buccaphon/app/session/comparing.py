"""The script compared with the sound: what is missing, said again or other; and listening ahead to what was aligned."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.alignment.again import get_to_know
from buccaphon.alignment.loose import Comparison, Difference, Finding, compare
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.progress import Progress
from buccaphon.score.records import DOUBTFUL, Score
from buccaphon.speech.script import script_words
from buccaphon.texts import _

_NOTHING_FOUND = Comparison((), True)


class Comparing(QObject):
    """compared: the script was compared with the sound, `comparison` is new."""

    compared = pyqtSignal()

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs
        self._compared = ("", _NOTHING_FOUND)  # the script, and what was found of it
        document.sound_gone.connect(self.forget)

    @property
    def comparison(self) -> Comparison:
        """What was found of the script as it is now; nothing while it is another one than was compared."""
        script, found = self._compared
        return found if script == self._document.state.script else _NOTHING_FOUND

    @property
    def missing(self) -> frozenset[int]:
        """Numbers of the words that were not found."""
        gone = (finding for finding in self.comparison.findings if finding.kind is Difference.NOT_FOUND)
        return frozenset(number for finding in gone for number in range(finding.first, finding.end))

    def doubts(self) -> list[int]:
        """The words of which the aligner is unsure, and those that seem not to be in the sound."""
        score, missing = self._document.score, self.missing
        return [n for n, word in enumerate(score.words) if word.confidence < DOUBTFUL or n in missing] if score else []

    def describe(self, finding: Finding) -> str:
        """A finding in words."""
        words = script_words(self._document.state.script)[finding.first : finding.end]
        said = " ".join(word.bare for word in words)
        return f"“{said}” {finding.kind.value}" if said else finding.kind.value.capitalize()

    def compare(self, request: AlignmentRequest, script: str) -> None:
        """In the background. script: that the request's words stand in; more may have been typed since."""

        def done(comparison: Comparison) -> None:
            self._compared = (script, comparison)
            self.compared.emit()
            if not comparison.belongs:
                self._document.said.emit(
                    _(
                        "Hardly any of these words were heard. Is this the right script for the recording, and the "
                        "right language?"
                    )
                )

        def work(progress: Progress) -> Comparison:
            return compare(replace(request, pins=(), guides=()), progress)

        self._jobs.start(Slot.COMPARE, _("Comparing"), work, done, shown=False, awaited=False)

    def listen_ahead(self, request: AlignmentRequest, score: Score) -> None:
        """Listen in the background to what was aligned before: the first word is aligned again as fast as the next then."""

        def work(progress: Progress) -> None:
            get_to_know(request, score, progress)

        self._jobs.start(Slot.COMPARE, _("Listening"), work, lambda _done: None, shown=False, awaited=False)

    def forget(self) -> None:
        """Another project, take or script: what was found no longer holds."""
        self._jobs.cancel(Slot.COMPARE)
        if self._compared[1] is not _NOTHING_FOUND:
            self._compared = ("", _NOTHING_FOUND)
            self.compared.emit()
