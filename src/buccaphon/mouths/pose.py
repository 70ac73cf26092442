"""A mouth as a few numbers: the one currency between drawings, cut-outs and models."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt


@dataclass(frozen=True, slots=True)
class Pose:
    """Every part is 0 (not at all) to 1 (as far as it goes).

    jaw: how far it drops. spread: corners drawn apart. round: lips drawn together and forward. press: lips pressed shut.
    bite: upper teeth on the lower lip. tongue: its tip up behind the teeth. teeth: how much of them shows.
    """

    jaw: float = 0.0
    spread: float = 0.0
    round: float = 0.0
    press: float = 0.0
    bite: float = 0.0
    tongue: float = 0.0
    teeth: float = 0.0

    def __post_init__(self) -> None:
        for part, value in zip(self.__slots__, self.parts, strict=True):
            if not 0.0 <= value <= 1.0:
                raise ValueError(f"{part} is {value}, but a pose goes from 0 to 1")

    @property
    def parts(self) -> tuple[float, ...]:
        """Jaw, spread, round, press, bite, tongue, teeth."""
        return (self.jaw, self.spread, self.round, self.press, self.bite, self.tongue, self.teeth)

    def distance(self, other: Pose) -> float:
        """How different two mouths look, 0 for the same; opening and rounding are seen from furthest away."""
        pairs = zip(_VISIBILITY, self.parts, other.parts, strict=True)
        return math.sqrt(sum(weight * (a - b) ** 2 for weight, a, b in pairs))

    def blend(self, other: Pose, share: float) -> Pose:
        """This pose with `share` (0..1) of another."""
        return Pose(*(a + (b - a) * share for a, b in zip(self.parts, other.parts, strict=True)))


_VISIBILITY = (1.0, 0.5, 0.8, 0.6, 0.6, 0.25, 0.25)


def distances(poses: Sequence[Pose]) -> npt.NDArray[np.float64]:
    """(n, n): how different each two look, as `Pose.distance` says."""
    parts = np.array([pose.parts for pose in poses])
    apart = [weight * (part[:, None] - part) ** 2 for weight, part in zip(_VISIBILITY, parts.T, strict=True)]
    distance: npt.NDArray[np.float64] = np.sqrt(np.sum(apart, axis=0))
    return distance
