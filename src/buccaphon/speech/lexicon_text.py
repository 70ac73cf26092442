"""A lexicon as plain text: a word, two spaces or a tab, its sounds parted by spaces; # begins a comment.

Sounds are IPA, with ˈ or ˌ before a stressed vowel, or ARPAbet with its stress
digits: `plums  p l ˈʌ m z`, `plums  P L AH1 M Z`.
A line may hold for one occurrence only: `read#2` is the second time that the word is said.
Letters between asterisks say how a language that is not listed is spelled: `*gb*  ɡ b`; a dash makes them silent: `*h*  -`.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from buccaphon.errors import ScriptError
from buccaphon.speech.languages import ENGLISH
from buccaphon.speech.letters import Rules
from buccaphon.speech.lexicon import Entry, Lexicon, Pronunciation, pronunciations
from buccaphon.speech.phones import SOUNDS, ipa_of, is_vowel, sound_of
from buccaphon.texts import _

_MARKS = {"ˈ": 1, "ˌ": 2}
_ARPABET = {sound.arpabet for sound in SOUNDS.values()}
_GAP = re.compile(r"\t+| {2,}")
_SPELLING = re.compile(r"\*(.+)\*")
_COMMENT = re.compile(r"#(?:\s|$)")


def parse_pronunciation(text: str, language: str) -> Pronunciation:
    """Read sounds as they are typed: IPA or ARPAbet, parted by spaces; or `= other words` that it is said like.

    Raises ScriptError that names the first symbol that is none.
    """
    if text.strip().startswith("="):
        return _like_other_words(text.strip()[1:].strip(), language)
    symbols = text.strip().strip("/[]").split()
    if not symbols:
        raise ScriptError(
            _("the pronunciation"), _("it holds no sounds"), _("Type IPA or ARPAbet, separated by spaces")
        )
    parsed = [_parsed(symbol) for symbol in symbols]
    return Pronunciation(tuple(sound for sound, _ in parsed), tuple(stress for _, stress in parsed))


def _like_other_words(words: str, language: str) -> Pronunciation:
    ways = [pronunciations(word, language) for word in words.split()]
    if not ways or not all(ways):
        raise ScriptError(
            f"“{words}”", _("no pronunciation is known for it"), _("Type words that can be said after the =")
        )
    return sum((way[0] for way in ways[1:]), ways[0][0])


def _parsed(symbol: str) -> tuple[str, int]:
    bare, digit = (symbol[:-1], symbol[-1]) if symbol[-1] in "012" else (symbol, "")
    if bare.upper() in _ARPABET and bare.isascii() and bare == bare.upper():
        sound = ipa_of(bare, int(digit) if digit else 1)
        return sound, int(digit or 0) if is_vowel(sound) else 0
    stress = max((_MARKS.get(char, 0) for char in symbol), default=0)
    sound = "".join(char for char in symbol if char not in _MARKS).replace("g", "ɡ")
    try:
        sound_of(sound)
    except ValueError:
        raise ScriptError(
            f"“{symbol}”",
            _("it is neither IPA nor ARPAbet"),
            _("Separate the sounds by spaces: p l ʌ m z, or P L AH1 M Z"),
        ) from None
    return sound, stress if is_vowel(sound) else 0


def pronunciation_as_text(way: Pronunciation) -> str:
    """As IPA that `parse_pronunciation` reads back."""
    marks = {0: "", 1: "ˈ", 2: "ˌ"}
    return " ".join(marks[stress] + sound for sound, stress in zip(way.sounds, way.stresses, strict=True))


def parse_lexicon(text: str, subject: str) -> Lexicon:
    """Read a lexicon. subject: names it in messages. Raises ScriptError with the number of a line that is wrong."""
    entries, letters = [], dict[str, tuple[str, ...]]()
    for number, line in enumerate(text.splitlines(), 1):
        stripped = line.strip()
        if not stripped or _COMMENT.match(stripped):
            continue
        word, *rest = _GAP.split(stripped, maxsplit=1)
        rest_of_word, mark, nth = word[1:].partition("#")  # a word may begin with the sign: #1
        if not rest or (mark and not re.fullmatch("[1-9][0-9]{0,5}", nth)):
            reason = _("line {number} is not a word, two spaces and its sounds", number=number)
            raise ScriptError(subject, reason, _("Write: plums  p l ʌ m z"))
        spelling = _SPELLING.fullmatch(word)
        try:
            if spelling is not None and rest[0].strip() == "-":
                letters[spelling[1].lower()] = ()
                continue
            way = parse_pronunciation(rest[0], "en-us")
        except ScriptError as problem:
            raise ScriptError(
                _("{file}, line {number}, {what}", file=subject, number=number, what=problem.subject),
                problem.reason,
                problem.remedy,
            ) from None
        if spelling is not None:
            letters[spelling[1].lower()] = way.sounds
            continue
        entries.append(Entry((word[:1] + rest_of_word).lower(), way, int(nth) - 1 if nth else None))
    return Lexicon(tuple(entries), tuple(letters.items()))


def lexicon_as_text(lexicon: Lexicon) -> str:
    """As text that `parse_lexicon` reads back."""
    lines = [
        f"{entry.written}{'' if entry.only is None else f'#{entry.only + 1}'}  {pronunciation_as_text(entry.way)}"
        for entry in lexicon.entries
    ]
    return "\n".join(["# word, two spaces, its sounds in IPA", *lines, *letter_lines(lexicon.letters), ""])


def letters_as_text(rules: Mapping[str, tuple[str, ...]]) -> str:
    """Letters and their sounds a line, as `parse_letters` reads them."""
    return "\n".join(f"{letters}  {' '.join(sounds) or '-'}" for letters, sounds in rules.items())


def parse_letters(text: str) -> dict[str, tuple[str, ...]]:
    """Letters, two spaces or a tab, and their sounds, a line each. Raises ScriptError with the line that is wrong."""
    found: dict[str, tuple[str, ...]] = {}
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        letters, *sounds = line.split()
        if not sounds:
            reason = _("line {number} has letters and no sounds", number=number)
            raise ScriptError(_("letters and sounds"), reason, _("Write: gb  ɡ b, or h  - where it is silent"))
        silent = sounds == ["-"]
        found[letters.lower()] = () if silent else parse_pronunciation(" ".join(sounds), ENGLISH).sounds
    return found


def letter_lines(rules: Rules) -> list[str]:
    """Rules of letters as lines of a lexicon."""
    return [f"*{letters}*  {' '.join(sounds) or '-'}" for letters, sounds in rules]
