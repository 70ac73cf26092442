"""Channels of one's own that move a node of the host's: by its name, and by what they are measured in.

“lid” in degrees turns the node lid about x, “lid” in pixels or units slides it along y; “lid x”, “lid turn z” and “lid size”
say which way. A share or a percentage without such a word is a weight, and moves none.
"""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Doubles
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.steps import stepping
from buccaphon.motion.channels import Channel

_WAY = re.compile(r"(?P<name>.+?)\s+(?:(?P<axis>[xyz])|(?P<way>turn|size)(?:\s+(?P<about>[xyz]))?)", re.IGNORECASE)
_AXES = "xyz"


@dataclass(frozen=True, eq=False)
class Moves:
    """How a node goes from where it rests, (frames, 3) each, x y z: slid by units, turned by degrees, grown by factors. None
    where nothing of that kind is asked for. steps: those of them that do nothing but jump."""

    slid: Doubles | None = None
    turned: Doubles | None = None
    grown: Doubles | None = None
    steps: frozenset[str] = frozenset()


def names_a_way(channel: Channel) -> bool:
    """Whether its name says which way a node goes."""
    return _WAY.fullmatch(channel.id) is not None


def grows(channel: Channel) -> bool:
    """Whether it makes a node larger or smaller."""
    said = _WAY.fullmatch(channel.id)
    return said is not None and (said["way"] or "").lower() == "size"


def node_moves(delivery: Delivery, shapes: Collection[str] = ()) -> dict[str, Moves]:
    """By the nodes' names. shapes: names that are shapes, which channels of that name drive instead."""
    bake, own = delivery.bake, delivery.own_channels()
    assert bake is not None
    found: dict[str, dict[str, Doubles]] = {}
    step, goes_on = stepping(delivery), set[tuple[str, str]]()

    def of(name: str, kind: str, rest: float) -> Doubles:
        if channel.id not in step:
            goes_on.add((name, kind))
        return found.setdefault(name, {}).setdefault(kind, np.full((bake.frames, 3), rest))

    for number, channel in enumerate(own.of):
        if channel.id in shapes:
            continue
        values = own.values[:, number].astype(np.float64)
        said = _WAY.fullmatch(channel.id)
        if said is None:
            if channel.unit == "degrees":
                of(channel.id, "turned", 0.0)[:, 0] += values
            elif channel.unit in ("px", "units"):
                of(channel.id, "slid", 0.0)[:, 1] += values
        elif said["axis"]:
            of(said["name"], "slid", 0.0)[:, _AXES.index(said["axis"].lower())] += values
        elif said["way"].lower() == "turn":
            of(said["name"], "turned", 0.0)[:, _AXES.index((said["about"] or "x").lower())] += values
        else:
            sizes, factor = of(said["name"], "grown", 1.0), values / 100 if channel.unit == "%" else values
            axes = [_AXES.index(said["about"].lower())] if said["about"] else [0, 1, 2]
            sizes[:, axes] *= factor[:, None]
    return {
        name: Moves(**kinds, steps=frozenset(kind for kind in kinds if (name, kind) not in goes_on))
        for name, kinds in found.items()
    }
