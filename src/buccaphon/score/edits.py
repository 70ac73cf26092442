"""Edits of a score as pure functions: boundaries move, and what lies inside stretches with them."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import Enum

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
        yield from _boundaries_of(score, number, word)


def _boundaries_of(score: Score, number: int, word: Word) -> Iterator[tuple[Boundary, float]]:
    for place, phone in enumerate(word.phones):
        yield Boundary(number, place), phone.start
    if not _touches_next(score, number):
        yield Boundary(number, len(word.phones)), word.end


def boundaries_within(score: Score, span: Span) -> Iterator[tuple[Boundary, float]]:
    """Those of `boundaries` that belong to the words that are in a stretch of time or touch it."""
    first = bisect_left(score.words, span.start, key=_end_of)
    for number in range(first, len(score.words)):
        word = score.words[number]
        if word.start > span.end:
            return
        yield from _boundaries_of(score, number, word)


def _end_of(word: Word) -> float:
    return word.end


def boundary_time(score: Score, boundary: Boundary) -> float:
    word = score.words[boundary.word]
    return word.end if boundary.phone == len(word.phones) else word.phones[boundary.phone].start


class Inside(Enum):
    """What becomes of the sounds around a boundary that moves."""

    STRETCH = "all sounds of the word stretch in proportion"
    ALONE = "only the two sounds that meet there change"
    RIPPLE = "all that follows moves along"


def boundary_range(score: Score, boundary: Boundary, inside: Inside = Inside.STRETCH) -> Span:
    """From where to where a boundary can be moved without pushing anything away."""
    if inside is Inside.RIPPLE:
        at = boundary_time(score, boundary)
        lowest = _lowest(score, boundary, inside)
        return _between(lowest, at + score.duration - score.words[-1].end)
    return _between(_lowest(score, boundary, inside), _highest(score, boundary, inside))


def _lowest(score: Score, boundary: Boundary, inside: Inside) -> float:
    word = score.words[boundary.word]
    if boundary.phone > 0:
        whole = boundary.phone == len(word.phones) and inside is Inside.STRETCH
        return word.start + SHORTEST * len(word.phones) if whole else word.phones[boundary.phone - 1].start + SHORTEST
    if boundary.word == 0:
        return 0.0
    before = score.words[boundary.word - 1]
    if not _touches_next(score, boundary.word - 1):
        return before.end
    return (
        before.start + SHORTEST * len(before.phones) if inside is Inside.STRETCH else before.phones[-1].start + SHORTEST
    )


def _highest(score: Score, boundary: Boundary, inside: Inside) -> float:
    word = score.words[boundary.word]
    if boundary.phone == len(word.phones):
        last = boundary.word == len(score.words) - 1
        return score.duration if last else score.words[boundary.word + 1].start
    whole = boundary.phone == 0 and inside is Inside.STRETCH
    return word.end - SHORTEST * len(word.phones) if whole else word.phones[boundary.phone].end - SHORTEST


def _between(low: float, high: float) -> Span:
    """The span between two limits; where rounding has crossed them there is no room, only a point."""
    return Span(low, high) if low <= high else Span(high, high)


def move_boundary(score: Score, boundary: Boundary, seconds: float, inside: Inside = Inside.STRETCH) -> Score:
    """Put a boundary at a moment, as near as its range allows.

    Between two phones of a word only these two change. At the rim of a word all its phones stretch in proportion, and so
    do those of a word that touches it there; unless `inside` says otherwise.
    """
    target = boundary_range(score, boundary, inside).clamp(seconds)
    if inside is Inside.RIPPLE:
        return _ripple(score, boundary, target)
    word = score.words[boundary.word]
    changed: dict[int, Word] = {}
    inner = 0 < boundary.phone < len(word.phones)
    if inner or inside is Inside.ALONE:
        if boundary.phone < len(word.phones):
            changed[boundary.word] = _with_edge(word, boundary.phone, target, Side.RIGHT)
        if boundary.phone > 0:
            changed[boundary.word] = _with_edge(changed.get(boundary.word, word), boundary.phone, target, Side.LEFT)
        elif boundary.word > 0 and _touches_next(score, boundary.word - 1):
            before = score.words[boundary.word - 1]
            changed[boundary.word - 1] = _with_edge(before, len(before.phones), target, Side.LEFT)
        return score.with_words(changed)
    if boundary.phone > 0:
        return score.with_words({boundary.word: stretch(word, Span(word.start, target))})
    changed[boundary.word] = stretch(word, Span(target, word.end))
    if boundary.word > 0 and _touches_next(score, boundary.word - 1):
        before = score.words[boundary.word - 1]
        changed[boundary.word - 1] = stretch(before, Span(before.start, target))
    return score.with_words(changed)


class Side(Enum):
    """Which of the two sounds at a boundary."""

    LEFT = "left"
    RIGHT = "right"


def _with_edge(word: Word, place: int, seconds: float, side: Side) -> Word:
    """A word in which the phone to one side of a place begins, or ends, at another moment."""
    phones = list(word.phones)
    if side is Side.LEFT:
        phones[place - 1] = _with_times(phones[place - 1], phones[place - 1].start, seconds)
    else:
        phones[place] = _with_times(phones[place], seconds, phones[place].end)
    # Not by the constructor, which refuses gaps between phones: the one on the other side is changed next, or there is none.
    made = object.__new__(Word)
    object.__setattr__(made, "text", word.text)
    object.__setattr__(made, "phones", tuple(phones))
    return made


def _with_times(phone: Phone, start: float, end: float) -> Phone:
    return Phone(phone.symbol, start, end, phone.stress, phone.confidence)


def _ripple(score: Score, boundary: Boundary, target: float) -> Score:
    """Everything from a boundary on moved by as much as it; the sound before it, or the pause, takes up the difference."""
    by = target - boundary_time(score, boundary)
    word = score.words[boundary.word]
    kept, moved = word.phones[: boundary.phone], word.phones[boundary.phone :]
    changed: dict[int, Word] = {}
    if kept:
        kept = (*kept[:-1], _with_times(kept[-1], kept[-1].start, target))
    elif boundary.word > 0 and _touches_next(score, boundary.word - 1):
        before = score.words[boundary.word - 1]
        changed[boundary.word - 1] = _with_edge(before, len(before.phones), target, Side.LEFT)
    changed[boundary.word] = Word(word.text, (*kept, *(_with_times(p, p.start + by, p.end + by) for p in moved)))
    for number in range(boundary.word + 1, len(score.words)):
        changed[number] = _move(score.words[number], by)
    return score.with_words(changed)


def move_words(score: Score, first: int, end: int, start: float) -> Score:
    """Let the words from number `first` up to `end` start at another moment, as long as they are and as far apart, as near
    as their neighbours allow; those that touch them stretch."""
    group = score.words[first:end]
    length = group[-1].end - group[0].start
    touches_before, touches_after = first > 0 and _touches_next(score, first - 1), _touches_next(score, end - 1)
    lowest = _lowest(score, Boundary(first, 0), Inside.STRETCH)
    highest = score.duration
    if end < len(score.words):
        after = score.words[end]
        highest = after.end - SHORTEST * len(after.phones) if touches_after else after.start
    start = _between(lowest, highest - length).clamp(start)
    by = start - group[0].start
    changed = {first + n: _move(word, by) for n, word in enumerate(group)}
    if touches_before:
        before = score.words[first - 1]
        changed[first - 1] = stretch(before, Span(before.start, changed[first].start))
    if touches_after:
        after = score.words[end]
        changed[end] = stretch(after, Span(changed[end - 1].end, after.end))
    return score.with_words(changed)


def _move(word: Word, by: float) -> Word:
    return Word(word.text, tuple(_with_times(phone, phone.start + by, phone.end + by) for phone in word.phones))


def nearest_boundary(score: Score, seconds: float) -> Boundary | None:
    """The boundary nearest to a moment."""
    return min(boundaries(score), key=lambda each: abs(each[1] - seconds), default=(None, 0.0))[0]


def stretch(word: Word, span: Span) -> Word:
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
