"""Edits of the mouths that were painted by hand."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.mouths.choosing import Painted
from buccaphon.mouths.pose import Pose
from buccaphon.project.edits import Edit, Touched, whole_text
from buccaphon.project.state import State
from buccaphon.timing import Span


@dataclass(frozen=True, slots=True)
class Paint(Edit):
    """Put a mouth on a stretch of time by hand. pose, contact: what it looks like where it comes from, for a chart that has
    none of its name."""

    TOUCHES = Touched.MOUTHS

    span: Span
    mouth: str
    pose: Pose | None = None
    contact: bool = False

    @property
    def usual_name(self) -> str:
        return f"Paint {self.mouth}"

    def apply(self, state: State) -> State:
        take = state.take
        if take is None:
            return state
        found = next((mouth for mouth in state.chart_in_use.mouths if mouth.name == self.mouth), None)
        looks = (found.pose, found.contact) if found else (self.pose, self.contact)
        painted = Painted(self.span, whole_text(self.mouth), *looks)
        return state.with_take(replace(take, painted=(*_without(state.painted, self.span), painted)))


@dataclass(frozen=True, slots=True)
class Unpaint(Edit):
    """Give a stretch of time back to the machine."""

    TITLE = "Give the mouth back"
    TOUCHES = Touched.MOUTHS

    span: Span

    def apply(self, state: State) -> State:
        take = state.take
        if take is None:
            return state
        return state.with_take(replace(take, painted=_without(state.painted, self.span)))


def _without(painted: tuple[Painted, ...], span: Span) -> tuple[Painted, ...]:
    """What is painted outside a span; what lies across its ends is cut there."""
    return tuple(replace(paint, span=part) for paint in painted for part in paint.span.outside(span))
