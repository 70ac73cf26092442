"""Finding a recording again after it was moved: by its content, or by its name near the project."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Iterator
from pathlib import Path

from buccaphon.project.state import Take

_MOST_FILES = 5000  # looked at around the project before giving up
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


def find_again(take: Take, folder: Path) -> Path | None:
    """Look for a take's file in and below a folder.

    A file of the same content wins, whatever it is called; else one of the same name counts when the content was never
    known. None when there is neither.
    """
    candidates = list(_files(folder))
    named = [path for path in candidates if path.name == take.path.name]
    if not take.digest:
        return named[0] if named else None
    alike = [path for path in candidates if path.suffix.lower() == take.path.suffix.lower() and path not in named]
    for path in (*named, *alike):
        try:
            if digest_of(path) == take.digest:
                return path
        except OSError:
            continue
    return None


def _files(folder: Path) -> Iterator[Path]:
    seen = 0
    for root, folders, names in os.walk(folder):
        folders.sort()
        for name in sorted(names):
            seen += 1
            if seen > _MOST_FILES:
                return
            yield Path(root) / name
