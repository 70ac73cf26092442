"""Writing that either happens whole or not at all."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from buccaphon.errors import TargetError


def write_whole(path: Path, content: bytes) -> None:
    """Write a file beside its place, then put it there in one step. Raises TargetError when that cannot be done."""
    if path.is_dir():
        raise TargetError(str(path), "it is a folder", "Name a file in it")
    if not path.parent.is_dir():
        raise TargetError(str(path), f"there is no folder {path.parent}", "Make the folder first or choose another")
    try:
        handle, name = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(content)
                file.flush()
                os.fsync(file.fileno())
            Path(name).chmod(path.stat().st_mode & 0o777 if path.exists() else 0o644)
            Path(name).replace(path)
        except BaseException:
            Path(name).unlink(missing_ok=True)
            raise
    except OSError as problem:
        reason = f"it cannot be written ({problem.strerror or problem})"
        raise TargetError(str(path), reason, "Choose another place, or free space there") from None


def require_writable(path: Path) -> None:
    """Refuse a target before the work is done rather than after."""
    folder = path.parent
    if path.is_dir():
        raise TargetError(str(path), "it is a folder", "Name a file in it")
    if not folder.is_dir():
        raise TargetError(str(path), f"there is no folder {folder}", "Make the folder first or choose another")
    if not os.access(folder, os.W_OK):
        raise TargetError(str(path), f"you may not write into {folder}", "Choose another place")
