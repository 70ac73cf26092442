"""Small heads as glTF, made for tests."""

import base64
import json
import struct
from pathlib import Path
from typing import Any

import numpy as np

# A square of two triangles, its lower edge at y -1; a shape drops the lower edge, another draws the sides apart.
POINTS = np.array([[-1, -1, 0], [1, -1, 0], [1, 1, 0], [-1, 1, 0]], "<f4")
CORNERS = np.array([0, 1, 2, 0, 2, 3], "<u2")
SHAPES = {
    "jaw_open": np.array([[0, -0.5, 0], [0, -0.5, 0], [0, 0, 0], [0, 0, 0]], "<f4"),
    "mouth_wide": np.array([[-0.5, 0, 0], [0.5, 0, 0], [0.5, 0, 0], [-0.5, 0, 0]], "<f4"),
}


def document(shapes: dict[str, np.ndarray] | None = None) -> tuple[dict[str, Any], bytes]:
    """A glTF document, and its binary data."""
    shapes = SHAPES if shapes is None else shapes
    data, views, accessors = b"", [], []

    def add(array: np.ndarray, kind: str, component: int) -> int:
        nonlocal data
        views.append({"buffer": 0, "byteOffset": len(data), "byteLength": array.nbytes})
        data += array.tobytes() + b"\0" * (-array.nbytes % 4)
        count = len(array)
        accessors.append({"bufferView": len(views) - 1, "componentType": component, "count": count, "type": kind})
        return len(accessors) - 1

    primitive: dict[str, Any] = {
        "attributes": {"POSITION": add(POINTS, "VEC3", 5126)},
        "indices": add(CORNERS, "SCALAR", 5123),
    }
    if shapes:
        primitive["targets"] = [{"POSITION": add(delta, "VEC3", 5126)} for delta in shapes.values()]
    mesh = {"primitives": [primitive], "extras": {"targetNames": list(shapes)}}
    found = {
        "asset": {"version": "2.0"},
        "nodes": [{"name": "root", "children": [1, 2]}, {"name": "face", "mesh": 0}, {"name": "jaw"}],
        "meshes": [mesh],
        "accessors": accessors,
        "bufferViews": views,
        "buffers": [{"byteLength": len(data)}],
    }
    return found, data


def write_glb(path: Path, found: dict[str, Any], data: bytes) -> Path:
    text = json.dumps(found).encode()
    text += b" " * (-len(text) % 4)
    body = struct.pack("<II", len(text), 0x4E4F534A) + text + struct.pack("<II", len(data), 0x004E4942) + data
    path.write_bytes(struct.pack("<4sII", b"glTF", 2, 12 + len(body)) + body)
    return path


def head(path: Path, **changes: Any) -> Path:
    """A `.glb`, with some entries of its document changed."""
    found, data = document()
    return write_glb(path, found | changes, data)


def head_with_data_inside(path: Path) -> Path:
    """A `.gltf` with its data as a URI."""
    found, data = document()
    found["buffers"][0]["uri"] = "data:application/octet-stream;base64," + base64.b64encode(data).decode()
    path.write_text(json.dumps(found))
    return path
