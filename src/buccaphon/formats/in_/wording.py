"""What is read of a file with words: the script, and when parts of it are said."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from buccaphon.alignment.request import Guide
from buccaphon.speech.matching import match, plain
from buccaphon.speech.script import ScriptWord, script_words

_SLACK = 0.15  # seconds that the times of a word may be off
_LINE_SLACK = 0.4  # and those of a subtitle


@dataclass(frozen=True, slots=True)
class Timed:
    """Words that are said between two moments, in seconds."""

    text: str
    start: float
    end: float


@dataclass(frozen=True, slots=True)
class Wording:
    """text: as a script. times: when parts of it are said, if the file knows."""

    text: str
    times: tuple[Timed, ...] = ()


def guides_for(wording: Wording, words: Sequence[ScriptWord]) -> tuple[Guide, ...]:
    """Where the words of a script can be, as far as a file with times says so."""
    owners, texts = [], []
    for number, timed in enumerate(wording.times):
        spoken = script_words(timed.text)
        owners += [number] * len(spoken)
        texts += [plain(word.text) for word in spoken]
    found = match(texts, [plain(word.text) for word in words])
    guides, alone = [], Counter(owners)
    for index, number in found.items():
        timed = wording.times[owners[index]]
        slack = _SLACK if alone[owners[index]] == 1 else _LINE_SLACK
        guides.append(Guide(number, timed.start - slack, timed.end + slack))
    return tuple(guides)
