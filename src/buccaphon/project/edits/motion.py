"""Edits of motion: how loudness is steered, the steps of the clean-up, and curves drawn by hand."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.audio.loudness import Steering, require_sound_steering
from buccaphon.errors import ChannelError
from buccaphon.motion.hand import HandCurve, drawn_over, require_sound_curve
from buccaphon.motion.steps import MOST_STEPS, AnyStep, require_sound_step
from buccaphon.project.edits import Edit, Touched
from buccaphon.project.edits.mouths import Paint, SetManner
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.state import State
from buccaphon.timing import Span


@dataclass(frozen=True, slots=True)
class SetSteering(Edit):
    """Steer the loudness of the shown take."""

    TITLE = "Steer loudness"
    TOUCHES = Touched.MOUTHS

    steering: Steering

    def apply(self, state: State) -> State:
        require_sound_steering(self.steering)
        return state.with_take(replace(state.take, steering=self.steering)) if state.take else state


@dataclass(frozen=True, slots=True)
class SetSteps(Edit):
    """Clean up by these steps, in this order."""

    TITLE = "Change the clean-up"
    TOUCHES = Touched.MOUTHS

    steps: tuple[AnyStep, ...]

    def apply(self, state: State) -> State:
        if len(self.steps) > MOST_STEPS:
            raise ChannelError("the clean-up", f"it has more than {MOST_STEPS} steps", "Take some out first")
        for step in self.steps:
            require_sound_step(step)
        return replace(state, steps=self.steps)


@dataclass(frozen=True, slots=True)
class SetCurve(Edit):
    """Draw over a channel of the shown take, in the place of what was drawn over it before; without points it is the
    machine's again."""

    TOUCHES = Touched.MOUTHS

    curve: HandCurve

    @property
    def usual_name(self) -> str:
        return f"Draw over {self.curve.channel}" if self.curve.points else f"Give {self.curve.channel} back"

    def apply(self, state: State) -> State:
        require_sound_curve(self.curve)
        if state.take is None:
            return state
        others = [curve for curve in state.take.curves if curve.channel != self.curve.channel]
        drawn = [self.curve] if self.curve.points else []
        curves = tuple(sorted([*others, *drawn], key=lambda curve: curve.channel))
        return state.with_take(replace(state.take, curves=curves))


@dataclass(frozen=True, slots=True)
class PlaceLeftOver(Edit):
    """Put something that had no place in this take where it belongs; it begins there."""

    TITLE = "Put it where it belongs"
    TOUCHES = Touched.MOUTHS | Touched.NOTES

    number: int
    seconds: float

    def apply(self, state: State) -> State:
        take = state.take
        if take is None or not 0 <= self.number < len(take.left_over):
            return state
        piece = take.left_over[self.number]
        by = self.seconds - piece.span.start
        there = Span(self.seconds, self.seconds + piece.span.length)
        state = DropLeftOver(self.number).apply(state)
        if piece.painted is not None:
            return Paint(there, piece.painted.mouth).apply(state)
        if piece.curve is not None:
            points = tuple(replace(point, seconds=point.seconds + by) for point in piece.curve.points)
            known = state.curve_over(piece.curve.channel) or replace(piece.curve, points=())
            return SetCurve(drawn_over(known, points)).apply(state)
        if piece.change is not None:
            return SetManner(piece.change, there).apply(state)
        return PutNote(there, piece.what).apply(state) if piece.kind == "note" else state


@dataclass(frozen=True, slots=True)
class DropLeftOver(Edit):
    """Strike something off the list of what had no place in this take."""

    TITLE = "Strike off the list"
    TOUCHES = Touched.MOUTHS

    number: int

    def apply(self, state: State) -> State:
        take = state.take
        if take is None or not 0 <= self.number < len(take.left_over):
            return state
        left = (*take.left_over[: self.number], *take.left_over[self.number + 1 :])
        return state.with_take(replace(take, left_over=left))
