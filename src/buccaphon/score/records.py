"""Words and phones with their times; frozen, self-checking, in seconds."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from buccaphon.timing import Span

Doubles = npt.NDArray[np.float64]

DOUBTFUL = 0.55  # confidence below which a word is marked for a look
SHORTEST = 0.005  # seconds; no phone may be shorter, so that every boundary can be grabbed again


@dataclass(frozen=True, slots=True)
class Phone:
    """One speech sound. symbol: IPA. stress: 0, 1 or 2. confidence: 0..1, that its start lies within a frame at 24 fps."""

    symbol: str
    start: float
    end: float
    stress: int = 0
    confidence: float = 1.0

    def __post_init__(self) -> None:
        if not self.start < self.end:
            raise ValueError(f"phone {self.symbol} would end ({self.end}) before it starts ({self.start})")

    @property
    def span(self) -> Span:
        return Span(self.start, self.end)


@dataclass(frozen=True, slots=True)
class Word:
    """A word as typed and its phones, which follow each other without a gap."""

    text: str
    phones: tuple[Phone, ...]

    def __post_init__(self) -> None:
        if not self.phones:
            raise ValueError(f"word {self.text!r} has no phones")
        for left, right in zip(self.phones, self.phones[1:], strict=False):
            if not math.isclose(left.end, right.start, abs_tol=1e-9):
                raise ValueError(f"the phones of {self.text!r} part at {left.end}")

    @property
    def start(self) -> float:
        return self.phones[0].start

    @property
    def end(self) -> float:
        return self.phones[-1].end

    @property
    def span(self) -> Span:
        return Span(self.start, self.end)

    @property
    def confidence(self) -> float:
        """That of its least sure phone."""
        return min(phone.confidence for phone in self.phones)


def _require_order(words: Sequence[Word]) -> None:
    for left, right in pairwise(words):
        if left.phones[-1].end > right.phones[0].start + 1e-9:
            raise ValueError(f"{left.text!r} ends at {left.end}, after {right.text!r} starts at {right.start}")


def _start(word: Word) -> float:
    return word.phones[0].start


@dataclass(frozen=True, slots=True)
class Score:
    """The words of a recording in order, without overlaps; the gaps between them are pauses."""

    words: tuple[Word, ...]
    duration: float
    _rims: Doubles | None = field(default=None, init=False, compare=False, repr=False)

    def __post_init__(self) -> None:
        _require_order(self.words)

    @property
    def rims(self) -> Doubles:
        """(2, words) seconds at which the words start and end."""
        rims = self._rims
        if rims is None:
            starts = [word.phones[0].start for word in self.words]
            ends = [word.phones[-1].end for word in self.words]
            rims = np.array([starts, ends])
            object.__setattr__(self, "_rims", rims)
        return rims

    def phones(self) -> Iterator[Phone]:
        for word in self.words:
            yield from word.phones

    def with_words(self, changed: Mapping[int, Word]) -> Score:
        """The score with some of its words replaced, all at once."""
        words = list(self.words)
        for index, word in changed.items():
            words[index] = word
        for index in changed:  # all others were in order before
            _require_order(words[max(index - 1, 0) : index + 2])
        # Not by the constructor, which would look at the order of all words again: of an hour, once in every move of a drag.
        # What it looks at holds: the words around those that changed were looked at above.
        made = object.__new__(Score)
        object.__setattr__(made, "words", tuple(words))
        object.__setattr__(made, "duration", self.duration)
        rims = self._rims.copy() if self._rims is not None else None
        if rims is not None:
            for index, word in changed.items():
                rims[:, index] = word.phones[0].start, word.phones[-1].end
        object.__setattr__(made, "_rims", rims)
        return made

    def word_at(self, seconds: float) -> int | None:
        """The index of the word that is being said at a moment."""
        index = bisect_right(self.words, seconds, key=_start) - 1
        return index if index >= 0 and seconds < self.words[index].end else None

    def phone_at(self, seconds: float) -> Phone | None:
        index = self.word_at(seconds)
        if index is None:
            return None
        return next((p for p in self.words[index].phones if p.start <= seconds < p.end), None)


@dataclass(frozen=True, slots=True)
class Note:
    """Written beside the line at a stretch of the recording, in seconds; at a single frame when no longer than that."""

    span: Span
    text: str
