"""Edits of the mouths that were painted by hand."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.mouths.chart import find_chart
from buccaphon.mouths.choosing import Painted
from buccaphon.project.edits import Kind
from buccaphon.project.state import State
from buccaphon.timing import Span


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
        chart = find_chart(state.chart)
        found = next((mouth for mouth in chart.mouths if mouth.name == self.mouth), None)
        looks = (found.pose, found.contact) if found else (None, False)
        painted = Painted(self.span, self.mouth, *looks)
        return state.with_take(painted=(*_without(state.painted, self.span), painted))


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
    return tuple(replace(paint, span=part) for paint in painted for part in paint.span.outside(span))
