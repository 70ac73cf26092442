"""What a lane is: what it says, shows, paints, and what the hand can do in it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtGui import QPainter

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.gesture import Gesture, Press, no_grip
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.app.session.session import Session


def _nothing(_session: Session, _seconds: float) -> str:
    return ""


@dataclass(frozen=True, slots=True)
class LaneSpec:
    """hint: on hovering. paint: a strip's lane of some pixels' height, its top at y = 0; at least what lies in
    `StripContent.near`. shows: everything that the picture depends on beyond the strip's place and size; what is drawn for a
    part stays within it but for a few pixels. press: the gesture that a press begins. grips, lifts: whether something can be
    dragged sideways there, or up and down. tells: what is known of a moment, on hovering, before the hint. The usual height
    stands with the lane's name."""

    lane: Lane
    hint: str
    paint: Callable[[QPainter, StripContent, int], None]
    shows: Callable[[StripContent], Shown]
    press: Callable[[Press], Gesture]
    grips: Callable[[Press], bool] = no_grip
    lifts: Callable[[Press], bool] = no_grip
    tells: Callable[[Session, float], str] = _nothing
