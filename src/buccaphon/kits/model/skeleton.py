"""The nodes of a model: where each stands, and which of them is the jaw."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from buccaphon.errors import KitError
from buccaphon.kits.model.gltf import Gltf
from buccaphon.kits.names.tokens import fold, tokens
from buccaphon.texts import _

Matrix = npt.NDArray[np.float64]  # (4, 4)

_JAW = frozenset(("jaw", "mandible", "chin", "kiefer", "mandibula", "machoire", "ago", "顎", "あご"))
_NO_JAW = frozenset(("end", "tip", "nub", "ik", "ctrl", "control", "target", "pole", "left", "right", "l", "r", "sock"))


@dataclass(frozen=True, eq=False)
class Skeleton:
    """names, local, parents: of each node; a parent of -1 is none."""

    names: tuple[str, ...]
    local: tuple[Matrix, ...]
    parents: tuple[int, ...]

    def world(self, node: int, over: dict[int, Matrix] | None = None) -> Matrix:
        """A node's matrix in the scene; `over` gives other local matrices for some."""
        found = np.eye(4)
        while node >= 0:
            local = self.local[node] if over is None else over.get(node, self.local[node])
            found = local @ found
            node = self.parents[node]
        return found

    def depth(self, node: int) -> int:
        count = 0
        while self.parents[node] >= 0:
            node, count = self.parents[node], count + 1
        return count


@dataclass(frozen=True, slots=True)
class Jaw:
    """node: the one that drops. why: in words. axis: of its own; about it a positive angle drops the chin."""

    node: int
    why: str
    axis: tuple[float, float, float]


def read_skeleton(gltf: Gltf) -> Skeleton:
    """Raises KitError when nodes hang in a circle or are damaged."""
    nodes = gltf.entries("nodes")
    parents = [-1] * len(nodes)
    try:
        for number, node in enumerate(nodes):
            for child in node.get("children", []):
                parents[child] = number
        names = tuple(str(node.get("name", f"node {number}")) for number, node in enumerate(nodes))
        local = tuple(_local(node) for node in nodes)
    except (IndexError, TypeError, ValueError, AttributeError) as problem:
        raise KitError(
            gltf.subject, _("its nodes are damaged ({reason})", reason=problem), _("Write it again")
        ) from None
    for number in range(len(nodes)):
        at, steps = number, 0
        while parents[at] >= 0:
            at, steps = parents[at], steps + 1
            if steps > len(nodes):
                raise KitError(gltf.subject, _("its nodes form a loop"), _("Export it again from your 3D program"))
    return Skeleton(names, local, tuple(parents))


def find_jaw(gltf: Gltf, skeleton: Skeleton) -> Jaw | None:
    """The jaw as VRM names it, else by its name: a skin's joint before a plain node, the one nearest the root first."""
    found = _stated(gltf.document)
    why = _("named in the model")
    if found is None:
        found = _by_name(gltf, skeleton)
        why = _("“{names}” by its name", names=skeleton.names[found]) if found is not None else ""
    if found is None or not 0 <= found < len(skeleton.names):
        return None
    return Jaw(found, why, jaw_axis(gltf, skeleton, found))


def jaw_axis(gltf: Gltf, skeleton: Skeleton, node: int) -> tuple[float, float, float]:
    """The axis of the node's own that lies nearest to across the face; its sign so that the chin drops at a positive angle. A
    face looks to +Z (glTF), so a turn about +X drops what lies before the pivot; VRM 0 faces look to -Z."""
    turned = skeleton.world(node)[:3, :3]
    across = turned.T @ np.array([1.0, 0.0, 0.0])
    axis = np.zeros(3)
    nearest = int(np.argmax(np.abs(across)))
    axis[nearest] = math.copysign(1.0, across[nearest])
    if looks_back(gltf.document):
        axis = -axis
    return float(axis[0]), float(axis[1]), float(axis[2])


def looks_back(document: dict[str, Any]) -> bool:
    """Whether the face looks to -Z, as in VRM 0."""
    extensions = document.get("extensions", {})
    return "VRM" in extensions and "VRMC_vrm" not in extensions


def turn(axis: tuple[float, float, float], degrees: float) -> Matrix:
    """A rotation about an axis (Rodrigues)."""
    x, y, z = np.array(axis) / max(float(np.linalg.norm(axis)), 1e-9)
    angle = math.radians(degrees)
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    found = np.eye(4)
    found[:3, :3] += math.sin(angle) * cross + (1 - math.cos(angle)) * (cross @ cross)
    return found


def _local(node: dict[str, Any]) -> Matrix:
    if "matrix" in node:
        return np.array(node["matrix"], np.float64).reshape(4, 4).T
    x, y, z, w = (float(value) for value in node.get("rotation", (0, 0, 0, 1)))
    found = np.eye(4)
    found[:3, :3] = np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
    ) * np.array(node.get("scale", (1, 1, 1)), np.float64)
    found[:3, 3] = node.get("translation", (0, 0, 0))
    return found


def _stated(document: dict[str, Any]) -> int | None:
    extensions = document.get("extensions", {})
    bone = extensions.get("VRMC_vrm", {}).get("humanoid", {}).get("humanBones", {}).get("jaw", {}).get("node")
    if isinstance(bone, int):
        return bone
    bones = extensions.get("VRM", {}).get("humanoid", {}).get("humanBones", [])
    return next((each.get("node") for each in bones if isinstance(each, dict) and each.get("bone") == "jaw"), None)


def _by_name(gltf: Gltf, skeleton: Skeleton) -> int | None:
    joints = {joint for skin in gltf.entries("skins") for joint in skin.get("joints", [])}
    found = []
    for number, node in enumerate(gltf.entries("nodes")):
        pieces = {fold(piece) for piece in tokens(skeleton.names[number])}
        says = [piece for piece in pieces if piece in _JAW or (piece.startswith("jaw") and piece not in _NO_JAW)]
        if says and "mesh" not in node and not pieces & _NO_JAW:
            found.append((number not in joints, "chin" in says, skeleton.depth(number), number))
    return min(found)[-1] if found else None
