"""The script compared with the sound: what is missing, said again or other; and listening ahead to what was aligned."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.alignment.again import get_to_know
from buccaphon.alignment.loose import Comparison, Finding, Kind, compare
from buccaphon.alignment.request import AlignmentRequest, Progress
from buccaphon.app.background import Background
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words

if TYPE_CHECKING:
    from buccaphon.app.session import Session

_NOTHING_FOUND = Comparison((), True)


class Comparing(QObject):
    """compared: the script was compared with the sound, `comparison` is new."""

    compared = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self._background = Background(self)
        self._compared = ("", _NOTHING_FOUND)  # the script, and what was found of it

    @property
    def comparison(self) -> Comparison:
        """What was found of the script as it is now; nothing while it is another one than was compared."""
        script, found = self._compared
        return found if script == self._session.state.script else _NOTHING_FOUND

    @property
    def missing(self) -> frozenset[int]:
        """Numbers of the words that were not found."""
        gone = (finding for finding in self.comparison.findings if finding.kind is Kind.NOT_FOUND)
        return frozenset(number for finding in gone for number in range(finding.first, finding.end))

    def describe(self, finding: Finding) -> str:
        """A finding in words."""
        words = script_words(self._session.state.script)[finding.first : finding.end]
        said = " ".join(word.bare for word in words)
        return f"“{said}” {finding.kind.value}" if said else finding.kind.value.capitalize()

    def compare(self, request: AlignmentRequest, script: str) -> None:
        """In the background. script: that the request's words stand in; more may have been typed since."""

        def done(comparison: Comparison) -> None:
            self._compared = (script, comparison)
            self.compared.emit()
            if not comparison.belongs:
                self._session.said.emit(
                    "Hardly any of these words are heard. Does the script belong to this recording? Is the language right?"
                )

        def work(progress: Progress) -> Comparison:
            return compare(replace(request, pins=(), guides=()), progress)

        self._background.run("Comparing", work, done)

    def listen_ahead(self, request: AlignmentRequest, score: Score) -> None:
        """Listen in the background to what was aligned before: the first word is aligned again as fast as the next then."""
        self._background.run("Listening", lambda progress: get_to_know(request, score, progress), lambda _done: None)

    def forget(self) -> None:
        """Another project, take or script: what was found no longer holds."""
        self._background.cancel()
        if self._compared[1] is not _NOTHING_FOUND:
            self._compared = ("", _NOTHING_FOUND)
            self.compared.emit()

    @property
    def busy(self) -> bool:
        return self._background.busy

    def shut_down(self) -> None:
        self._background.shut_down()
