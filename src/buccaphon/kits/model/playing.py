"""How a kit plays a head: which weights its shapes have for each mouth of a chart, and which node drops as its jaw."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.kits.casting import goes_over_in, own_shapes
from buccaphon.kits.kit import Kit, Model
from buccaphon.kits.model.head import Head
from buccaphon.kits.model.skeleton import Jaw
from buccaphon.kits.model.solving import Solver, solver_of
from buccaphon.mouths.chart import Chart
from buccaphon.texts import _


@dataclass(frozen=True, eq=False)
class Played:
    """weights: of the shapes, for each mouth. jaw: None where no node drops. drops: how far the jaw is down in each mouth,
    where they are there in full, so that shapes and jaw tell the same; None where the jaw has a curve of its own."""

    solver: Solver
    weights: Mapping[str, Mapping[str, float]]
    jaw: Jaw | None
    drops: Mapping[str, float] | None = None

    def dropped(self, mouths: tuple[str, ...], shares: Floats, jaw: Floats) -> Floats:
        """(frames,) how far the jaw is down, 0..1. jaw: its own curve."""
        if self.drops is None:
            return jaw
        found: Floats = (shares @ np.array([self.drops[mouth] for mouth in mouths], np.float32)).astype(np.float32)
        return found

    def curves(self, mouths: tuple[str, ...], shares: Floats) -> dict[str, Floats]:
        """(frames,) of each shape that any mouth moves, from the mouths' shares (frames, mouths)."""
        shapes = tuple(dict.fromkeys(name for mouth in mouths for name in self.weights.get(mouth, ())))
        table = np.array([[self.weights.get(mouth, {}).get(name, 0.0) for name in shapes] for mouth in mouths])
        values = shares @ table.reshape(len(mouths), len(shapes)).astype(np.float32)
        return {name: values[:, number] for number, name in enumerate(shapes)}


def played(head: Head, kit: Kit, chart: Chart) -> Played:
    """Solved once for each mouth of the chart; what was given by hand is at full weight."""
    assert isinstance(kit.look, Model)
    jaw = jaw_of(head, kit.look)
    solver = solver_of(head, chart, jaw_turns=jaw is not None)
    in_full = goes_over_in(kit, chart) is not None
    own = own_shapes(kit, chart) if in_full else {}
    weights: dict[str, Mapping[str, float]] = {}
    for mouth in chart.mouths:
        chosen = _by_hand(kit, mouth.name) or own.get(mouth.name)
        if chosen is None and not solver.shapes:
            chosen = kit.shown_by(mouth.name)
        if chosen is not None:
            weights[mouth.name] = {name: 1.0 for name in chosen if name in head.shapes}
        elif in_full and mouth is chart.rest:
            weights[mouth.name] = {}  # a head rests when nothing moves it
        else:
            weights[mouth.name] = solver.weights(mouth.pose)
    drops = {mouth.name: mouth.pose.jaw for mouth in chart.mouths} if in_full else None
    return Played(solver, weights, jaw, drops)


def _by_hand(kit: Kit, mouth: str) -> tuple[str, ...] | None:
    """The shapes that somebody gave to a mouth, as what shows it or as what the host calls it; None where nobody did."""
    rows = [row for row in (*kit.shows, *kit.names.given) if row.target == mouth and row.by_hand]
    return tuple(dict.fromkeys(row.name for row in rows if row.name in kit.own)) or None


def jaw_of(head: Head, look: Model) -> Jaw | None:
    """The jaw that was chosen, or the one that was found."""
    names = head.skeleton.names
    if look.jaw is None:
        jaw = head.jaw
    elif look.jaw in names:
        jaw = Jaw(names.index(look.jaw), _("chosen by hand"), (1.0, 0.0, 0.0))
    else:
        jaw = None
    return jaw if jaw is None or look.jaw_axis is None else replace(jaw, axis=look.jaw_axis)
