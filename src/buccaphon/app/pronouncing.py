"""How words are said: the ways that are known, one's own for a word, the project or always."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from buccaphon.alignment.again import weighed_ways
from buccaphon.app.places import lexicon_path
from buccaphon.errors import BuccaphonError
from buccaphon.files import write_whole
from buccaphon.project.edits.script import SetLexicon
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon, Pronunciation, pronunciations
from buccaphon.speech.lexicon_text import parse_lexicon, parse_pronunciation, written_lexicon
from buccaphon.speech.script import script_words

if TYPE_CHECKING:
    from buccaphon.app.session import Session


@dataclass(frozen=True, slots=True)
class Way:
    """A way to say a word, and how well it fits what is heard, 0..1."""

    way: Pronunciation
    share: float


class Pronouncing:
    """always: the user's own lexicon, for every project."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.always = self._read_always() or NO_ENTRIES

    def ways(self, number: int) -> list[Way]:
        """The ways to say a word of the score, the likeliest first."""
        session = self._session
        request, score = session.words.request(), session.score
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
        session.words.align_word(number)

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
