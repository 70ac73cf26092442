"""What is selected: words by their numbers, or stretches of mouths. Commands act on all of it at once."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from buccaphon.score.records import Score
from buccaphon.timing import Span


@dataclass(frozen=True, slots=True)
class Selection:
    """words: numbers, rising. mouths: stretches of seconds from the start of an exposure to its end, in order. Only one of
    the two holds anything; false when neither does."""

    words: tuple[int, ...] = ()
    mouths: tuple[Span, ...] = ()

    def __bool__(self) -> bool:
        return bool(self.words or self.mouths)

    def spans(self, score: Score | None) -> tuple[Span, ...]:
        """The stretches that are selected, in order; neighbouring words make one."""
        if self.words and score is not None:
            return tuple(
                Span(score.words[first].start, score.words[end - 1].end) for first, end in neighbours(self.words)
            )
        return self.mouths

    def whole(self, score: Score | None) -> Span | None:
        """From the first to the last of what is selected."""
        spans = self.spans(score)
        return Span(spans[0].start, spans[-1].end) if spans else None


NOTHING = Selection()


def neighbours(numbers: Sequence[int]) -> Iterator[tuple[int, int]]:
    """Rising numbers as ranges from a first up to, not including, an end."""
    first = 0
    for at in range(1, len(numbers) + 1):
        if at == len(numbers) or numbers[at] != numbers[at - 1] + 1:
            yield numbers[first], numbers[at - 1] + 1
            first = at


def words_toggled(selection: Selection, number: int) -> Selection:
    """With a word added, or taken out when it was in."""
    return Selection(words=tuple(sorted(set(selection.words) ^ {number})))


def words_up_to(selection: Selection, number: int) -> Selection:
    """From the first word that is selected to another."""
    start = selection.words[0] if selection.words else number
    return Selection(words=tuple(range(min(start, number), max(start, number) + 1)))


def mouths_toggled(selection: Selection, span: Span) -> Selection:
    """With an exposure added, or taken out when it was in."""
    return Selection(mouths=tuple(sorted(set(selection.mouths) ^ {span})))
