"""Edits of when words and sounds are said, and of what is no speech at all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from buccaphon.project.edits import TakeEdit, Touched
from buccaphon.project.state import State
from buccaphon.project.take import BoundaryPin, Take
from buccaphon.score.edits import Boundary, Inside, boundary_time, move_boundary, move_words
from buccaphon.texts import N_, _
from buccaphon.timing import Span

_SAME = 1e-9  # seconds


@dataclass(frozen=True, slots=True)
class MoveBoundary(TakeEdit):
    """Move a word's or phone's boundary by hand, and pin it there."""

    TITLE = N_("Move a boundary")
    TOUCHES = Touched.TIMING | Touched.MOUTHS

    boundary: Boundary
    seconds: float
    inside: Inside = Inside.STRETCH

    def on(self, take: Take, state: State) -> Take:
        if state.score is None:
            return take
        score = move_boundary(state.score, self.boundary, self.seconds, self.inside)
        by = boundary_time(score, self.boundary) - boundary_time(state.score, self.boundary)
        pin = BoundaryPin(self.boundary, boundary_time(score, self.boundary))
        others = tuple(other for other in state.pins if other.boundary != self.boundary)
        if self.inside is Inside.RIPPLE:  # pins that follow move along
            others = tuple(
                replace(other, seconds=other.seconds + by) if other.boundary > self.boundary else other
                for other in others
            )
        return replace(take, score=score, pins=tuple(sorted((*others, pin), key=lambda p: p.boundary)))


@dataclass(frozen=True, slots=True)
class MoveWords(TakeEdit):
    """Let the words from number `first` up to `end` start elsewhere by hand, as long as they are, and pin where they begin
    and end."""

    TOUCHES = Touched.TIMING | Touched.MOUTHS

    first: int
    end: int
    seconds: float

    @property
    def default_name(self) -> str:
        return _("Move words") if self.end - self.first > 1 else _("Move a word")

    def on(self, take: Take, state: State) -> Take:
        before, first, end = state.score, self.first, self.end
        if before is None:
            return take
        score = move_words(before, first, end, self.seconds)
        by, last = score.words[first].start - before.words[first].start, score.words[end - 1]
        after = Boundary(end, 0)
        touches = end < len(score.words) and boundary_time(score, after) - last.end < _SAME
        rims = (Boundary(first, 0), after if touches else Boundary(end - 1, len(last.phones)))
        others = (pin for pin in state.pins if pin.boundary not in rims)
        kept = (replace(pin, seconds=pin.seconds + by) if first <= pin.boundary.word < end else pin for pin in others)
        pins = (*kept, *(BoundaryPin(rim, boundary_time(score, rim)) for rim in rims))
        return replace(take, score=score, pins=tuple(sorted(pins, key=lambda pin: pin.boundary)))


@dataclass(frozen=True, slots=True)
class Release(TakeEdit):
    """Give all boundaries in a stretch of time that were put in their place by hand back to the machine. They stay where
    they are until the next alignment."""

    TITLE = N_("Unpin")
    TOUCHES = Touched.TIMING

    span: Span

    def on(self, take: Take, state: State) -> Take:
        kept = tuple(pin for pin in state.pins if not self.span.start <= pin.seconds <= self.span.end)
        return replace(take, pins=kept)


@dataclass(frozen=True, slots=True)
class MarkNotSpeech(TakeEdit):
    """Mark a stretch as something other than the voice: music, a horn, somebody else."""

    TITLE = N_("Mark as not speech")
    TOUCHES = Touched.TIMING | Touched.MOUTHS

    span: Span

    def on(self, take: Take, _state: State) -> Take:
        return replace(take, not_speech=_joined((*take.not_speech, self.span)))


@dataclass(frozen=True, slots=True)
class UnmarkNotSpeech(TakeEdit):
    """Count a stretch as speech again."""

    TITLE = N_("Mark as speech again")
    TOUCHES = Touched.TIMING | Touched.MOUTHS

    span: Span

    def on(self, take: Take, _state: State) -> Take:
        left = [part for mark in take.not_speech for part in mark.outside(self.span)]
        return replace(take, not_speech=tuple(left))


def _joined(spans: Sequence[Span]) -> tuple[Span, ...]:
    """Spans in order, those that overlap or touch made one."""
    joined: list[Span] = []
    for span in sorted(spans):
        if joined and span.start <= joined[-1].end:
            joined[-1] = Span(joined[-1].start, max(joined[-1].end, span.end))
        else:
            joined.append(span)
    return tuple(joined)
