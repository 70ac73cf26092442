"""glTF files: the user's model with the line in it, or the line alone."""

from __future__ import annotations

import copy
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import unquote

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Floats
from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.format import Files
from buccaphon.formats.out.gltf.adding import Adder, as_text, packed
from buccaphon.formats.out.gltf.animating import Between, Driven, put_animation, weights_for
from buccaphon.formats.out.nodes import Moves, node_moves
from buccaphon.formats.out.shapes import JAW_ANGLE, OPENING, OwnModel, own_model, shape_curves
from buccaphon.formats.out.steps import stepping
from buccaphon.kits.limits import file_inside, read_bytes
from buccaphon.kits.model.gltf import Gltf
from buccaphon.kits.model.head import Head, target_names
from buccaphon.kits.model.skeleton import Jaw
from buccaphon.motion.record import JAW
from buccaphon.numerics import scipy_part
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_, _

_GENERATOR = "Buccaphon"


@dataclass(frozen=True, slots=True)
class GltfOptions:
    """What goes into the file, and how it moves."""

    between: Between = setting(
        Between.STRAIGHT, N_("Interpolation"), N_("How values move from key to key"), choices=Between
    )
    alone: bool = setting(
        False, N_("Without the model"), N_("Write only the animation, even when the character is a model")
    )
    degrees: float = setting(
        OPENING, N_("Jaw angle"), N_("Largest angle of the jaw, when written without the model"), **JAW_ANGLE
    )

    def __post_init__(self) -> None:
        require_valid_settings(self)


def glb(delivery: Delivery, options: GltfOptions) -> bytes:
    """One binary file."""
    model = None if options.alone else own_model(delivery)
    if model is None:
        adder = _alone(delivery, options, "")
        data = adder.done()
        return packed(adder.document, data)
    if model.gltf.blob is None:
        raise TargetError(model.path.name, _("it is a .gltf with files beside it"), _("Export as glTF, text (.gltf)"))
    document = copy.deepcopy(model.gltf.document)
    adder = Adder(document, model.gltf.blob)
    _into(adder, model, delivery, options)
    data = adder.done()
    return packed(document, data)


def gltf(delivery: Delivery, options: GltfOptions) -> Files:
    """Text, with the line's data in a file of its own beside it. Of the user's model all other files are copied along."""
    stem = delivery.place.name
    data_name = f"{stem}.line.bin"
    model = None if options.alone else own_model(delivery)
    if model is None:
        adder = _alone(delivery, options, data_name)
        data = adder.done()
        return {f"{stem}.gltf": as_text(adder.document), data_name: data}
    document, others = copy.deepcopy(model.gltf.document), _other_files(model.gltf, delivery.place.parent)
    if model.gltf.blob is not None:  # a GLB's own data goes into a file, too
        own_name = f"{stem}.model.bin"
        document["buffers"][0]["uri"] = own_name
        others[own_name] = model.gltf.blob[: document["buffers"][0]["byteLength"]]
    adder = Adder(document, name=data_name)
    _into(adder, model, delivery, options)
    data = adder.done()
    return {f"{stem}.gltf": as_text(document), data_name: data, **others}


def _other_files(gltf: Gltf, folder: Path) -> dict[str, bytes]:
    """What a `.gltf` names beside it, if it goes to another folder."""
    if folder.resolve() == gltf.folder.resolve():
        return {}
    found: dict[str, bytes] = {}
    for entry in (*gltf.entries("buffers"), *gltf.entries("images")):
        name = unquote(str(entry.get("uri", "data:")))
        path = None if name.startswith("data:") else file_inside(gltf.folder, name)
        if path is not None:
            found[name] = read_bytes(path)
    return found


def _into(adder: Adder, model: OwnModel, delivery: Delivery, options: GltfOptions) -> None:
    bake = delivery.bake
    assert bake is not None
    curves = shape_curves(delivery, model, held=options.between is Between.HELD)
    driven = _driven_nodes(model, curves, options.between, stepping(delivery))
    jaw = model.played.jaw
    if jaw is not None:
        driven.append(_jaw(adder.document, jaw, model.jaw_curve(bake) * model.look.jaw_degrees))
    _put_moves(adder.document, driven, node_moves(delivery, model.head.shapes), options.between)
    if not driven:
        raise TargetError(
            model.path.name, _("none of its parts follows the mouths"), _("Match its shapes or its jaw first")
        )
    put_animation(adder, bake, delivery.title, driven)


def _put_moves(document: dict[str, Any], driven: list[Driven], moves: Mapping[str, Moves], between: Between) -> None:
    """Let nodes go as channels of one's own say, from where they rest; a node that is not there is made. What such a channel
    drives nothing else does."""
    rotation = scipy_part("spatial.transform").Rotation
    for name, each in moves.items():
        number = _node_named(document, name)
        node = document["nodes"][number]
        if "matrix" in node:  # an animated node must not have one
            _without_matrix(node)
        found: list[Driven] = []
        ways = {kind: Between.HELD if kind in each.steps else between for kind in ("slid", "turned", "grown")}
        if each.slid is not None:
            at = np.array(node.get("translation", [0.0, 0.0, 0.0])) + each.slid
            found.append(Driven(number, "translation", at.astype(np.float32), "VEC3", ways["slid"]))
        if each.turned is not None:
            rest = node.get("rotation", [0.0, 0.0, 0.0, 1.0])
            turned = rotation.from_quat(rest if any(rest) else [0.0, 0.0, 0.0, 1.0]) * rotation.from_euler(
                "XYZ", each.turned, degrees=True
            )
            found.append(Driven(number, "rotation", turned.as_quat(), "VEC4", _joined(ways["turned"])))
        if each.grown is not None:
            size = np.array(node.get("scale", [1.0, 1.0, 1.0])) * each.grown
            found.append(Driven(number, "scale", size.astype(np.float32), "VEC3", ways["grown"]))
        taken = {(one.node, one.path) for one in found}
        driven[:] = [one for one in driven if (one.node, one.path) not in taken] + found


def _joined(between: Between) -> Between:
    """How turns are joined: a spline through quaternions would leave the sphere."""
    return Between.STRAIGHT if between is Between.SMOOTH else between


def _node_named(document: dict[str, Any], name: str) -> int:
    """The number of the node of a name; a new one in the scene where there is none."""
    nodes = document.setdefault("nodes", [])
    for number, node in enumerate(nodes):
        if node.get("name") == name:
            return number
    nodes.append({"name": name})
    scenes = document.setdefault("scenes", [{"nodes": []}])
    scenes[document.setdefault("scene", 0)].setdefault("nodes", []).append(len(nodes) - 1)
    return len(nodes) - 1


def _driven_nodes(model: OwnModel, curves: dict[str, Floats], between: Between, steps: Collection[str]) -> list[Driven]:
    """Every node whose mesh has one of the shapes. Expressions of several targets drive each of them. steps: the names of
    curves that jump."""
    driven = []
    for number, node in enumerate(model.gltf.entries("nodes")):
        if "mesh" not in node:
            continue
        mesh = model.gltf.entries("meshes")[node["mesh"]]
        names = target_names(model.gltf, mesh)
        mine = _targets(model.head, number, names, curves)
        rest = node.get("weights") or mesh.get("weights") or [0.0] * len(names)
        jump = tuple(_targets(model.head, number, names, {name: curves[name] for name in steps if name in curves}))
        if mine:
            driven.append(Driven(number, "weights", weights_for(mine, rest), between=between, steps=jump))
    return driven


def _targets(head: Head, node: int, names: tuple[str, ...], curves: dict[str, Floats]) -> dict[int, Floats]:
    """(frames,) for each target of a node's mesh that is driven, by its number. A shape has no limits: what goes below 0 or
    above 1 does so in the host, too."""
    found: dict[int, Floats] = {}

    def add(target: int, values: Floats) -> None:
        found[target] = found[target] + values if target in found else values

    for name, values in curves.items():
        binds = head.binds.get(name)
        if binds is None:
            for target, own in enumerate(names):
                if own == name:
                    add(target, values)
        else:
            within = np.clip(values, 0.0, 1.0)  # an expression's own limits (VRMC_vrm 1.0, expressions)
            for whose, target, share in binds:
                if whose == node and target < len(names):
                    add(target, within * np.float32(share))
    return found


def _jaw(document: dict[str, Any], jaw: Jaw, degrees: Floats) -> Driven:
    """The jaw's node, turned about its axis from where it rests; smooth, also where the mouths are held."""
    rotation = scipy_part("spatial.transform").Rotation
    node = document["nodes"][jaw.node]
    if "matrix" in node:  # an animated node must not have one
        _without_matrix(node)
    turn = node.get("rotation", [0.0, 0.0, 0.0, 1.0])
    rest = rotation.from_quat(turn if any(turn) else [0.0, 0.0, 0.0, 1.0])
    axis = np.array(jaw.axis) / max(float(np.linalg.norm(jaw.axis)), 1e-9)
    turned = (rest * rotation.from_rotvec(np.outer(np.radians(degrees.astype(np.float64)), axis))).as_quat()
    return Driven(jaw.node, "rotation", turned, "VEC4")


def _without_matrix(node: dict[str, Any]) -> None:
    matrix: npt.NDArray[Any] = np.array(node.pop("matrix"), np.float64).reshape(4, 4).T
    scale = np.linalg.norm(matrix[:3, :3], axis=0)
    if np.linalg.det(matrix[:3, :3]) < 0:
        scale[0] *= -1
    node["translation"] = matrix[:3, 3].tolist()
    turned = scipy_part("spatial.transform").Rotation.from_matrix(matrix[:3, :3] / scale)
    node["rotation"] = turned.as_quat().tolist()
    node["scale"] = scale.tolist()


def _alone(delivery: Delivery, options: GltfOptions, data_name: str) -> Adder:
    """A triangle with a target a shape, so that hosts have something to hang weights on, and an empty node for the jaw."""
    bake = delivery.bake
    assert bake is not None
    curves = shape_curves(delivery, None, held=options.between is Between.HELD)
    names = list(curves)
    adder = Adder({"asset": {"version": "2.0", "generator": _GENERATOR}}, name=data_name)
    corners = np.array([[0, 0, 0], [0.1, 0, 0], [0, 0.1, 0]])
    offsets = [np.tile([0.0, -0.02 * (number + 1), 0.0], (3, 1)) for number in range(len(names))]
    targets = [
        {"POSITION": adder.add(offset, "VEC3", bounds=True, vertices=True, name=name)}
        for name, offset in zip(names, offsets, strict=True)
    ]
    position = adder.add(corners, "VEC3", bounds=True, vertices=True)
    primitive = {"attributes": {"POSITION": position}, "targets": targets}
    mesh = {"name": "Mouth", "primitives": [primitive], "weights": [0.0] * len(names), "extras": {"targetNames": names}}
    adder.document |= {
        "meshes": [mesh], "nodes": [{"name": "Mouth", "mesh": 0}, {"name": JAW}], "scenes": [{"nodes": [0, 1]}], "scene": 0,
    }  # fmt: skip
    rotation = scipy_part("spatial.transform").Rotation
    turned = rotation.from_rotvec(np.outer(np.radians(options.degrees * bake.jaw.astype(np.float64)), [1.0, 0.0, 0.0]))
    weights = np.stack(list(curves.values()), axis=1)
    jump = tuple(n for n, name in enumerate(names) if name in stepping(delivery))
    driven = [
        Driven(0, "weights", weights, between=options.between, steps=jump),
        Driven(1, "rotation", turned.as_quat(), "VEC4"),
    ]
    _put_moves(adder.document, driven, node_moves(delivery, names), options.between)
    put_animation(adder, bake, delivery.title, driven)
    return adder
