"""Edits of when words and sounds are said, and of what is no speech at all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from buccaphon.project.edits import Kind
from buccaphon.project.state import BoundaryPin, State
from buccaphon.score.edits import Boundary, Inside, boundary_time, move_boundary, move_words
from buccaphon.timing import Span

_SAME = 1e-9  # seconds


@dataclass(frozen=True, slots=True)
class MoveBoundary:
    """Move a word's or phone's boundary by hand, and pin it there."""

    boundary: Boundary
    seconds: float
    gesture: str = ""
    inside: Inside = Inside.STRETCH
    name: str = "Move a boundary"
    kind: Kind = Kind.TIMING | Kind.MOUTHS

    def apply(self, state: State) -> State:
        if state.score is None:
            return state
        score = move_boundary(state.score, self.boundary, self.seconds, self.inside)
        by = boundary_time(score, self.boundary) - boundary_time(state.score, self.boundary)
        pin = BoundaryPin(self.boundary, boundary_time(score, self.boundary))
        others = tuple(other for other in state.pins if other.boundary != self.boundary)
        if self.inside is Inside.RIPPLE:  # pins that follow move along
            others = tuple(
                replace(other, seconds=other.seconds + by) if other.boundary > self.boundary else other
                for other in others
            )
        return state.with_take(score=score, pins=tuple(sorted((*others, pin), key=lambda p: p.boundary)))


@dataclass(frozen=True, slots=True)
class MoveWords:
    """Let the words from number `first` up to `end` start elsewhere by hand, as long as they are, and pin where they begin
    and end."""

    first: int
    end: int
    seconds: float
    gesture: str = ""
    kind: Kind = Kind.TIMING | Kind.MOUTHS

    @property
    def name(self) -> str:
        return "Move words" if self.end - self.first > 1 else "Move a word"

    def apply(self, state: State) -> State:
        before, first, end = state.score, self.first, self.end
        if before is None:
            return state
        score = move_words(before, first, end, self.seconds)
        by, last = score.words[first].start - before.words[first].start, score.words[end - 1]
        after = Boundary(end, 0)
        touches = end < len(score.words) and boundary_time(score, after) - last.end < _SAME
        rims = (Boundary(first, 0), after if touches else Boundary(end - 1, len(last.phones)))
        others = (pin for pin in state.pins if pin.boundary not in rims)
        kept = (replace(pin, seconds=pin.seconds + by) if first <= pin.boundary.word < end else pin for pin in others)
        pins = (*kept, *(BoundaryPin(rim, boundary_time(score, rim)) for rim in rims))
        return state.with_take(score=score, pins=tuple(sorted(pins, key=lambda pin: pin.boundary)))


@dataclass(frozen=True, slots=True)
class Release:
    """Give all boundaries in a stretch of time that were put in their place by hand back to the machine. They stay where
    they are until the next alignment."""

    span: Span
    name: str = "Release pins"
    kind: Kind = Kind.TIMING
    gesture: str = ""

    def apply(self, state: State) -> State:
        kept = tuple(pin for pin in state.pins if not self.span.start <= pin.seconds <= self.span.end)
        return state.with_take(pins=kept)


@dataclass(frozen=True, slots=True)
class MarkNotSpeech:
    """Mark a stretch as something other than the voice: music, a horn, somebody else."""

    span: Span
    name: str = "Mark as not speech"
    kind: Kind = Kind.TIMING | Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        if state.take is None:
            return state
        return state.with_take(not_speech=_joined((*state.take.not_speech, self.span)))


@dataclass(frozen=True, slots=True)
class UnmarkNotSpeech:
    """Count a stretch as speech again."""

    span: Span
    name: str = "Count as speech again"
    kind: Kind = Kind.TIMING | Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        if state.take is None:
            return state
        left = [part for mark in state.take.not_speech for part in mark.outside(self.span)]
        return state.with_take(not_speech=tuple(left))


def _joined(spans: Sequence[Span]) -> tuple[Span, ...]:
    """Spans in order, those that overlap or touch made one."""
    joined: list[Span] = []
    for span in sorted(spans):
        if joined and span.start <= joined[-1].end:
            joined[-1] = Span(joined[-1].start, max(joined[-1].end, span.end))
        else:
            joined.append(span)
    return tuple(joined)
