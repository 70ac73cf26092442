"""Edits of the scene: rate, numbering, holds and chart; and of the notes on it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.project.edits import Kind, whole_text
from buccaphon.project.state import Note, State
from buccaphon.timing import FrameRate, Span

_SAME = 1e-9  # seconds


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
        written = [Note(self.span, whole_text(self.text))] if self.text else []
        return state.with_take(notes=tuple(sorted((*others, *written), key=lambda note: note.span)))
