"""Edits: what can be done to a project, each a record with a name for the undo menu and a pure `apply`."""

from __future__ import annotations

import difflib
from dataclasses import dataclass, replace
from enum import Flag, auto
from pathlib import Path
from typing import Protocol

from buccaphon.mouths.choosing import Painted
from buccaphon.project.state import BoundaryPin, State
from buccaphon.score.edits import Boundary, boundary_time, move_boundary
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate, Span


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
class SetRecording:
    """Bring in a recording. A new one starts without timings; what was painted on the old one goes with it."""

    path: Path
    script: str | None = None
    name: str = "Bring in a recording"
    kind: Kind = Kind.ALL
    gesture: str = ""

    def apply(self, state: State) -> State:
        script = state.script if self.script is None else self.script
        return replace(state, recording=self.path, script=script, score=None, aligned_script="", pins=(), painted=())


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
    kind: Kind = Kind.TIMING | Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        kept = carried_pins(state.pins, state.score, self.score) if state.score else ()
        score = self.score
        for pin in kept:
            score = move_boundary(score, pin.boundary, pin.seconds)
        return replace(state, score=score, aligned_script=self.script, pins=kept)


@dataclass(frozen=True, slots=True)
class MoveBoundary:
    """Move a word's or phone's boundary by hand, and pin it there."""

    boundary: Boundary
    seconds: float
    gesture: str = ""
    name: str = "Move a boundary"
    kind: Kind = Kind.TIMING | Kind.MOUTHS

    def apply(self, state: State) -> State:
        if state.score is None:
            return state
        score = move_boundary(state.score, self.boundary, self.seconds)
        pin = BoundaryPin(self.boundary, boundary_time(score, self.boundary))
        others = tuple(other for other in state.pins if other.boundary != self.boundary)
        return replace(state, score=score, pins=tuple(sorted((*others, pin), key=lambda p: p.boundary)))


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
        return replace(state, painted=(*_without(state.painted, self.span), Painted(self.span, self.mouth)))


@dataclass(frozen=True, slots=True)
class Unpaint:
    """Give a stretch of time back to the machine."""

    span: Span
    name: str = "Give the mouth back"
    kind: Kind = Kind.MOUTHS
    gesture: str = ""

    def apply(self, state: State) -> State:
        return replace(state, painted=_without(state.painted, self.span))


def _without(painted: tuple[Painted, ...], span: Span) -> tuple[Painted, ...]:
    """What is painted outside a span; what lies across its ends is cut there."""
    kept: list[Painted] = []
    for paint in painted:
        if paint.span.overlap(span) <= 0:
            kept.append(paint)
            continue
        if paint.span.start < span.start:
            kept.append(replace(paint, span=Span(paint.span.start, span.start)))
        if paint.span.end > span.end:
            kept.append(replace(paint, span=Span(span.end, paint.span.end)))
    return tuple(kept)


def carried_pins(pins: tuple[BoundaryPin, ...], before: Score, after: Score) -> tuple[BoundaryPin, ...]:
    """The pins whose word and phones are found again in another alignment, renumbered."""
    old = [_signature(word.text, len(word.phones)) for word in before.words]
    new = [_signature(word.text, len(word.phones)) for word in after.words]
    blocks = difflib.SequenceMatcher(None, old, new, autojunk=False).get_matching_blocks()
    moved = {i + k: j + k for i, j, n in blocks for k in range(n)}
    return tuple(
        BoundaryPin(Boundary(moved[pin.boundary.word], pin.boundary.phone), pin.seconds)
        for pin in pins
        if pin.boundary.word in moved
    )


def _signature(text: str, phones: int) -> str:
    return f"{text.lower().strip('.,;:!?…')}/{phones}"
