"""What of a character a channel can drive, by its name: a shape, a bone or node, or a piece of a picture."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from buccaphon.kits.kit import CutOut, Kit, Move, Moving
from buccaphon.motion.followers import Pair, Unit

PIECE_WAYS: dict[str, tuple[Pair, Unit]] = {
    "x": ((0.0, 10.0), Unit.PIXELS),
    "y": ((0.0, 10.0), Unit.PIXELS),
    "turn": ((0.0, 10.0), Unit.DEGREES),
    "size": ((100.0, 120.0), Unit.PERCENT),
    "width": ((100.0, 120.0), Unit.PERCENT),
    "height": ((100.0, 120.0), Unit.PERCENT),
}
"""How a channel called “piece x” moves a piece besides its way with the jaw, and a range to begin with."""
NODE_WAYS: dict[str, tuple[Pair, Unit]] = {
    "turn": ((0.0, 10.0), Unit.DEGREES), "y": ((0.0, 1.0), Unit.SCENE), "size": ((100.0, 120.0), Unit.PERCENT),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Drivable:
    """name: of the channel that drives it. gives, unit: the range that it has at rest and in full."""

    name: str
    gives: Pair
    unit: Unit


def drivable_in(kit: Kit, nodes: Sequence[str] = ()) -> tuple[Drivable, ...]:
    """All of a character, the likeliest first. nodes: of a model."""
    if isinstance(kit.look, CutOut):
        moves = [(kit.look.name, kit.look.move, 1.0), *((part.name, part.move, part.share) for part in kit.look.parts)]
        found = [_on_its_way(name, move, share) for name, move, share in moves if name]
        return (*found, *_ways([name for name, *_ in moves if name], PIECE_WAYS))
    shapes = [Drivable(name, (0.0, 1.0), Unit.SHARE) for name in kit.own] if nodes else []
    return (*shapes, *_ways(nodes, NODE_WAYS))


def _on_its_way(name: str, move: Move, share: float) -> Drivable:
    slides = move.moving is Moving.SLIDES
    much = math.hypot(move.x, move.y) if slides else move.degrees
    return Drivable(name, (0.0, round(share * much, 2)), Unit.PIXELS if slides else Unit.DEGREES)


def _ways(names: Sequence[str], ways: dict[str, tuple[Pair, Unit]]) -> list[Drivable]:
    return [Drivable(f"{name} {way}", *told) for name in names for way, told in ways.items()]
