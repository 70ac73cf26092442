"""The script: what is typed, and which of it is spoken."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from buccaphon.errors import ScriptError
from buccaphon.texts import _

# `MARIGOLD:` or `MARIGOLD (aside):` at the start of a line says who speaks, in capitals of any alphabet; [asides] and
# (directions) are for the eye.
_SPEAKER = re.compile(
    r"^[ \t]*(?P<name>[^\W\d_][\w .'’-]{0,39}?)[ \t]*(?:[([][^)\]\n]*[)\]][ \t]*)?:(?=\s|$)", re.MULTILINE
)
_DIRECTION = re.compile(r"\[[^\]\n]*\]|\([^)\n]*\)")
_WORD = re.compile(r"[$£€¥]\d[\d,.]*[ \t]+(?:thousand|million|billion|trillion)\b\S*|\S+", re.IGNORECASE)  # said as one
_LONGEST = 400  # letters of a word
_SPEAKABLE = re.compile(r"[^\W_]")


@dataclass(frozen=True, slots=True)
class ScriptWord:
    """A word as typed, with its punctuation, where it stands in the text, and who says it (may be ''). together: all who
    speak in the script say it."""

    text: str
    start: int
    end: int
    speaker: str = ""
    together: bool = False

    @property
    def bare(self) -> str:
        """The word without the punctuation around it: what is looked up and said."""
        return _without_punctuation(self.text)


@lru_cache(maxsize=20000)
def _without_punctuation(text: str) -> str:
    if text in _KEPT:
        return text
    ended = text.lstrip(_OPENING).rstrip(_AROUND)
    return ended if _SIGNED.match(ended) else ended.lstrip(_AROUND)


_OPENING = "“”\"'‘’«»([{*_¡¿"
_AROUND = _OPENING + ".,;:!?…)]}—–-"
_SIGNED = re.compile(r"-?\.?\d")  # the sign or point before a number is said
_KEPT = {"'em", "'cause", "'bout", "'til", "'tis", "'twas"}


@lru_cache(maxsize=8)
def script_words(text: str) -> tuple[ScriptWord, ...]:
    """The spoken words of a script, in order. Speaker names and bracketed directions are left out.

    Dashes between words separate them; a word needs at least one letter or digit.
    """
    silent = bytearray(len(text))
    turns: list[tuple[int, str, bool]] = [(0, "", False)]
    for match in _SPEAKER.finditer(text):
        if not match["name"].isupper():
            continue
        silent[match.start() : match.end()] = b"\1" * (match.end() - match.start())
        turns.append((match.end(), match["name"], "together" in match[0].casefold()))
    for match in _DIRECTION.finditer(text):
        if "together" in match[0].casefold():
            turns.append((match.end(), max(turn for turn in turns if turn[0] <= match.end())[1], True))
        silent[match.start() : match.end()] = b"\1" * (match.end() - match.start())
    spoken = "".join(" " if hush or char in "—–" else char for char, hush in zip(text, silent, strict=True))
    words, turn = [], 0
    turns.sort()
    for match in _WORD.finditer(spoken.replace("--", "  ")):
        if _SPEAKABLE.search(match[0]):
            while turn + 1 < len(turns) and turns[turn + 1][0] <= match.start():
                turn += 1
            words.append(ScriptWord(match[0], match.start(), match.end(), *turns[turn][1:]))
    return tuple(words)


def with_speaker_renamed(text: str, before: str, after: str) -> str:
    """The script with a speaker called otherwise wherever a speech begins with the name. Names are written in capitals."""

    def renamed(match: re.Match[str]) -> str:
        if not match["name"].isupper() or match["name"].casefold() != before.casefold():
            return match[0]
        at = match.start("name") - match.start()
        return match[0][:at] + after.upper() + match[0][at + len(match["name"]) :]

    return _SPEAKER.sub(renamed, text)


def require_words(text: str, subject: str) -> tuple[ScriptWord, ...]:
    """The spoken words, or ScriptError when there are none. `subject` names the script in the message."""
    words = script_words(text)
    if not words:
        raise ScriptError(subject, _("it holds no spoken words"), _("Type what is said in the recording"))
    longest = max((word.text for word in words), key=len)
    if len(longest) > _LONGEST:
        reason = _("“{longest}…” has {count} letters and is not a word", count=len(longest), longest=longest[:20])
        raise ScriptError(subject, reason, _("Separate the words by spaces"))
    return words
