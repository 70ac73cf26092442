"""Edits of a score as pure functions: boundaries move, and what lies inside stretches with them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from buccaphon.score.records import SHORTEST, Phone, Score, Word
from buccaphon.timing import Span

_TOUCHING = 1e-6  # seconds; words closer than this share their boundary


@dataclass(frozen=True, slots=True, order=True)
class Boundary:
    """A place where something starts or ends: before phone number `phone` of word number `word`.

    0 is the start of the word, the number of its phones its end. Where two words touch, the start of the later one
    stands for both.
    """

    word: int
    phone: int


def boundaries(score: Score) -> Iterator[tuple[Boundary, float]]:
    """All boundaries in order of time, shared ones once."""
    for number, word in enumerate(score.words):
        for place, phone in enumerate(word.phones):
            yield Boundary(number, place), phone.start
        if not _touches_next(score, number):
            yield Boundary(number, len(word.phones)), word.end


def boundary_time(score: Score, boundary: Boundary) -> float:
    word = score.words[boundary.word]
    return word.end if boundary.phone == len(word.phones) else word.phones[boundary.phone].start


def boundary_range(score: Score, boundary: Boundary) -> Span:
    """From where to where a boundary can be moved without pushing anything away."""
    word = score.words[boundary.word]
    if 0 < boundary.phone < len(word.phones):
        left, right = word.phones[boundary.phone - 1], word.phones[boundary.phone]
        return _between(left.start + SHORTEST, right.end - SHORTEST)
    room = SHORTEST * len(word.phones)
    if boundary.phone == 0:
        if boundary.word == 0:
            return _between(0.0, word.end - room)
        before = score.words[boundary.word - 1]
        touching = _touches_next(score, boundary.word - 1)
        lowest = before.start + SHORTEST * len(before.phones) if touching else before.end
        return _between(lowest, word.end - room)
    last = boundary.word == len(score.words) - 1
    return _between(word.start + room, score.duration if last else score.words[boundary.word + 1].start)


def _between(low: float, high: float) -> Span:
    """The span between two limits; where rounding has crossed them there is no room, only a point."""
    return Span(low, high) if low <= high else Span(high, high)


def move_boundary(score: Score, boundary: Boundary, seconds: float) -> Score:
    """Put a boundary at a moment, as near as its range allows.

    Between two phones of a word only these two change. At the rim of a word all its phones stretch in proportion, and so
    do those of a word that touches it there.
    """
    target = boundary_range(score, boundary).clamp(seconds)
    word = score.words[boundary.word]
    if 0 < boundary.phone < len(word.phones):
        phones = list(word.phones)
        phones[boundary.phone - 1] = replace(phones[boundary.phone - 1], end=target)
        phones[boundary.phone] = replace(phones[boundary.phone], start=target)
        return score.with_words({boundary.word: replace(word, phones=tuple(phones))})
    if boundary.phone > 0:
        return score.with_words({boundary.word: stretched(word, Span(word.start, target))})
    changed = {boundary.word: stretched(word, Span(target, word.end))}
    if boundary.word > 0 and _touches_next(score, boundary.word - 1):
        before = score.words[boundary.word - 1]
        changed[boundary.word - 1] = stretched(before, Span(before.start, target))
    return score.with_words(changed)


def stretched(word: Word, span: Span) -> Word:
    """A word brought to another span, its phones in proportion but none under the shortest a phone may be."""
    count = len(word.phones)
    spare = span.length - SHORTEST * count
    lengths = [max(phone.end - phone.start - SHORTEST, 0.0) for phone in word.phones]
    total = sum(lengths)
    shares = [length / total for length in lengths] if total else [1 / count] * count
    edges = [span.start]
    for share in shares:
        edges.append(edges[-1] + SHORTEST + spare * share)
    edges[-1] = span.end
    pairs = zip(word.phones, edges, edges[1:], strict=False)
    return Word(word.text, tuple(Phone(p.symbol, start, end, p.stress, p.confidence) for p, start, end in pairs))


def shifted(score: Score, seconds: float, duration: float) -> Score:
    """A score of a part of a recording as one of the whole. seconds: where the part begins. duration: of the whole."""
    words = tuple(
        replace(word, phones=tuple(replace(p, start=p.start + seconds, end=p.end + seconds) for p in word.phones))
        for word in score.words
    )
    return Score(words, duration)


def _touches_next(score: Score, number: int) -> bool:
    words = score.words
    return number + 1 < len(words) and words[number + 1].start - words[number].end < _TOUCHING
