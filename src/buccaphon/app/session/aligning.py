"""The words of the script, aligned with the sound: all of them, or what changed; or sounds without words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from enum import Enum
from functools import partial

from PyQt6.QtCore import QObject

from buccaphon.alignment.again import realign
from buccaphon.alignment.aligner import align
from buccaphon.alignment.recognise import recognise
from buccaphon.alignment.request import AlignmentRequest, Guide
from buccaphon.app.session.comparing import Comparing
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.own_lexicon import OwnLexicon
from buccaphon.app.timers import later
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError
from buccaphon.formats.in_.wording import Timed, Wording, guides_for
from buccaphon.project.carrying import changed_words, known_pins
from buccaphon.project.corrections import times_put
from buccaphon.project.edits import Touched
from buccaphon.project.edits.lines import OnLine
from buccaphon.project.edits.script import BeWithoutWords, SetScript, TakeAlignment
from buccaphon.project.project import Changes
from buccaphon.score.records import Score
from buccaphon.speech.script import ScriptWord, require_words, script_words
from buccaphon.texts import _
from buccaphon.timing import Span

_SETTLED = 1000  # ms after which trims and marks are taken to stay as they are
_HEARD_AHEAD = 1800.0  # seconds of recording that are listened to unasked
_COMPARED_EACH_TIME = 600.0  # seconds of recording; longer ones are compared when all of them is aligned


class AlignmentOutcome(Enum):
    """What an alignment counts as."""

    EDIT = "something the user did"
    OPENED = "part of what was opened"


class Aligning(QObject):
    """Aligning is done in the background; each result is one edit."""

    def __init__(self, document: Document, comparing: Comparing, lexicon: OwnLexicon, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._comparing, self._lexicon, self._jobs = document, comparing, lexicon, jobs
        self._settled = later(self, _SETTLED, self._listen_ahead)
        self._guides: tuple[Guide, ...] = ()
        self._heard_ahead: tuple[Recording, Span, tuple[Span, ...]] | None = None
        document.sound_gone.connect(self.forget)
        document.sound_ready.connect(self._meet_sound)
        document.changed.connect(self._on_change)

    def align(
        self, counts_as: AlignmentOutcome = AlignmentOutcome.EDIT, then: Callable[[], None] = lambda: None
    ) -> None:
        """Align the whole script. then: what comes next, once that is done."""
        document, text, key = self._document, self._document.state.script, self._document.state.line.key
        request = self.request()
        if request is None:
            return

        def done(score: Score) -> None:
            if document.state.line.key != key:  # another line was gone to meanwhile
                document.apply(OnLine(TakeAlignment(score, text), key))
            elif document.recording is request.recording:
                document.apply(TakeAlignment(score, text))
                if counts_as is AlignmentOutcome.OPENED:
                    document.project.settle()
                    document.emit_changed(Touched(0), _("Align"))
                self._comparing.compare(request, text)
                then()

        self._jobs.start(Slot.TAKE, _("Aligning"), lambda progress: align(request, progress), done)

    def align_changes(self) -> None:
        """Align only what was typed anew since, or all when nothing was aligned yet. With no word left, the times go too."""
        state = self._document.state
        score, words = state.score, script_words(state.script)
        if score is not None and not words:
            self._document.apply(BeWithoutWords())
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
        """Align one word again; it may be said in another way now. While the script says others than were aligned, or sounds
        were recognised without it, all that was typed anew is: a word's number is not the same in both."""
        state = self._document.state
        words = state.score.words if state.score else ()
        if state.is_in_step and all(word.text for word in words) and len(words) == len(script_words(state.script)):
            self._align_part(number, number + 1)
        else:
            self.align_changes()

    def _align_part(self, first: int, last: int) -> None:
        document, text = self._document, self._document.state.script
        request, score = self.request(), document.score
        if request is None or score is None:
            return

        def done(part: Score) -> None:
            if document.recording is request.recording and document.score is score:
                document.apply(TakeAlignment(_as_typed(part, request.words), text, name=_("Align what changed")))
                if request.looked_at.length <= _COMPARED_EACH_TIME:
                    self._comparing.compare(request, text)

        self._jobs.start(Slot.TAKE, _("Aligning"), lambda _progress: realign(request, score, first, last), done)

    def recognise(self) -> None:
        """Find the sounds without a script."""
        document = self._document
        recording, take = document.recording, document.state.take
        if recording is None or take is None:
            document.said.emit(_("Open a recording first."))
            return
        used = take.used(recording.duration)
        request = AlignmentRequest(recording, (), used, take.not_speech, document.state.language)

        def done(score: Score) -> None:
            if document.recording is request.recording:
                document.apply(TakeAlignment(score, document.state.script, name=_("Recognise the sounds")))

        self._jobs.start(Slot.TAKE, _("Recognising"), lambda progress: recognise(request, progress), done)

    def request(self) -> AlignmentRequest | None:
        """What is to be aligned now; None, and a notice, when that is nothing."""
        document = self._document
        recording, take, state = document.recording, document.state.take, document.state
        if recording is None or take is None:
            document.said.emit(_("Open a recording first, then type what is said in it."))
            return None
        try:
            words = require_words(state.script, _("The script"))
        except BuccaphonError as problem:
            document.report(problem)
            return None
        used, lexicon = take.used(recording.duration), state.lexicon.over(self._lexicon.always)
        pins = known_pins(take, words)
        return AlignmentRequest(recording, words, used, take.not_speech, state.language, lexicon, pins, self._guides)

    def bring_in(self, wording: Wording) -> None:
        """Take words from a file: as the script, unless it only adds times to the words that are there. Times guide the
        alignment; whether they stay exactly as they are is asked then."""
        state = self._document.state
        if not state.script.strip() or not wording.times:
            self._document.apply(SetScript(wording.text, name=_("Import a script"), gesture=""))
        self._guides = guides_for(wording, script_words(self._document.state.script))
        if wording.times and not self._guides:
            self._document.said.emit(_("No word in that file is in the script, so its times cannot be used."))
            return
        self.align(then=partial(self._offer_exactly, wording.times) if wording.times else lambda: None)

    def _offer_exactly(self, times: tuple[Timed, ...]) -> None:
        document = self._document

        def keep() -> None:
            if document.score is not None:
                document.attempt(times_put(times, document.score))

        document.offered.emit(_("The times of the file guided the alignment."), _("Keep them exactly"), keep)

    def forget(self) -> None:
        """Another project, take or script: what was known of the words no longer holds."""
        self._guides, self._heard_ahead = (), None

    def rest(self) -> None:
        """The window closes."""
        self._settled.stop()

    # --- listening ahead -----------------------------------------------------------------------------------------------

    def _meet_sound(self) -> None:
        document, take = self._document, self._document.state.take
        if take is not None and take.score is None and document.state.script.strip():
            self.align(AlignmentOutcome.EDIT if document.project.is_changed else AlignmentOutcome.OPENED)
        else:
            self._settled.start()

    def _on_change(self, changes: Changes) -> None:
        if changes.touched & Touched.TIMING:
            self._settled.start()

    def _listen_ahead(self) -> None:
        """Listen to what was aligned before, once trims and marks stay as they are: the first word is aligned again as fast
        as the next then."""
        document, take = self._document, self._document.state.take
        if self._jobs.busy(Slot.TAKE, Slot.COMPARE) or document.recording is None:  # those listen themselves
            return
        if take is None or take.score is None or not document.state.is_in_step:
            return
        used = take.used(document.recording.duration)
        asked = (document.recording, used, take.not_speech)
        if asked == self._heard_ahead or used.length > _HEARD_AHEAD or not script_words(document.state.script):
            return
        self._heard_ahead = asked
        request = self.request()
        if request is not None and len(request.words) == len(take.score.words):
            self._comparing.listen_ahead(request, take.score)


def _as_typed(score: Score, words: tuple[ScriptWord, ...]) -> Score:
    """With the words written as they are in the script now, punctuation and all; those that are so already stay the same
    objects, by which a bake knows what to make over."""
    pairs = zip(score.words, words, strict=True)
    same = (word if word.text == typed.text else replace(word, text=typed.text) for word, typed in pairs)
    return Score(tuple(same), score.duration)
