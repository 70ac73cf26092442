"""Edits of motion: how loudness is steered, the steps of the clean-up, and curves drawn by hand."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.audio.loudness_settings import LoudnessSettings, require_valid_loudness
from buccaphon.errors import ChannelError
from buccaphon.motion.hand import HandCurve, drawn_over, require_valid_curve
from buccaphon.motion.steps import MOST_STEPS, AnyStep, require_valid_step
from buccaphon.project.edits import Edit, TakeEdit, Touched
from buccaphon.project.edits.mouths import ChangeMouthSettings, Paint
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.texts import N_, _
from buccaphon.timing import Span


@dataclass(frozen=True, slots=True)
class ChangeLoudness(Edit):
    """Steer the loudness of the shown take."""

    TITLE = N_("Change the loudness settings")
    TOUCHES = Touched.MOUTHS

    loudness_settings: LoudnessSettings

    def apply(self, state: State) -> State:
        require_valid_loudness(self.loudness_settings)
        return state.with_take(replace(state.take, loudness_settings=self.loudness_settings)) if state.take else state


@dataclass(frozen=True, slots=True)
class SetSteps(Edit):
    """Clean up by these steps, in this order."""

    TITLE = N_("Change the clean-up")
    TOUCHES = Touched.MOUTHS

    steps: tuple[AnyStep, ...]

    def apply(self, state: State) -> State:
        if len(self.steps) > MOST_STEPS:
            raise ChannelError(
                _("the clean-up"),
                _("it has more than {most} steps", most=MOST_STEPS),
                _("Remove some first"),
            )
        for step in self.steps:
            require_valid_step(step)
        return state.with_role(steps=self.steps)


@dataclass(frozen=True, slots=True)
class SetCurve(Edit):
    """Draw over a channel of the shown take, in the place of what was drawn over it before; without points it is the
    machine's again."""

    TOUCHES = Touched.MOUTHS

    curve: HandCurve

    @property
    def default_name(self) -> str:
        return (
            _("Draw over {channel}", channel=self.curve.channel)
            if self.curve.points
            else _("Reset {channel}", channel=self.curve.channel)
        )

    def apply(self, state: State) -> State:
        require_valid_curve(self.curve)
        if state.take is None:
            return state
        others = [curve for curve in state.take.curves if curve.channel != self.curve.channel]
        drawn = [self.curve] if self.curve.points else []
        curves = tuple(sorted([*others, *drawn], key=lambda curve: curve.channel))
        return state.with_take(replace(state.take, curves=curves))


@dataclass(frozen=True, slots=True)
class PlaceLeftOver(Edit):
    """Put something that had no place in this take where it belongs; it begins there."""

    TITLE = N_("Place a leftover correction")
    TOUCHES = Touched.MOUTHS | Touched.NOTES

    number: int
    seconds: float

    def apply(self, state: State) -> State:
        unplaced = state.take.unplaced if state.take else ()
        if not 0 <= self.number < len(unplaced):
            return state
        piece = unplaced[self.number]
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
            return ChangeMouthSettings(piece.change, there).apply(state)
        return PutNote(there, piece.what).apply(state) if piece.kind == "note" else state


@dataclass(frozen=True, slots=True)
class DropLeftOver(TakeEdit):
    """Remove something from the list of what had no place in this take."""

    TITLE = N_("Remove a leftover correction")
    TOUCHES = Touched.MOUTHS

    number: int

    def on(self, take: Take, _state: State) -> Take:
        if not 0 <= self.number < len(take.unplaced):
            return take
        left = (*take.unplaced[: self.number], *take.unplaced[self.number + 1 :])
        return replace(take, unplaced=left)
