"""A head: its triangles with the shapes that move them, its skin, and what each shape of the kit is made of."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from buccaphon.errors import KitError
from buccaphon.kits.limits import MOST_NAMES, within_limits
from buccaphon.kits.model.gltf import Gltf, open_gltf
from buccaphon.kits.model.skeleton import Jaw, Matrix, Skeleton, find_jaw, looks_back, read_skeleton, turn
from buccaphon.texts import _

Points = npt.NDArray[np.float32]  # (n, 3)
Triangles = npt.NDArray[np.uint32]  # (n, 3)
MOST_TRIANGLES = 2_000_000  # a sculpted head has a tenth of it
MOST_TARGETS = 1000  # a bound for hostile files
_STRONGLY = 0.05  # of how far the vertex that moves most does, from which one counts as moved
_GREY = (0.8, 0.8, 0.8)  # of what has no colour


@dataclass(frozen=True, eq=False)
class Skin:
    """joints: nodes. weights: (points, joints) how much each point goes with each joint. unbind: of each joint."""

    joints: tuple[int, ...]
    weights: npt.NDArray[np.float32]
    unbind: npt.NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Part:
    """Triangles of one colour under one node. moved, deltas: for each target the points it moves, and how far."""

    node: int
    points: Points
    triangles: Triangles
    color: tuple[float, float, float]
    moved: tuple[npt.NDArray[np.int64], ...]
    deltas: tuple[Points, ...]
    targets: tuple[str, ...]
    skin: Skin | None


Bind = tuple[int, int, float]  # node, target of its mesh, weight


@dataclass(frozen=True, eq=False)
class Head:
    """parts: all triangles. shapes: the names that drive it. binds: expressions made of several targets, by name; a name
    without any drives every target of that name. told: what could not be used."""

    parts: tuple[Part, ...]
    skeleton: Skeleton
    shapes: tuple[str, ...]
    binds: Mapping[str, tuple[Bind, ...]]
    jaw: Jaw | None
    looks_back: bool
    told: tuple[str, ...] = ()

    def strongly_moved(self, part: Part, target: int) -> npt.NDArray[np.int64]:
        """The points that a target moves by more than a twentieth of the most."""
        far = np.linalg.norm(part.deltas[target], axis=1)
        moved: npt.NDArray[np.int64] = part.moved[target][far > _STRONGLY * far.max(initial=0.0)]
        return moved

    @property
    def triangles(self) -> int:
        return sum(len(part.triangles) for part in self.parts)

    def pose(self, weights: Mapping[str, float], over: dict[int, Matrix] | None = None) -> list[Points]:
        """The points of each part in the scene. weights: of shapes, 0..1. over: other local matrices for some nodes."""
        by_target = self._spread(weights)
        found = []
        for number, part in enumerate(self.parts):
            points = part.points
            driven = [(k, w) for k, w in by_target.get(number, {}).items() if w]
            if driven:
                points = points.copy()
                for target, weight in driven:
                    points[part.moved[target]] += np.float32(weight) * part.deltas[target]
            found.append(self._placed(part, points, over))
        return found

    def drop(self, degrees: float, jaw: Jaw | None) -> dict[int, Matrix]:
        """Local matrices with a jaw turned by some degrees."""
        if jaw is None or not degrees:
            return {}
        return {jaw.node: self.skeleton.local[jaw.node] @ turn(jaw.axis, degrees)}

    def _spread(self, weights: Mapping[str, float]) -> dict[int, dict[int, float]]:
        """For each part the weight of each of its targets, 0..1."""
        found: dict[int, dict[int, float]] = {}

        def add(part: int, target: int, weight: float) -> None:
            mine = found.setdefault(part, {})
            mine[target] = min(max(mine.get(target, 0.0) + weight, 0.0), 1.0)

        for name, weight in weights.items():
            if not weight:
                continue
            binds = self.binds.get(name)
            for number, part in enumerate(self.parts):
                if binds is None:
                    if name in part.targets:
                        add(number, part.targets.index(name), weight)
                    continue
                for node, target, share in binds:
                    if node == part.node and target < len(part.targets):
                        add(number, target, weight * share)
        return found

    def _placed(self, part: Part, points: Points, over: dict[int, Matrix] | None) -> Points:
        if part.skin is None:
            world = self.skeleton.world(part.node, over).astype(np.float32)
            return points @ world[:3, :3].T + world[:3, 3]
        skin = part.skin
        moves = [
            self.skeleton.world(joint, over) @ unbind for joint, unbind in zip(skin.joints, skin.unbind, strict=True)
        ]
        flat = np.stack(moves)[:, :3].reshape(len(moves), 12).astype(np.float32)
        blended = (skin.weights @ flat).reshape(-1, 3, 4)  # one product of matrices: several times faster than einsum
        placed: Points = (blended[:, :, :3] @ points[:, :, None])[:, :, 0] + blended[:, :, 3]
        return placed


def read_head(path: Path) -> Head:
    """A model in a `.gltf`, `.glb` or `.vrm`. Raises KitError."""
    with within_limits(str(path), "model"):
        return head_of(open_gltf(path), str(path))


def head_of(gltf: Gltf, subject: str) -> Head:
    """The same of a file that is open. subject: its name for errors."""
    skeleton = read_skeleton(gltf)
    parts: list[Part] = []
    try:
        for number, node in enumerate(gltf.entries("nodes")):
            if "mesh" in node:
                parts += _parts(gltf, number, node)
    except (KeyError, IndexError, TypeError, ValueError, AttributeError) as problem:
        raise KitError(
            gltf.subject, _("its meshes are damaged ({reason})", reason=problem), _("Write it again")
        ) from None
    if not parts or not sum(len(part.triangles) for part in parts):
        raise KitError(subject, _("there are no triangles in it"), _("Write it with its meshes"))
    if sum(len(part.triangles) for part in parts) > MOST_TRIANGLES:
        raise KitError(
            subject,
            _("it has more than {most:,} triangles", most=MOST_TRIANGLES),
            _("Export a simpler head"),
        )
    binds = _expressions(gltf)
    own = tuple(dict.fromkeys(name for part in parts for name in part.targets))
    shapes = (*(name for name in binds if name not in own), *own)
    if len(shapes) > MOST_NAMES:
        raise KitError(subject, _("it has more than {most} shapes", most=MOST_NAMES), _("Export a simpler head"))
    told = () if shapes else (_("{subject}: it has no morph targets; only its jaw can move", subject=gltf.subject),)
    return Head(tuple(parts), skeleton, shapes, binds, find_jaw(gltf, skeleton), looks_back(gltf.document), told)


def _parts(gltf: Gltf, number: int, node: dict[str, Any]) -> list[Part]:
    mesh = gltf.entries("meshes")[node["mesh"]]
    names = target_names(gltf, mesh)
    found = []
    for primitive in mesh["primitives"]:
        if primitive.get("mode", 4) != 4:  # triangles
            continue
        points = gltf.accessor(primitive["attributes"]["POSITION"]).astype(np.float32)
        if "indices" in primitive:
            triangles = gltf.accessor(primitive["indices"]).ravel().astype(np.int64)
        else:
            triangles = np.arange(len(points))
        triangles = triangles[: len(triangles) // 3 * 3]
        if len(triangles) and int(triangles.max()) >= len(points):
            raise ValueError("a triangle refers to a point that does not exist")
        if not np.isfinite(points).all():
            raise ValueError("a point has no valid position")
        moved, deltas = _targets(gltf, primitive, len(points))
        skin = _skin(gltf, node, primitive, len(points))
        color = _color(gltf, primitive)
        corners = triangles.reshape(-1, 3).astype(np.uint32)
        found.append(Part(number, points, corners, color, moved, deltas, names[: len(moved)], skin))
    return found


def target_names(gltf: Gltf, mesh: dict[str, Any]) -> tuple[str, ...]:
    """The names of a mesh's targets: in its `extras`, its first primitive's, or their accessors'; else `target 0` …"""
    targets = mesh["primitives"][0].get("targets", [])
    if len(targets) > MOST_NAMES:
        raise KitError(gltf.subject, _("it has more than {most} shapes", most=MOST_NAMES), _("Export a simpler head"))
    for holder in (mesh, mesh["primitives"][0]):
        extras = holder.get("extras")
        names = extras.get("targetNames") if isinstance(extras, dict) else None
        if isinstance(names, list) and len(names) >= len(targets):
            return tuple(str(name) for name in names[: len(targets)])
    found = []
    for number, target in enumerate(targets):
        entry = gltf.entries("accessors")[target["POSITION"]] if "POSITION" in target else {}
        found.append(str(entry.get("name") or f"target {number}"))
    return tuple(found)


def _targets(
    gltf: Gltf, primitive: dict[str, Any], count: int
) -> tuple[tuple[npt.NDArray[np.int64], ...], tuple[Points, ...]]:
    moved, deltas = [], []
    for target in primitive.get("targets", [])[:MOST_TARGETS]:
        if "POSITION" in target:
            delta = gltf.accessor(target["POSITION"]).astype(np.float32)
            if len(delta) != count or not np.isfinite(delta).all():
                raise ValueError("a target does not fit its mesh")
        else:
            delta = np.zeros((count, 3), np.float32)
        there = np.flatnonzero((delta != 0).any(axis=1))
        moved.append(there)
        deltas.append(delta[there])
    return tuple(moved), tuple(deltas)


def _skin(gltf: Gltf, node: dict[str, Any], primitive: dict[str, Any], count: int) -> Skin | None:
    if "skin" not in node or "JOINTS_0" not in primitive["attributes"]:
        return None
    entry = gltf.entries("skins")[node["skin"]]
    joints = tuple(int(joint) for joint in entry["joints"])
    whose = gltf.accessor(primitive["attributes"]["JOINTS_0"]).astype(np.int64)
    shares = gltf.accessor(primitive["attributes"]["WEIGHTS_0"]).astype(np.float32)
    if len(whose) != count or int(whose.max(initial=0)) >= len(joints):
        raise ValueError("its skin does not fit its mesh")
    weights = np.zeros((count, len(joints)), np.float32)
    for column in range(whose.shape[1]):
        np.add.at(weights, (np.arange(count), whose[:, column]), shares[:, column])
    if "inverseBindMatrices" in entry:
        unbind = gltf.accessor(entry["inverseBindMatrices"]).reshape(-1, 4, 4).transpose(0, 2, 1).astype(np.float64)
    else:
        unbind = np.tile(np.eye(4), (len(joints), 1, 1))
    return Skin(joints, weights, unbind[: len(joints)])


def _color(gltf: Gltf, primitive: dict[str, Any]) -> tuple[float, float, float]:
    if "material" not in primitive:
        return _GREY
    material = gltf.entries("materials")[primitive["material"]]
    red, green, blue, *_rest = material.get("pbrMetallicRoughness", {}).get("baseColorFactor", (*_GREY, 1.0))
    return float(red), float(green), float(blue)


def _table(of: Any, name: str) -> dict[str, Any]:
    """An entry that is to be an object; an empty one where it is none."""
    found = of.get(name) if isinstance(of, dict) else None
    return found if isinstance(found, dict) else {}


def _list(of: Any, name: str) -> list[Any]:
    found = of.get(name) if isinstance(of, dict) else None
    return found if isinstance(found, list) else []


def _expressions(gltf: Gltf) -> dict[str, tuple[Bind, ...]]:
    """VRM's expressions (VRMC_vrm 1.0) and blend shape groups (VRM 0.x), as shapes of their own."""
    extensions = _table(gltf.document, "extensions")
    found: dict[str, tuple[Bind, ...]] = {}
    expressions = _table(_table(extensions, "VRMC_vrm"), "expressions")
    for group in ("preset", "custom"):
        for name, entry in _table(expressions, group).items():
            binds = [
                (int(bind["node"]), int(bind["index"]), float(bind.get("weight", 1.0)))
                for bind in entry.get("morphTargetBinds", [])
            ]
            if binds:
                found[str(name)] = tuple(binds)
    nodes = gltf.entries("nodes")
    for entry in _list(_table(_table(extensions, "VRM"), "blendShapeMaster"), "blendShapeGroups"):
        name = str(entry.get("name") or entry.get("presetName") or "")
        binds = [
            (number, int(bind["index"]), float(bind.get("weight", 100.0)) / 100.0)
            for bind in entry.get("binds", [])
            for number, node in enumerate(nodes)
            if node.get("mesh") == bind.get("mesh")
        ]
        if name and binds:
            found[name] = tuple(binds)
    return found
