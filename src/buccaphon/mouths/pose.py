"""A mouth as a few numbers: the one currency between drawings, cut-outs and models."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from buccaphon.setting import setting, settings_of
from buccaphon.texts import N_


def _part(label: str, hint: str, visibility: float) -> Any:
    """A part of the pose. visibility: how far away it is seen, against the jaw's opening: what `Pose.distance` weighs it by
    (chosen so that the nearest mouth of chart Ten is the one that people named; docs/mouths.md)."""
    return setting(
        0.0, label, hint, least=0.0, most=1.0, scale=100, unit="%", ends=("", ""), weight=visibility, words=_WORDS
    )


_WORDS = N_("pose slider mouth shape")


@dataclass(frozen=True, slots=True)
class Pose:
    """Every part is 0 (not at all) to 1 (as far as it goes). The one table of the parts: whoever needs their names, order,
    labels or visibility reads them from here (PARTS, VISIBILITY)."""

    jaw: float = _part(N_("jaw"), N_("How far the jaw drops"), 1.0)
    spread: float = _part(N_("spread"), N_("Corners pulled apart"), 0.5)
    round: float = _part(N_("round"), N_("Lips rounded and pushed forward"), 0.8)
    press: float = _part(N_("press"), N_("Lips pressed shut"), 0.6)
    bite: float = _part(N_("bite"), N_("Upper teeth on the lower lip"), 0.6)
    tongue: float = _part(N_("tongue"), N_("The tip of the tongue up behind the teeth"), 0.25)
    teeth: float = _part(N_("teeth"), N_("How much of the teeth shows"), 0.25)

    def __post_init__(self) -> None:
        for part, value in zip(self.__slots__, self.parts, strict=True):
            if not 0.0 <= value <= 1.0:
                raise ValueError(f"{part} is {value}, but a pose goes from 0 to 1")

    @property
    def parts(self) -> tuple[float, ...]:
        """The values, in the order of PARTS."""
        return (self.jaw, self.spread, self.round, self.press, self.bite, self.tongue, self.teeth)

    def distance(self, other: Pose) -> float:
        """How different two mouths look, 0 for the same; opening and rounding are seen from furthest away."""
        pairs = zip(VISIBILITY, self.parts, other.parts, strict=True)
        return math.sqrt(sum(weight * (a - b) ** 2 for weight, a, b in pairs))

    def blend(self, other: Pose, share: float) -> Pose:
        """This pose with `share` (0..1) of another."""
        return Pose(*(a + (b - a) * share for a, b in zip(self.parts, other.parts, strict=True)))


PARTS: tuple[str, ...] = Pose.__slots__
VISIBILITY = tuple(each.weight for each in settings_of(Pose).values())
ROUNDED_GAP = 0.4  # of the jaw's opening that full rounding takes off the gap of the lips (docs/motion.md)


def distances(poses: Sequence[Pose]) -> npt.NDArray[np.float64]:
    """(n, n): how different each two look, as `Pose.distance` says."""
    parts = np.array([pose.parts for pose in poses])
    apart = [weight * (part[:, None] - part) ** 2 for weight, part in zip(VISIBILITY, parts.T, strict=True)]
    distance: npt.NDArray[np.float64] = np.sqrt(np.sum(apart, axis=0))
    return distance
