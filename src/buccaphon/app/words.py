"""What is done with the words: aligned, aligned again in part, compared with the sound, recognised, pronounced."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from buccaphon.alignment.again import get_to_know, realign, weighed_ways
from buccaphon.alignment.aligner import align
from buccaphon.alignment.loose import Comparison, Finding, Kind, compare, mended_script
from buccaphon.alignment.recognise import recognise
from buccaphon.alignment.request import AlignmentRequest, Guide, Progress
from buccaphon.app.background import Background
from buccaphon.app.places import lexicon_path
from buccaphon.errors import BuccaphonError
from buccaphon.formats.atomic import write_whole
from buccaphon.formats.words import Wording, guides_for
from buccaphon.project import edits
from buccaphon.project.corrections import changed_words, known_pins
from buccaphon.project.edits import Together
from buccaphon.project.edits.script import BeWithoutWords, SetLexicon, SetScript, TakeAlignment
from buccaphon.project.edits.timing import MarkNotSpeech
from buccaphon.project.project import Changes
from buccaphon.score.records import DOUBTFUL, Score
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon, Pronunciation, pronunciations
from buccaphon.speech.lexicon_text import parse_lexicon, parse_pronunciation, written_lexicon
from buccaphon.speech.script import ScriptWord, require_words, script_words

if TYPE_CHECKING:
    from buccaphon.app.session import Session

_NOTHING_FOUND = Comparison((), True)
_SETTLED = 1000  # ms after which trims and marks are taken to stay as they are
_COMPARED_EACH_TIME = 600.0  # seconds of recording; longer ones are compared when all of them is aligned


@dataclass(frozen=True, slots=True)
class Way:
    """A way to say a word, and how well it fits what is heard, 0..1."""

    way: Pronunciation
    share: float


class Words(QObject):
    """compared: the script was compared with the sound, `comparison` is new."""

    compared = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self._comparing = Background(self)
        self._settled = QTimer(self, singleShot=True, interval=_SETTLED)
        self._settled.timeout.connect(self._get_to_know)
        self._guides: tuple[Guide, ...] = ()
        self._compared = ("", _NOTHING_FOUND)  # the script, and what was found of it
        self.always = self._read_always() or NO_ENTRIES

    # --- aligning ------------------------------------------------------------------------------------------------------

    def align(self, settle: bool = False) -> None:
        """Align the whole script in the background. settle: the result belongs to what was opened."""
        session, text = self._session, self._session.state.script
        request = self._request()
        if request is None:
            return

        def done(score: Score) -> None:
            if session.recording is request.recording:
                session.apply(TakeAlignment(score, text))
                if settle:
                    session.project.settle()
                    session.changed.emit(Changes(edits.Kind(0), "Align"))
                self._compare(request, text)

        session.background.run("Aligning", lambda progress: align(request, progress), done)

    def listen_soon(self) -> None:
        """Listen in the background to what was aligned before, once trims and marks stay as they are: the first word is
        aligned again as fast as the next then."""
        self._settled.start()

    def _get_to_know(self) -> None:
        busy = self._session.background.busy or self._comparing.busy  # they listen themselves
        if busy or self._session.recording is None:
            return
        score, words = self._session.score, script_words(self._session.state.script)
        if score is None or not words or [word.text for word in score.words] != [word.text for word in words]:
            return
        request = self._request()
        if request is not None and request.looked_at.length <= _COMPARED_EACH_TIME:
            self._comparing.run("Listening", lambda _progress: get_to_know(request, score), lambda _done: None)

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
        request, score = self._request(), session.score
        if request is None or score is None:
            return

        def done(part: Score) -> None:
            if session.recording is request.recording and session.score is score:
                session.apply(TakeAlignment(_as_typed(part, request.words), text, name="Align what changed"))
                if request.looked_at.length <= _COMPARED_EACH_TIME:
                    self._compare(request, text)

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

    def _request(self) -> AlignmentRequest | None:
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
            state.lexicon.over(self.always),
            known_pins(take, words),
            self._guides,
        )

    def doubts(self) -> list[int]:
        """The words of which the aligner is unsure, and those that seem not to be in the sound."""
        score, missing = self._session.score, self.missing
        return [n for n, word in enumerate(score.words) if word.confidence < DOUBTFUL or n in missing] if score else []

    @property
    def missing(self) -> frozenset[int]:
        """Numbers of the words that were not found."""
        gone = (finding for finding in self.comparison.findings if finding.kind is Kind.NOT_FOUND)
        return frozenset(number for finding in gone for number in range(finding.first, finding.end))

    @property
    def comparison(self) -> Comparison:
        """What was found of the script as it is now; nothing while it is another one than was compared."""
        script, found = self._compared
        return found if script == self._session.state.script else _NOTHING_FOUND

    # --- comparing -----------------------------------------------------------------------------------------------------

    def forget(self) -> None:
        """Another project, take or script: what was found no longer holds."""
        self._comparing.cancel()
        self._guides = ()
        if self._compared[1] is not _NOTHING_FOUND:
            self._compared = ("", _NOTHING_FOUND)
            self.compared.emit()

    def _compare(self, request: AlignmentRequest, script: str) -> None:
        """script: that the request's words stand in; more may have been typed since."""

        def done(comparison: Comparison) -> None:
            self._compared = (script, comparison)
            self.compared.emit()
            if not comparison.belongs:
                self._session.said.emit(
                    "Hardly any of these words are heard. Does the script belong to this recording? Is the language right?"
                )

        def work(progress: Progress) -> Comparison:
            return compare(replace(request, pins=(), guides=()), progress)

        self._comparing.run("Comparing", work, done)

    def mend(self) -> None:
        """Write what was found into the script, mark other speech as not speech, and align again."""
        state, findings = self._session.state, self.comparison.findings
        text = mended_script(state.script, script_words(state.script), findings)
        others = [MarkNotSpeech(finding.span) for finding in findings if finding.kind is Kind.OTHER]
        self._session.apply(Together((SetScript(text, gesture=""), *others), "Write down what was said"))
        self.forget()
        self.align()

    def describe(self, finding: Finding) -> str:
        """A finding in words."""
        words = script_words(self._session.state.script)[finding.first : finding.end]
        said = " ".join(word.bare for word in words)
        return f"“{said}” {finding.kind.value}" if said else finding.kind.value.capitalize()

    # --- pronunciations ------------------------------------------------------------------------------------------------

    def ways(self, number: int) -> list[Way]:
        """The ways to say a word of the score, the likeliest first."""
        session = self._session
        request, score = self._request(), session.score
        if request is None or score is None or number >= len(request.words):
            return []
        bare, language = request.words[number].bare, session.state.language
        ways = dict.fromkeys((*request.lexicon.ways(bare, language, self.nth(number)), *pronunciations(bare, language)))
        shares = weighed_ways(request, score, number, list(ways))
        return sorted((Way(way, share) for way, share in zip(ways, shares, strict=True)), key=lambda w: -w.share)

    def nth(self, number: int) -> int:
        """The how-manyeth time a word of the script is said, counted from 0."""
        words = script_words(self._session.state.script)
        return sum(word.bare.lower() == words[number].bare.lower() for word in words[:number])

    def pronounce(self, number: int, way: Pronunciation, keep: str) -> None:
        """Say a word so from now on, and align it again. keep: 'word', 'project' or 'always'."""
        session = self._session
        bare = script_words(session.state.script)[number].bare
        if keep == "always":
            self.keep_always(self.always.having(bare, way))
        lexicon = session.state.lexicon
        nth = self.nth(number) if keep == "word" else None
        session.apply(SetLexicon(lexicon.having(bare, way, only=nth), name=f"Pronounce “{bare}”"))
        self.align_word(number)

    def typed(self, first: int, end: int) -> str:
        """The words from number `first` up to `end` as they stand in the script, with what is between them."""
        words, script = script_words(self._session.state.script), self._session.state.script
        return script[words[first].start : words[end - 1].end]

    def retype(self, first: int, end: int, text: str) -> None:
        """Put other words in the place of those from number `first` up to `end`, and align only what changed."""
        session = self._session
        words, script = script_words(session.state.script), session.state.script
        written = script[: words[first].start] + text + script[words[end - 1].end :]
        if written != script:
            session.apply(SetScript(written, name=f"Retype “{self.typed(first, end)}”", gesture=""))
            self.align_changes()

    def take_out(self, numbers: Sequence[int]) -> None:
        """Take words out of the script; the others stay where they are."""
        session, script = self._session, self._session.state.script
        if self._must_align_first():
            return
        words = script_words(script)
        for number in sorted(numbers, reverse=True):
            script = script[: words[number].start].rstrip(" ") + script[words[number].end :]
        session.apply(SetScript(script, name="Cut words", gesture=""))
        self.align_changes()

    def write_in(self, seconds: float, text: str) -> None:
        """Write words before the one that is said at a moment or next after it, and align what changed."""
        session, score = self._session, self._session.score
        words, script = script_words(session.state.script), session.state.script
        if score is not None and self._must_align_first():
            return
        later = [n for n, word in enumerate(score.words) if word.end > seconds] if score else []
        if later and later[0] < len(words):
            at = words[later[0]].start
            script = f"{script[:at]}{text} {script[at:]}"
        else:
            script = f"{script.rstrip()} {text}".strip()
        session.apply(SetScript(script, name="Paste words", gesture=""))
        self.align_changes()

    def _must_align_first(self) -> bool:
        """Whether the script has other words than the score, so that nothing can be said of a word by its number."""
        if self._session.state.needs_aligning:
            self._session.said.emit("The script was changed since. Align it first, with Ctrl+R.")
        return self._session.state.needs_aligning

    def retype_sound(self, number: int, place: int, text: str) -> None:
        """Put other sounds in the place of one, for this word only, and align it again."""
        session = self._session
        phones = session.score.words[number].phones
        try:
            typed = parse_pronunciation(text, session.state.language) if text else Pronunciation((), ())
        except BuccaphonError as problem:
            session.report(problem)
            return
        now = Pronunciation(tuple(phone.symbol for phone in phones), tuple(phone.stress for phone in phones))
        before = Pronunciation(now.sounds[:place], now.stresses[:place])
        after = Pronunciation(now.sounds[place + 1 :], now.stresses[place + 1 :])
        way = before + typed + after
        if not way.sounds:
            session.said.emit("A word needs a sound. Retype the word to take it out.")
        elif way != now:
            self.pronounce(number, way, "word")

    def keep_always(self, lexicon: Lexicon) -> None:
        """Keep pronunciations for every project of this user."""
        path = lexicon_path()
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            if path.exists() and self._read_always() is None:  # what cannot be read is not written over
                path.replace(path.with_suffix(".unread.txt"))
                self._session.said.emit(
                    f"The lexicon that was there cannot be read; it is kept as {path.stem}.unread.txt."
                )
            write_whole(path, written_lexicon(lexicon).encode())
        except (BuccaphonError, OSError) as problem:
            self._session.said.emit(f"The pronunciation cannot be kept for always: {problem}")
        self.always = lexicon

    @staticmethod
    def _read_always() -> Lexicon | None:
        """The user's own lexicon; None when there is none, or none that can be read."""
        try:
            return parse_lexicon(lexicon_path().read_text("utf-8"), str(lexicon_path()))
        except (OSError, UnicodeDecodeError, BuccaphonError):
            return None

    @property
    def is_comparing(self) -> bool:
        return self._comparing.busy

    def shut_down(self) -> None:
        self._settled.stop()
        self._comparing.shut_down()

    # --- words from files ----------------------------------------------------------------------------------------------

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
    """With the words written as they are in the script now, punctuation and all."""
    pairs = zip(score.words, words, strict=True)
    return Score(tuple(replace(word, text=typed.text) for word, typed in pairs), score.duration)
