"""The words of the script, aligned with the sound: all of them, or what changed; or sounds without words."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer

from buccaphon.alignment.again import realign
from buccaphon.alignment.aligner import align
from buccaphon.alignment.recognise import recognise
from buccaphon.alignment.request import AlignmentRequest, Guide
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError
from buccaphon.formats.words import Wording, guides_for
from buccaphon.project import edits
from buccaphon.project.corrections import changed_words, known_pins
from buccaphon.project.edits.script import BeWithoutWords, SetScript, TakeAlignment
from buccaphon.project.project import Changes
from buccaphon.score.records import DOUBTFUL, Score
from buccaphon.speech.script import ScriptWord, require_words, script_words
from buccaphon.timing import Span

if TYPE_CHECKING:
    from buccaphon.app.session import Session

_SETTLED = 1000  # ms after which trims and marks are taken to stay as they are
_HEARD_AHEAD = 1800.0  # seconds of recording that are listened to unasked
_COMPARED_EACH_TIME = 600.0  # seconds of recording; longer ones are compared when all of them is aligned


class Words:
    """Aligning is done in the session's background; each result is one edit."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._settled = QTimer(session, singleShot=True, interval=_SETTLED)
        self._settled.timeout.connect(self._listen_ahead)
        self._guides: tuple[Guide, ...] = ()
        self._heard_ahead: tuple[Recording, Span, tuple[Span, ...]] | None = None

    def align(self, settle: bool = False) -> None:
        """Align the whole script in the background. settle: the result belongs to what was opened."""
        session, text = self._session, self._session.state.script
        request = self.request()
        if request is None:
            return

        def done(score: Score) -> None:
            if session.recording is request.recording:
                session.apply(TakeAlignment(score, text))
                if settle:
                    session.project.settle()
                    session.changed.emit(Changes(edits.Kind(0), "Align"))
                session.comparing.compare(request, text)

        session.background.run("Aligning", lambda progress: align(request, progress), done)

    def listen_soon(self) -> None:
        """Listen in the background to what was aligned before, once trims and marks stay as they are: the first word is
        aligned again as fast as the next then."""
        self._settled.start()

    def _listen_ahead(self) -> None:
        session, take = self._session, self._session.state.take
        if session.background.busy or session.comparing.busy or session.recording is None:  # those listen themselves
            return
        if take is None or take.score is None or session.state.needs_aligning:
            return
        used = take.used(session.recording.duration)
        asked = (session.recording, used, take.not_speech)
        if asked == self._heard_ahead or used.length > _HEARD_AHEAD:
            return
        self._heard_ahead = asked
        request = self.request()
        if request is not None and len(request.words) == len(take.score.words):
            session.comparing.listen_ahead(request, take.score)

    def align_changes(self) -> None:
        """Align only what was typed anew since, or all when nothing was aligned yet. With no word left, the times go too."""
        state = self._session.state
        score, words = state.score, script_words(state.script)
        if score is not None and not words:
            self._session.apply(BeWithoutWords())
            return
        if score is None or not all(word.text for word in score.words):
            self.align()
            return
        first, last = changed_words(score, words)
        if (first, last) == (0, len(score.words)):
            self.align()
            return
        self._align_part(first, last)

    def align_word(self, number: int) -> None:
        """Align one word again; it may be said in another way now."""
        self._align_part(number, number + 1)

    def _align_part(self, first: int, last: int) -> None:
        session, text = self._session, self._session.state.script
        request, score = self.request(), session.score
        if request is None or score is None:
            return

        def done(part: Score) -> None:
            if session.recording is request.recording and session.score is score:
                session.apply(TakeAlignment(_as_typed(part, request.words), text, name="Align what changed"))
                if request.looked_at.length <= _COMPARED_EACH_TIME:
                    session.comparing.compare(request, text)

        session.background.run("Aligning", lambda _progress: realign(request, score, first, last), done)

    def recognise(self) -> None:
        """Find the sounds without a script."""
        session = self._session
        if session.recording is None or session.state.take is None:
            session.said.emit("Open a recording first.")
            return
        take = session.state.take
        request = AlignmentRequest(
            session.recording, (), take.used(session.recording.duration), take.not_speech, session.state.language
        )

        def done(score: Score) -> None:
            if session.recording is request.recording:
                session.apply(TakeAlignment(score, session.state.script, name="Recognise the sounds"))

        session.background.run("Recognising", lambda progress: recognise(request, progress), done)

    def request(self) -> AlignmentRequest | None:
        """What is to be aligned now; None, and a notice, when that is nothing."""
        session = self._session
        recording, take, state = session.recording, session.state.take, session.state
        if recording is None or take is None:
            session.said.emit("Open a recording first, then type what is said in it.")
            return None
        try:
            words = require_words(state.script, "The script")
        except BuccaphonError as problem:
            session.report(problem)
            return None
        return AlignmentRequest(
            recording,
            words,
            take.used(recording.duration),
            take.not_speech,
            state.language,
            state.lexicon.over(session.pronouncing.always),
            known_pins(take, words),
            self._guides,
        )

    def doubts(self) -> list[int]:
        """The words of which the aligner is unsure, and those that seem not to be in the sound."""
        score, missing = self._session.score, self._session.comparing.missing
        return [n for n, word in enumerate(score.words) if word.confidence < DOUBTFUL or n in missing] if score else []

    def forget(self) -> None:
        """Another project, take or script: what was known of the words no longer holds."""
        self._guides, self._heard_ahead = (), None
        self._session.comparing.forget()

    def shut_down(self) -> None:
        self._settled.stop()
        self._session.comparing.shut_down()

    def bring_in(self, wording: Wording) -> None:
        """Take words from a file: as the script, unless it only adds times to the words that are there."""
        state = self._session.state
        if not state.script.strip() or not wording.times:
            self._session.apply(SetScript(wording.text, name="Bring in a script", gesture=""))
        self._guides = guides_for(wording, script_words(self._session.state.script))
        if wording.times and not self._guides:
            self._session.said.emit("None of the words in that file are in the script, so its times say nothing.")
            return
        self.align()


def _as_typed(score: Score, words: tuple[ScriptWord, ...]) -> Score:
    """With the words written as they are in the script now, punctuation and all; those that are so already stay the same
    objects, by which a bake knows what to make over."""
    pairs = zip(score.words, words, strict=True)
    same = (word if word.text == typed.text else replace(word, text=typed.text) for word, typed in pairs)
    return Score(tuple(same), score.duration)
