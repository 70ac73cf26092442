"""Poses onto a head's shapes: non-negative least squares (Lawson and Hanson 1974).

What each shape does to the mouth is taken from its name, and where that says nothing from how its points move.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Doubles
from buccaphon.kits.model.head import Head
from buccaphon.kits.names.evidence import read_names
from buccaphon.least_squares import non_negative_least_squares
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.pose import PARTS, VISIBILITY, Pose

_VISIBLE = np.sqrt(VISIBILITY)
_PULL = 0.1  # towards few and small weights
_LEAST = 0.02  # a weight below is none
_INSIDE = 0.6  # of the points that a shape moves: so many must be the mouth's
_TO_COUNT = 0.15  # of the strongest movement of a mouth's points: a shape that moves them less is none of the mouth's


@dataclass(frozen=True, eq=False)
class Solver:
    """shapes: those that move the mouth. does: (7, shapes) the parts of a pose that each makes at full weight. jaw_turns: a
    bone drops the jaw, so that no shape has to."""

    shapes: tuple[str, ...]
    does: Doubles
    jaw_turns: bool

    def weights(self, pose: Pose) -> dict[str, float]:
        """Weights 0..1 of the shapes that come nearest to a pose; those that are next to nothing are left out."""
        if not self.shapes:
            return {}
        wanted = np.array(pose.parts)
        rows = np.ones(len(PARTS))
        if self.jaw_turns:
            rows[PARTS.index("jaw")] = 0.0
        scale = _VISIBLE * rows
        matrix = np.vstack([self.does * scale[:, None], np.full((1, len(self.shapes)), _PULL)])
        found = non_negative_least_squares(matrix, np.concatenate([wanted * scale, [0.0]]))
        return {name: float(min(w, 1.0)) for name, w in zip(self.shapes, found, strict=True) if w >= _LEAST}


def solver_of(head: Head, chart: Chart, *, jaw_turns: bool) -> Solver:
    """What a head's shapes do. chart: what its sounds look like, for shapes that are named by sounds."""
    told = read_names(list(head.shapes)).names
    known: dict[str, Doubles] = {}
    for name, evidence in zip(head.shapes, told, strict=True):
        if evidence.never and not (evidence.sounds and evidence.mouth):
            continue
        parts = _named(evidence.sounds, evidence.pose, chart)
        if parts is not None and not evidence.rest:
            known[name] = parts
    known |= _measured(head, known)
    shapes = tuple(known)
    does = np.stack([known[name] for name in shapes], axis=1) if shapes else np.zeros((len(PARTS), 0))
    return Solver(shapes, does, jaw_turns)


def _named(sounds: Sequence[str], pose: Mapping[str, float], chart: Chart) -> Doubles | None:
    if sounds:
        return np.array(chart.mouths[chart.answer(sounds[0])].pose.parts)
    if pose:
        return np.array([pose.get(part, 0.0) for part in PARTS])
    return None


def _measured(head: Head, known: Mapping[str, Doubles]) -> dict[str, Doubles]:
    """For shapes whose names say nothing: how far they drop the lower lip, draw the corners apart or together, and push
    forward, against those that are known. Nothing where none is known."""
    if not known:
        return {}
    moves = {name: _movement(head, name) for name in head.shapes}
    strongest = np.max([np.abs(moves[name]) for name in known], axis=0)
    if not strongest.any():
        return {}
    region = _moved_by(head, known)
    found = {}
    for name in head.shapes:
        here = _moved_by(head, (name,))
        if name in known or read_names([name]).names[0].never or len(here & region) < _INSIDE * len(here):
            continue
        share = np.divide(moves[name], strongest, out=np.zeros(3), where=strongest > 0)
        drop, apart, forward = np.clip(share, -1.0, 1.0)
        if max(abs(drop), abs(apart), abs(forward)) < _TO_COUNT:
            continue
        parts = dict.fromkeys(PARTS, 0.0)
        parts |= {"jaw": max(drop, 0.0), "press": max(-drop, 0.0)}
        parts |= {"spread": max(apart, 0.0), "round": max(-apart, forward, 0.0)}
        found[name] = np.array([parts[part] for part in PARTS])
    return found


def _moved_by(head: Head, names: Iterable[str]) -> set[tuple[int, int]]:
    """The points that some shapes move, each as its part's number and its own."""
    return {
        (number, point)
        for number, part in enumerate(head.parts)
        for name in names
        if name in part.targets
        for point in head.strongly_moved(part, part.targets.index(name)).tolist()
    }


def _movement(head: Head, name: str) -> Doubles:
    """(3,) how far a shape moves its points down, outwards and forward, at most."""
    down = outwards = forward = 0.0
    for part in head.parts:
        if name not in part.targets:
            continue
        number = part.targets.index(name)
        deltas, at = part.deltas[number], part.points[part.moved[number]]
        if not len(deltas):
            continue
        away = deltas[:, 0] * np.sign(at[:, 0])
        down = max(down, -float(deltas[:, 1].min()), key=abs)
        outwards = max(outwards, float(away[np.abs(away).argmax()]), key=abs)
        forward = max(forward, float(deltas[:, 2].max()), key=abs)
    return np.array([down, outwards, -forward if head.looks_back else forward])
