"""Corrections across another alignment: which word of the new one is which of the old, and what became of the pins."""

from __future__ import annotations

from collections.abc import Sequence

from buccaphon.alignment.request import Pin
from buccaphon.project.state import BoundaryPin, LostPin, Take
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Score
from buccaphon.speech.matching import matched, plain
from buccaphon.speech.script import ScriptWord


def carried_pins(pins: tuple[BoundaryPin, ...], before: Score, after: Score) -> tuple[BoundaryPin, ...]:
    """The pins whose word and phones are found again in another alignment, renumbered."""
    moved = _moved(before, after)
    return tuple(
        BoundaryPin(Boundary(moved[pin.boundary.word], pin.boundary.phone), pin.seconds)
        for pin in pins
        if pin.boundary.word in moved
    )


def lost_pins(pins: tuple[BoundaryPin, ...], before: Score, after: Score) -> tuple[LostPin, ...]:
    """The pins whose word is not found again, with where they were."""
    moved = _moved(before, after)
    return tuple(
        LostPin(before.words[pin.boundary.word].text, pin.seconds) for pin in pins if pin.boundary.word not in moved
    )


def _moved(before: Score, after: Score) -> dict[int, int]:
    old = [f"{plain(word.text)}/{len(word.phones)}" for word in before.words]
    new = [f"{plain(word.text)}/{len(word.phones)}" for word in after.words]
    return matched(old, new)


def known_pins(take: Take, words: Sequence[ScriptWord]) -> tuple[Pin, ...]:
    """A take's pins as constraints for aligning words that may have changed since."""
    if take.score is None:
        return ()
    old = [plain(word.text) for word in take.score.words]
    moved = matched(old, [plain(word.text) for word in words])
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
