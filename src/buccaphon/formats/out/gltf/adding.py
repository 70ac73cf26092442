"""New data at the end of a glTF, as raw JSON and bytes: nothing that is not touched is lost."""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np

_MAGIC, _JSON, _BINARY = 0x46546C67, 0x4E4F534A, 0x004E4942
_FLOAT = 5126
_WIDTHS = {"SCALAR": 1, "VEC3": 3, "VEC4": 4}
ARRAY_BUFFER = 34962


class Adder:
    """Appends accessors to a document's own binary chunk; with `name`, to a further file of that name instead."""

    def __init__(self, document: dict[str, Any], blob: bytes = b"", name: str = "") -> None:
        self.document = document
        buffers = document.setdefault("buffers", [])
        if name:
            buffers.append({"uri": name})
            self._index, self._data = len(buffers) - 1, bytearray()
            return
        if not buffers or "uri" in buffers[0]:  # the binary chunk of a GLB must be the first
            buffers.insert(0, {"byteLength": 0})
            if len(buffers) > 1:
                for view in document.get("bufferViews", []):
                    view["buffer"] += 1
        self._index, self._data = 0, bytearray(blob[: buffers[0]["byteLength"]])

    def add(self, values: Any, kind: str, *, bounds: bool = False, vertices: bool = False, name: str = "") -> int:
        """Float values as an accessor; its number. bounds: with the least and the most of each column."""
        array = np.ascontiguousarray(values, np.dtype("<f4")).reshape(-1, _WIDTHS[kind])
        self._data += b"\0" * (-len(self._data) % 4)
        view: dict[str, Any] = {"buffer": self._index, "byteOffset": len(self._data), "byteLength": array.nbytes}
        if vertices:
            view["target"] = ARRAY_BUFFER
        self._data += array.tobytes()
        views = self.document.setdefault("bufferViews", [])
        views.append(view)
        entry: dict[str, Any] = {
            "bufferView": len(views) - 1,
            "componentType": _FLOAT,
            "count": len(array),
            "type": kind,
        }
        if name:
            entry["name"] = name
        if bounds:
            entry["min"], entry["max"] = array.min(0).tolist(), array.max(0).tolist()
        accessors = self.document.setdefault("accessors", [])
        accessors.append(entry)
        return len(accessors) - 1

    def done(self) -> bytes:
        """All of the bytes that it appended to, once nothing more is added."""
        self.document["buffers"][self._index]["byteLength"] = len(self._data)
        return bytes(self._data)


def packed(document: dict[str, Any], blob: bytes) -> bytes:
    """A document with its binary chunk as a GLB."""
    text = json.dumps(document, separators=(",", ":"), ensure_ascii=False).encode()
    text += b" " * (-len(text) % 4)
    body = struct.pack("<II", len(text), _JSON) + text
    if blob:
        padded = blob + b"\0" * (-len(blob) % 4)
        body += struct.pack("<II", len(padded), _BINARY) + padded
    return struct.pack("<III", _MAGIC, 2, 12 + len(body)) + body


def as_text(document: dict[str, Any]) -> bytes:
    return (json.dumps(document, ensure_ascii=False, indent=1) + "\n").encode()
