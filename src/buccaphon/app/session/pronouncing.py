"""How words are said: the ways that are known, one's own for a word, the project or always."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.alignment.again import weigh_ways
from buccaphon.app.session.aligning import Aligning
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.own_lexicon import OwnLexicon
from buccaphon.choice import Choice
from buccaphon.errors import BuccaphonError
from buccaphon.progress import Progress
from buccaphon.project.edits.script import SetLexicon
from buccaphon.speech.languages import ENGLISH
from buccaphon.speech.lexicon import Pronunciation
from buccaphon.speech.lexicon_text import parse_pronunciation
from buccaphon.speech.reduced import reduced_ways
from buccaphon.speech.script import script_words
from buccaphon.texts import N_, _


class Scope(Choice):
    """How far a pronunciation of one's own holds."""

    WORD = "word", N_("for this word")
    PROJECT = "project", N_("in this project")
    ALWAYS = "always", N_("always")


@dataclass(frozen=True, slots=True)
class Way:
    """A way to say a word, and how well it fits what is heard, 0..1."""

    way: Pronunciation
    share: float


class Pronouncing(QObject):
    """weighed: the ways to say a word (its number) were weighed, the likeliest first."""

    weighed = pyqtSignal(int, list)

    def __init__(self, document: Document, aligning: Aligning, lexicon: OwnLexicon, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._aligning, self._lexicon, self._jobs = document, aligning, lexicon, jobs

    def weigh(self, number: int) -> None:
        """Weigh in the background how well the ways to say a word of the score fit what is heard."""
        document = self._document
        request, score = self._aligning.request(), document.score
        if request is None or score is None or number >= len(request.words):
            return
        bare, language, nth = request.words[number].bare, document.state.language, self.nth(number)

        def work(_progress: Progress) -> list[Way]:
            own = request.lexicon.ways(bare, language, nth)
            known = request.lexicon.usual_ways(bare, language)
            worn = reduced_ways(bare, known) if language == ENGLISH else ()
            hurried = (Pronunciation(way.sounds, way.stresses) for way in worn)
            ways = list(dict.fromkeys((*own, *known, *hurried)))
            shares = weigh_ways(request, score, number, ways)
            return sorted((Way(way, share) for way, share in zip(ways, shares, strict=True)), key=lambda w: -w.share)

        def done(ways: list[Way]) -> None:
            if document.score is score:
                self.weighed.emit(number, ways)

        self._jobs.start(Slot.WEIGH, _("Weighing"), work, done, shown=False)

    def nth(self, number: int) -> int:
        """The how-manyeth time a word of the script is said, counted from 0."""
        words = script_words(self._document.state.script)
        return sum(word.bare.lower() == words[number].bare.lower() for word in words[:number])

    def pronounce(self, number: int, way: Pronunciation, scope: Scope) -> None:
        """Say a word so from now on, and align it again."""
        document = self._document
        words = script_words(document.state.script)
        if number >= len(words):
            document.said.emit(_("The script has changed. Align it first (Ctrl+R)."))
            return
        bare = words[number].bare
        if scope is Scope.ALWAYS:
            self._lexicon.keep(self._lexicon.always.having(bare, way))
        lexicon = document.state.lexicon
        nth = self.nth(number) if scope is Scope.WORD else None
        document.apply(SetLexicon(lexicon.having(bare, way, only=nth), name=_("Pronounce “{word}”", word=bare)))
        self._aligning.align_word(number)

    def retype_sound(self, number: int, place: int, text: str) -> None:
        """Put other sounds in the place of one, for this word only, and align it again."""
        document = self._document
        if document.score is None:
            return
        phones = document.score.words[number].phones
        try:
            typed = parse_pronunciation(text, document.state.language) if text else Pronunciation((), ())
        except BuccaphonError as problem:
            document.report(problem)
            return
        now = Pronunciation(tuple(phone.symbol for phone in phones), tuple(phone.stress for phone in phones))
        before = Pronunciation(now.sounds[:place], now.stresses[:place])
        after = Pronunciation(now.sounds[place + 1 :], now.stresses[place + 1 :])
        way = before + typed + after
        if not way.sounds:
            document.said.emit(_("A word needs at least one sound. To remove the word, retype it as nothing."))
        elif way != now:
            self.pronounce(number, way, Scope.WORD)
