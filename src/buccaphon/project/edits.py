"""Edits: what can be done to a project, each a record with a name for the undo menu and a pure `apply`."""

from __future__ import annotations

import functools
import operator
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import Flag, auto
from pathlib import Path
from typing import Any, Protocol

from buccaphon.audio.recording import Channel
from buccaphon.mouths.choosing import Painted
from buccaphon.project.corrections import carried_pins, lost_pins
from buccaphon.project.state import BoundaryPin, Note, State, Take
from buccaphon.score.edits import Boundary, Inside, boundary_time, move_boundary, move_words
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import Lexicon
from buccaphon.timing import FrameRate, Span

_SAME = 1e-9  # seconds


class Kind(Flag):
    """What an edit touched, so that views redraw only that."""

    SOUND = auto()
    SCRIPT = auto()
    TIMING = auto()
    MOUTHS = auto()
    SCENE = auto()
    ALL = SOUND | SCRIPT | TIMING | MOUTHS | SCENE


class Edit(Protocol):
    """One change. Edits with an equal, non-empty `gesture` that follow each other are one step to undo."""

    @property
    def name(self) -> str: ...
    @property
    def kind(self) -> Kind: ...
    @property
    def gesture(self) -> str: ...
    def apply(self, state: State) -> State: ...


@dataclass(frozen=True, slots=True)
class Together:
    """Several edits as one step."""

    edits: tuple[Edit, ...]
    name: str
    gesture: str = ""

    @property
    def kind(self) -> Kind:
        return functools.reduce(operator.or_, (edit.kind for edit in self.edits), Kind(0))

    def apply(self, state: State) -> State:
        for edit in self.edits:
            state = edit.apply(state)
        return state


@dataclass(frozen=True, slots=True)
class AddTake:
    """Bring in another recording and show it. The takes that are there stay as they are."""

    take: Take
    script: str | None = None
    name: str = "Bring in a recording"
    kind: Kind = Kind.ALL
    gesture: str = ""

    def apply(self, state: State) -> State:
        script = state.script if self.script is None else self.script
        return replace(state, takes=(*state.takes, self.take), shown=len(state.takes), script=script)


@dataclass(frozen=True, slots=True)
class ShowTake:
    """Show another take: it is heard and drives the mouth from now on."""

    number: int
    name: str = "Show another take"
    kind: Kind = Kind.ALL
    gesture: str = ""

    def apply(self, state: State) -> State:
        return replace(state, shown=self.number)


@dataclass(frozen=True, slots=True)
class RemoveTake:
    """Take a recording out of the project; its file stays where it is."""

    number: int
    name: str = "Remove a take"
    kind: Kind = Kind.ALL
    gesture: str = ""

    def apply(self, state: State) -> State:
        takes = (*state.takes[: self.number], *state.takes[self.number + 1 :])
        shown = state.shown - (state.shown > self.number)
        return state.with_takes(*takes, shown=max(min(shown, len(takes) - 1), 0))


@dataclass(frozen=True, slots=True)
class ChangeTake:
    """Change the shown take's name, channel, muting, place in the scene or trims. None leaves a thing as it is."""

    title: str | None = None
    channel: Channel | None = None
    muted: bool | None = None
    offset: float | None = None
    used: Span | None = None
    path: Path | None = None
    digest: str | None = None
    name: str = "Change the take"
    gesture: str = ""

    @property
    def kind(self) -> Kind:
        sound = self.channel is not None or self.path is not None
        return Kind.ALL if sound else Kind.SCENE | Kind.MOUTHS

    def apply(self, state: State) -> State:
        given: dict[str, Any] = {
            "name": self.title,
            "channel": self.channel,
            "muted": self.muted,
            "offset": self.offset,
        }
        given |= {"path": self.path, "digest": self.digest}
        if self.used is not None:
            given |= {"trim_in": self.used.start, "trim_out": self.used.end}
        return state.with_take(**{key: value for key, value in given.items() if value is not None})


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
        left = [part for mark in state.take.not_speech for part in _outside(mark, self.span)]
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


def _outside(span: Span, hole: Span) -> list[Span]:
    """What of a span lies outside another."""
    if span.overlap(hole) <= 0:
        return [span]
    left = [Span(span.start, hole.start)] if span.start < hole.start else []
    return left + ([Span(hole.end, span.end)] if span.end > hole.end else [])


@dataclass(frozen=True, slots=True)
class SetScript:
    """Type the words. Timings stay as they are until the next alignment."""

    text: str
    name: str = "Type the script"
    kind: Kind = Kind.SCRIPT
    gesture: str = "typing"

    def apply(self, state: State) -> State:
        return replace(state, script=self.text)


@dataclass(frozen=True, slots=True)
class SetLanguage:
    """Say what language is spoken. All takes are to be aligned anew."""

    language: str
    name: str = "Choose the language"
    kind: Kind = Kind.SCRIPT
    gesture: str = ""

    def apply(self, state: State) -> State:
        takes = tuple(replace(take, aligned_script="") for take in state.takes)
        return replace(state, language=self.language, takes=takes if self.language != state.language else state.takes)


@dataclass(frozen=True, slots=True)
class SetScene:
    """Change rate, numbering or how drawings are held. Seconds stay; only the bake follows."""

    rate: FrameRate | None = None
    start_frame: int | None = None
    hold: int | None = None
    chart: str | None = None
    name: str = "Change the scene"
    kind: Kind = Kind.SCENE | Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        return replace(
            state,
            rate=self.rate or state.rate,
            start_frame=state.start_frame if self.start_frame is None else self.start_frame,
            hold=state.hold if self.hold is None else self.hold,
            chart=self.chart or state.chart,
        )


@dataclass(frozen=True, slots=True)
class TakeAlignment:
    """Put freshly aligned words in place. Pins are applied again where their word is still there."""

    score: Score
    script: str
    name: str = "Align"
    kind: Kind = Kind.SCRIPT | Kind.TIMING | Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        kept = carried_pins(state.pins, state.score, self.score) if state.score else ()
        lost = lost_pins(state.pins, state.score, self.score) if state.score else ()
        score = self.score
        for pin in kept:
            if abs(boundary_time(score, pin.boundary) - pin.seconds) > _SAME:
                score = move_boundary(score, pin.boundary, pin.seconds)
        before = state.take.lost if state.take else ()
        return state.with_take(score=score, aligned_script=self.script, pins=kept, lost=(*before, *lost))


@dataclass(frozen=True, slots=True)
class ForgetLostPins:
    """Take the list of corrections whose word is gone off the page."""

    name: str = "Forget corrections that lost their word"
    kind: Kind = Kind.SCRIPT
    gesture: str = ""

    def apply(self, state: State) -> State:
        return state.with_take(lost=())


@dataclass(frozen=True, slots=True)
class PutNote:
    """Write a note at a stretch of time, in the place of one that begins there; an empty one takes it away."""

    span: Span
    text: str
    name: str = "Note"
    kind: Kind = Kind.SCRIPT
    gesture: str = ""

    def apply(self, state: State) -> State:
        if state.take is None:
            return state
        others = [note for note in state.take.notes if abs(note.span.start - self.span.start) > _SAME]
        written = [Note(self.span, self.text)] if self.text else []
        return state.with_take(notes=tuple(sorted((*others, *written), key=lambda note: note.span)))


@dataclass(frozen=True, slots=True)
class SetLexicon:
    """Say how words are pronounced in this project."""

    lexicon: Lexicon
    name: str = "Set a pronunciation"
    kind: Kind = Kind.SCRIPT
    gesture: str = ""

    def apply(self, state: State) -> State:
        return replace(state, lexicon=self.lexicon)


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
class Paint:
    """Put a mouth on a stretch of time by hand."""

    span: Span
    mouth: str
    gesture: str = ""
    kind: Kind = Kind.MOUTHS

    @property
    def name(self) -> str:
        return f"Paint {self.mouth}"

    def apply(self, state: State) -> State:
        return state.with_take(painted=(*_without(state.painted, self.span), Painted(self.span, self.mouth)))


@dataclass(frozen=True, slots=True)
class Unpaint:
    """Give a stretch of time back to the machine."""

    span: Span
    name: str = "Give the mouth back"
    kind: Kind = Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        return state.with_take(painted=_without(state.painted, self.span))


def _without(painted: tuple[Painted, ...], span: Span) -> tuple[Painted, ...]:
    """What is painted outside a span; what lies across its ends is cut there."""
    return tuple(replace(paint, span=part) for paint in painted for part in _outside(paint.span, span))
