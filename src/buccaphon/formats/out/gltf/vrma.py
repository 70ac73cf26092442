"""A VRM animation (VRMC_vrm_animation 1.0): weights of expressions, for any VRM character."""

from __future__ import annotations

from typing import Any

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.format import NoOptions
from buccaphon.formats.out.gltf.adding import Adder, packed
from buccaphon.formats.out.gltf.animating import Between, Driven, put_animation
from buccaphon.formats.out.shapes import own_model
from buccaphon.formats.out.steps import stepping
from buccaphon.kits.model.solving import Solver
from buccaphon.mouths.chart_file import find_chart

VOWELS = ("aa", "ih", "ou", "ee", "oh")
_PRESETS = frozenset((
    *VOWELS, "happy", "angry", "sad", "relaxed", "surprised", "blink", "blinkLeft", "blinkRight", "lookUp", "lookDown",
    "lookLeft", "lookRight", "neutral",
))  # fmt: skip
_OF_VRM_0 = dict(zip("aiueo", VOWELS, strict=True))  # what their groups of shapes are called there
_CHART = "Vowels"


def vrma(delivery: Delivery, _options: NoOptions) -> bytes:
    """The five vowels, and as expressions of one's own the channels that are a share. A chart without these five gets them
    by what its mouths look like; a VRM character its own expressions, as they are driven in its model. An expression's
    weight is how far its node is moved along x."""
    bake = delivery.bake
    assert bake is not None
    own = delivery.own_channels()
    custom = {
        channel.id: own.values[:, number] / (100.0 if channel.unit == "%" else 1.0)
        for number, channel in enumerate(own.of)
        if channel.unit in ("", "%") and channel.id not in _PRESETS
    }
    curves = (_of_model(delivery) or _vowels(delivery)) | custom
    hips = {"name": "hips", "translation": [0.0, 1.0, 0.0]}  # required; without a height readers warn
    nodes: list[dict[str, Any]] = [hips, *({"name": name} for name in curves)]
    document: dict[str, Any] = {
        "asset": {"version": "2.0", "generator": "Buccaphon"},
        "nodes": nodes, "scenes": [{"nodes": list(range(len(nodes)))}], "scene": 0,
    }  # fmt: skip
    adder = Adder(document)
    along_x = {name: np.column_stack([values, np.zeros((len(values), 2))]) for name, values in curves.items()}
    jump = stepping(delivery)
    driven = [
        Driven(n, "translation", values, "VEC3", Between.HELD if name in jump else Between.STRAIGHT)
        for n, (name, values) in enumerate(along_x.items(), 1)
    ]
    put_animation(adder, bake, delivery.title, driven)
    numbers = {name: {"node": number} for number, name in enumerate(curves, 1)}
    document["extensionsUsed"] = ["VRMC_vrm_animation"]
    document["extensions"] = {
        "VRMC_vrm_animation": {
            "specVersion": "1.0",
            "humanoid": {"humanBones": {"hips": {"node": 0}}},
            "expressions": {
                "preset": {name: number for name, number in numbers.items() if name in _PRESETS},
                "custom": {name: number for name, number in numbers.items() if name not in _PRESETS},
            },
        }
    }
    data = adder.done()
    return packed(document, data)


def _of_model(delivery: Delivery) -> dict[str, Floats]:
    """(frames,) 0 to 1 of the expressions of the character's own model that its mouths drive; none where it has none."""
    bake, model = delivery.bake, own_model(delivery)
    if model is None or bake is None:
        return {}
    driven = model.played.curves(bake.chart.names, bake.weights)
    return {
        _OF_VRM_0.get(name.lower(), name): np.clip(values, 0.0, 1.0)
        for name, values in driven.items()
        if name in model.head.binds
    }


def _vowels(delivery: Delivery) -> dict[str, Floats]:
    """(frames,) 0 to 1 of each of the five."""
    bake = delivery.bake
    assert bake is not None
    mouths, shares = bake.chart.mouths, bake.weights
    if set(VOWELS) <= set(bake.chart.names):
        return {name: shares[:, bake.chart.names.index(name)] for name in VOWELS}
    poses = {mouth.name: mouth.pose for mouth in find_chart(_CHART).mouths}
    solver = Solver(VOWELS, np.stack([poses[name].parts for name in VOWELS], axis=1), jaw_turns=False)
    solved = [solver.weights(mouth.pose) for mouth in mouths]
    table = np.array([[weights.get(name, 0.0) for name in VOWELS] for weights in solved], np.float32)
    values = shares @ table
    return {name: values[:, number] for number, name in enumerate(VOWELS)}
