"""glTF 2.0 (ISO/IEC 12113) as raw JSON and its binary data: read within limits, nothing followed out of its folder."""

from __future__ import annotations

import base64
import binascii
import struct
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import unquote

import msgspec
import numpy as np
import numpy.typing as npt

from buccaphon.errors import KitError
from buccaphon.kits.limits import file_inside, read_bytes
from buccaphon.texts import _

_MAGIC, _JSON, _BINARY = b"glTF", 0x4E4F534A, 0x004E4942
_TYPES: dict[int, type[np.generic]] = {
    5120: np.int8, 5121: np.uint8, 5122: np.int16, 5123: np.uint16, 5125: np.uint32, 5126: np.float32,
}  # fmt: skip
_WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
_COMPRESSED = ("KHR_draco_mesh_compression", "EXT_meshopt_compression")
_MOST_DEPTH = 64  # of nested entries
_MOST_VALUES = 1 << 27  # in one accessor

Array = npt.NDArray[Any]


@dataclass(eq=False)
class Gltf:
    """An open file. document: its JSON. blob: its binary chunk, None for a `.gltf`."""

    subject: str
    folder: Path
    document: dict[str, Any]
    blob: bytes | None
    _buffers: dict[int, bytes] = field(default_factory=dict)

    def entries(self, name: str) -> list[dict[str, Any]]:
        """A list of the document's; empty where there is none."""
        found = self.document.get(name, [])
        return found if isinstance(found, list) else []

    def accessor(self, index: int) -> Array:
        """(count, width) of an accessor: strided, sparse and normalized ones as well. Raises KitError."""
        try:
            return self._accessor(index)
        except (KeyError, IndexError, TypeError, ValueError, OverflowError, binascii.Error) as problem:
            reason = _("its data {index} is damaged ({reason})", index=index, reason=problem)
            raise KitError(self.subject, reason, _("Export it again from your 3D program")) from None

    def _accessor(self, index: int) -> Array:
        entry = self.entries("accessors")[_natural(index)]
        width, kind = _WIDTHS[entry["type"]], np.dtype(_TYPES[entry["componentType"]]).newbyteorder("<")
        count = _natural(entry["count"])
        if count * width > _MOST_VALUES:
            raise ValueError("it holds too many values")
        if "bufferView" in entry:
            view = self.entries("bufferViews")[_natural(entry["bufferView"])]
            raw = self._buffer(_natural(view["buffer"]))
            at = _natural(view.get("byteOffset", 0)) + _natural(entry.get("byteOffset", 0))
            stride = _natural(view.get("byteStride", 0)) or kind.itemsize * width
            values = np.ndarray((count, width), kind, raw, at, (stride, kind.itemsize)).copy()
        else:
            values = np.zeros((count, width), kind)
        if "sparse" in entry:
            places, changed = self._sparse(entry["sparse"], kind, width)
            values[places] = changed
        return _normalized(values) if entry.get("normalized") else values

    def _sparse(self, entry: dict[str, Any], kind: np.dtype[Any], width: int) -> tuple[Array, Array]:
        count = _natural(entry["count"])

        def part(name: str, of: np.dtype[Any], each: int) -> Array:
            view = self.entries("bufferViews")[_natural(entry[name]["bufferView"])]
            at = _natural(view.get("byteOffset", 0)) + _natural(entry[name].get("byteOffset", 0))
            return np.frombuffer(self._buffer(_natural(view["buffer"])), of, count * each, at)

        indices = part("indices", np.dtype(_TYPES[entry["indices"]["componentType"]]).newbyteorder("<"), 1)
        return indices, part("values", kind, width).reshape(count, width)

    def _buffer(self, index: int) -> bytes:
        if index not in self._buffers:
            name = self.entries("buffers")[index].get("uri")
            if name is None:
                self._buffers[index] = self.blob or b""
            elif name.startswith("data:"):
                self._buffers[index] = base64.b64decode(name.split(",", 1)[1])
            else:
                path = file_inside(self.folder, unquote(name))
                if path is None:
                    reason = _("its data {name} is not beside it", name=name[:80])
                    raise KitError(self.subject, reason, _("Put both into one folder, or write it as .glb"))
                self._buffers[index] = read_bytes(path)
        return self._buffers[index]


def _depth_of(document: Any) -> int:
    level, depth = [document], 0
    while level and depth <= _MOST_DEPTH:
        depth += 1
        inner = (each.values() if isinstance(each, dict) else each for each in level if isinstance(each, dict | list))
        level = [each for entries in inner for each in entries]
    return depth


def open_gltf(path: Path) -> Gltf:
    """Read a `.gltf`, `.glb` or `.vrm`. Raises KitError with the reason when it cannot be used."""
    data, subject = read_bytes(path), path.name
    blob = None
    if data[:4] == _MAGIC:
        chunks = _chunks(data, subject)
        data, blob = chunks.get(_JSON, b""), chunks.get(_BINARY)
    try:
        document = msgspec.json.decode(data.removeprefix(b"\xef\xbb\xbf"))
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        raise KitError(
            subject, _("it is not glTF, or is incomplete"), _("Export it again from your 3D program")
        ) from None
    if _depth_of(document) > _MOST_DEPTH:
        raise KitError(
            subject,
            _("its entries are nested more than {most} deep", most=_MOST_DEPTH),
            _("Write it again"),
        )
    if not isinstance(document, dict) or not isinstance(document.get("asset"), dict):
        raise KitError(subject, _("it is no glTF"), _("Write it as glTF 2.0 (.glb) from your 3D program"))
    version = str(document["asset"].get("version", ""))
    if not version.startswith("2."):
        reason = _("it is glTF {version}", version=version) if version else _("it is glTF without a version")
        raise KitError(subject, reason, _("Write it as glTF 2.0"))
    needed = [name for name in document.get("extensionsRequired", []) if name in _COMPRESSED]
    if needed:
        raise KitError(
            subject, _("its meshes are compressed ({names})", names=needed[0]), _("Write it without compression")
        )
    return Gltf(subject, path.parent, document, blob)


def _chunks(data: bytes, subject: str) -> dict[int, bytes]:
    if len(data) < 12 or struct.unpack_from("<I", data, 4)[0] != 2:
        raise KitError(subject, _("it is not GLB version 2"), _("Write it as glTF 2.0"))
    found: dict[int, bytes] = {}
    at, end = 12, min(struct.unpack_from("<I", data, 8)[0], len(data))
    while at + 8 <= end:
        length, kind = struct.unpack_from("<II", data, at)
        found.setdefault(kind, data[at + 8 : at + 8 + length])
        at += 8 + length
    return found


def _natural(value: object) -> int:
    if type(value) is not int or value < 0:
        raise ValueError(f"{value!r} is not a valid count")
    return value


def _normalized(values: Array) -> Array:
    """Whole numbers as shares of the largest, after the specification, 3.6.2.2."""
    if values.dtype.kind == "f":
        return values
    most = np.iinfo(values.dtype).max
    return np.maximum(values.astype(np.float32) / most, -1.0)
