"""What drives a host's shape keys: weights by the host's names, or a model's own shapes as they are solved for each mouth."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.nodes import names_a_way
from buccaphon.kits.kit import Kind, Model
from buccaphon.kits.model.gltf import Gltf, open_gltf
from buccaphon.kits.model.head import Head, head_of
from buccaphon.kits.model.playing import Played, played
from buccaphon.motion.record import Bake

OPENING = 20.0  # degrees that a jaw turns at most, where nobody said otherwise
JAW_ANGLE: dict[str, Any] = {"least": -180.0, "most": 180.0, "unit": "°", "decimals": 1}  # of the setting for it


@dataclass(frozen=True, eq=False)
class OwnModel:
    """The user's model, as its kit plays it."""

    path: Path
    gltf: Gltf
    head: Head
    played: Played
    look: Model

    def jaw_curve(self, bake: Bake) -> Floats:
        """(frames,) how far its jaw is down, 0..1."""
        return self.played.dropped(bake.chart.names, bake.weights, bake.jaw)


def own_model(delivery: Delivery) -> OwnModel | None:
    """The model in the mirror, read anew from its file; None when the character is none. Raises KitError."""
    kit, bake = delivery.kit, delivery.bake
    if kit is None or bake is None or kit.kind is not Kind.MODEL or not isinstance(kit.look, Model):
        return None
    gltf = open_gltf(kit.file.path)
    head = head_of(gltf, str(kit.file.path))
    return OwnModel(kit.file.path, gltf, head, played(head, kit, bake.chart), kit.look)


def shape_curves(delivery: Delivery, model: OwnModel | None, *, held: bool) -> dict[str, Floats]:
    """(frames,) of each shape by its name: 0 to 1 where mouths drive it, as far as it goes where a channel of one's own does.
    model: whose shapes make the mouths; None for a shape each mouth, by the host's names. held: the mouths as they are held,
    without any between. Channels of one's own that are a share or in percent go by their names, in the place of a shape
    called so."""
    bake = delivery.bake
    assert bake is not None
    if model is not None:
        shares = as_held(bake) if held else bake.weights
        curves = model.played.curves(bake.chart.names, shares)
    else:
        curves = _mouths(delivery, bake, held=held)
    own = delivery.own_channels()
    for number, channel in enumerate(own.of):
        if channel.unit in ("", "%"):
            values = own.values[:, number] / (100.0 if channel.unit == "%" else 1.0)
            if channel.id in model.head.shapes if model is not None else not names_a_way(channel):
                curves[channel.id] = values.astype(np.float32)
    return curves


def _mouths(delivery: Delivery, bake: Bake, *, held: bool) -> dict[str, Floats]:
    shares = as_held(bake) if held else bake.weights
    found: dict[str, Floats] = {}
    for number, mouth in enumerate(bake.chart.names):
        for name in delivery.names.names_of(mouth):
            found[name] = found[name] + shares[:, number] if name in found else shares[:, number]
    return found


def as_held(bake: Bake) -> Floats:
    """(frames, mouths) 1 for the mouth that is on show."""
    found = np.zeros((bake.frames, len(bake.chart.names)), np.float32)
    numbers = {name: number for number, name in enumerate(bake.chart.names)}
    for exposure in bake.exposures:
        found[exposure.start : exposure.end, numbers[exposure.mouth]] = 1.0
    return found
