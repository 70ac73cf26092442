"""Corrections carried on: across another alignment of the same recording, and over to another take of the line."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from buccaphon.alignment.request import Pin
from buccaphon.arrays import Doubles
from buccaphon.mouths.choosing import Painted
from buccaphon.project.state import BoundaryPin, LostPin, Take
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Note, Score, Word
from buccaphon.speech.matching import match, plain
from buccaphon.speech.script import ScriptWord
from buccaphon.timing import Span

_SAME = 1e-9  # seconds


@dataclass(frozen=True, eq=False)
class TimeMap:
    """From the seconds of one score to those of another, in straight pieces between what is said in both.

    before, after: (n,) rising seconds; beyond the first and last the two run side by side.
    """

    before: Doubles
    after: Doubles

    def __call__(self, seconds: float) -> float:
        if not len(self.before) or seconds <= self.before[0]:
            return seconds + (float(self.after[0] - self.before[0]) if len(self.before) else 0.0)
        if seconds >= self.before[-1]:
            return seconds + float(self.after[-1] - self.before[-1])
        return float(np.interp(seconds, self.before, self.after))

    def span(self, span: Span) -> Span:
        """Where a stretch lies then."""
        start = self(span.start)
        return Span(start, max(self(span.end), start))


def time_map(before: Score, after: Score) -> TimeMap:
    """The map between two scores of the same words, or nearly the same: through the phones of every word that is said alike
    in both, and through the rims of the others that are found again."""
    pairs: list[tuple[float, float]] = []
    for number, other in sorted(_same_words(before, after, _called).items()):
        old, new = before.words[number], after.words[other]
        if len(old.phones) == len(new.phones):
            pairs += [(a.start, b.start) for a, b in zip(old.phones, new.phones, strict=True)]
        else:
            pairs.append((old.start, new.start))
        pairs.append((old.end, new.end))
    kept: list[tuple[float, float]] = []
    for pair in pairs:  # where words touch, the end of one is the start of the next
        if not kept or (pair[0] > kept[-1][0] + _SAME and pair[1] >= kept[-1][1]):
            kept.append(pair)
    return TimeMap(np.array([a for a, _ in kept]), np.array([b for _, b in kept]))


def carry_over(known: Take, onto: Take) -> Take:
    """A take with the corrections of another one of the same line beside its own: pins and painted mouths, notes, and
    the stretches with a manner of their own, each where what it sits on is said. Both must be aligned."""
    if known.score is None or onto.score is None:
        return onto
    there = time_map(known.score, onto.score)
    pins = tuple(replace(pin, seconds=there(pin.seconds)) for pin in carry_pins(known.pins, known.score, onto.score))
    own = {pin.boundary for pin in onto.pins}
    added = tuple(pin for pin in pins if pin.boundary not in own)
    painted = tuple(replace(paint, span=there.span(paint.span)) for paint in known.painted)
    notes = tuple(Note(there.span(note.span), note.text) for note in known.notes)
    return replace(
        onto,
        pins=tuple(sorted((*onto.pins, *added), key=lambda pin: pin.boundary)),
        painted=(*_outside(painted, onto.painted), *onto.painted),
        manners=onto.manners or tuple(replace(part, span=there.span(part.span)) for part in known.manners),
        left=(*onto.left, *(replace(mark, span=there.span(mark.span)) for mark in known.left)),
        notes=tuple(sorted((*onto.notes, *notes), key=lambda note: note.span)),
        lost=(*onto.lost, *lose_pins(known.pins, known.score, onto.score)),
    )


def _outside(painted: Sequence[Painted], others: Sequence[Painted]) -> list[Painted]:
    """What is painted where nothing else is."""
    left = list(painted)
    for other in others:
        left = [replace(paint, span=part) for paint in left for part in paint.span.outside(other.span)]
    return left


def carry_pins(pins: tuple[BoundaryPin, ...], before: Score, after: Score) -> tuple[BoundaryPin, ...]:
    """The pins whose word and phones are found again in another alignment, renumbered; their seconds stay."""
    moved = _same_words(before, after, _with_count)
    return tuple(
        BoundaryPin(Boundary(moved[pin.boundary.word], pin.boundary.phone), pin.seconds)
        for pin in pins
        if pin.boundary.word in moved
    )


def lose_pins(pins: tuple[BoundaryPin, ...], before: Score, after: Score) -> tuple[LostPin, ...]:
    """The pins whose word is not found again, with where they were."""
    moved = _same_words(before, after, _with_count)
    return tuple(
        LostPin(before.words[pin.boundary.word].text, pin.seconds) for pin in pins if pin.boundary.word not in moved
    )


def known_pins(take: Take, words: Sequence[ScriptWord]) -> tuple[Pin, ...]:
    """A take's pins as constraints for aligning words that may have changed since."""
    if take.score is None:
        return ()
    old = [plain(word.text) for word in take.score.words]
    moved = match(old, [plain(word.text) for word in words])
    return tuple(
        Pin(moved[pin.boundary.word], pin.boundary.phone, len(take.score.words[pin.boundary.word].phones), pin.seconds)
        for pin in take.pins
        if pin.boundary.word in moved
    )


def changed_words(score: Score, words: Sequence[ScriptWord]) -> tuple[int, int]:
    """The words of a score, from first up to last, in whose place others have been typed; empty when none were."""
    old, new = [plain(word.text) for word in score.words], [plain(word.text) for word in words]
    first = 0
    while first < min(len(old), len(new)) and old[first] == new[first]:
        first += 1
    same_after = 0
    while same_after < min(len(old), len(new)) - first and old[-1 - same_after] == new[-1 - same_after]:
        same_after += 1
    return first, len(old) - same_after


def _same_words(before: Score, after: Score, name: Callable[[Word], str]) -> dict[int, int]:
    """The words that are found again, by what they are called, in order: their numbers there."""
    return match([name(word) for word in before.words], [name(word) for word in after.words])


def _called(word: Word) -> str:
    return plain(word.text)


def _with_count(word: Word) -> str:
    """Said with as many sounds, so that a boundary between two of them is the same one."""
    return f"{plain(word.text)}/{len(word.phones)}"
