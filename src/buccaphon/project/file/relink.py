"""Finding a recording or a character again after it was moved: by its content, or by its name near the project."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Iterator
from pathlib import Path

_MOST_FILES = 5000  # looked at around the project before giving up
_MOST_IN_KIT = 500  # files in a folder of drawings that is looked for
_PIECE = 1 << 20


def digest_of(path: Path) -> str:
    """SHA-256 of a file, in hexadecimal."""
    found = hashlib.sha256()
    with path.open("rb") as file:
        while piece := file.read(_PIECE):
            found.update(piece)
    return found.hexdigest()


def digest_of_any(path: Path) -> str:
    """SHA-256 of a file; of a folder that of the names and contents of the files in it. '' when it cannot be read."""
    try:
        if not path.is_dir():
            return digest_of(path)
        found = hashlib.sha256()
        for each in sorted(each for each in path.iterdir() if each.is_file() and not each.name.startswith(".")):
            found.update(os.fsencode(each.name) + b"\0" + digest_of(each).encode())
        return found.hexdigest()
    except OSError:
        return ""


def find_again(path: Path, digest: str, folder: Path) -> Path | None:
    """Look for a file or a folder of drawings in and below a folder.

    One of the same content wins, whatever it is called; else one of the same name counts when the content was never known.
    None when there is neither.
    """
    suffix = path.suffix.lower()
    candidates = list(_files(folder) if suffix else _folders(folder))
    named = [each for each in candidates if each.name == path.name]
    if not digest:
        return named[0] if named else None
    alike = [each for each in candidates if each.suffix.lower() == suffix and each not in named]
    return next((each for each in (*named, *alike) if digest_of_any(each) == digest), None)


def _files(folder: Path) -> Iterator[Path]:
    seen = 0
    for root, folders, names in os.walk(folder):
        folders.sort()
        for name in sorted(names):
            seen += 1
            if seen > _MOST_FILES:
                return
            yield Path(root) / name


def _folders(folder: Path) -> Iterator[Path]:
    """Those that do not hold too much to be looked through."""
    seen = 0
    for root, folders, names in os.walk(folder):
        folders.sort()
        seen += len(names) + 1
        if seen > _MOST_FILES:
            return
        if 0 < len(names) <= _MOST_IN_KIT:
            yield Path(root)
