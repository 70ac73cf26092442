"""The names that a host uses, wherever they are: in a list, or in a model itself."""

from __future__ import annotations

from pathlib import Path

from buccaphon.kits.model.head import read_head
from buccaphon.kits.names.lists import read_list

MODEL_SUFFIXES = (".glb", ".gltf", ".vrm")


def host_names(path: Path) -> tuple[str, ...]:
    """The names in a text or CSV file, or of a model's shapes. Raises KitError."""
    return read_head(path).shapes if path.suffix.lower() in MODEL_SUFFIXES else read_list(path)
