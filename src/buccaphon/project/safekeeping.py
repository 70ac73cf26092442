"""Nothing is lost: what is open is kept beside the project while it is worked on, and saved files keep their last versions.

Kept files lie in a folder of the user's own. Each belongs to a running process; when that process is gone and its file is
still there, it ended without saving.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from buccaphon.formats.atomic import write_whole
from buccaphon.project.state import State
from buccaphon.project.store import SUFFIX, save_project

VERSIONS = 10


@dataclass(frozen=True, slots=True)
class Kept:
    """Work that a process left behind. path: of the kept project. original: where it was saved to, if anywhere."""

    path: Path
    original: Path | None
    title: str


def keep(state: State, folder: Path, original: Path | None, title: str) -> None:
    """Keep what is open in this process. Raises TargetError when the folder cannot be written."""
    folder.mkdir(parents=True, exist_ok=True)
    path = _mine(folder)
    save_project(state, path)
    note = {"original": str(original) if original else None, "title": title}
    write_whole(path.with_suffix(".json"), json.dumps(note).encode())


def let_go(folder: Path) -> None:
    """What this process kept is saved, or not wanted."""
    for path in (_mine(folder), _mine(folder).with_suffix(".json")):
        path.unlink(missing_ok=True)


def left_behind(folder: Path) -> list[Kept]:
    """What processes that are gone have kept, the newest first."""
    found = []
    for path in folder.glob(f"*{SUFFIX}"):
        if path.stem.isdigit() and not _is_running(int(path.stem)):
            try:
                note = dict(json.loads(path.with_suffix(".json").read_text()))
            except (OSError, ValueError, TypeError):
                note = {}
            original = note.get("original")
            found.append(Kept(path, Path(original) if original else None, str(note.get("title") or "Untitled")))
    return sorted(found, key=lambda kept: -kept.path.stat().st_mtime)


def forget(kept: Kept) -> None:
    """Delete what was left behind: it is open again, or not wanted."""
    for path in (kept.path, kept.path.with_suffix(".json")):
        path.unlink(missing_ok=True)


def keep_version(path: Path, folder: Path) -> None:
    """Put the file that is about to be saved over among its versions. A version that cannot be kept stops no saving."""
    if not path.is_file():
        return
    try:
        place = _versions_of(path, folder)
        place.mkdir(parents=True, exist_ok=True)
        stamp = datetime.fromtimestamp(path.stat().st_mtime).strftime("%Y-%m-%d %H.%M.%S.%f")
        copied = place / f"{stamp}{SUFFIX}"
        shutil.copy2(path, copied)
        (place / "folder.txt").write_text(str(path.parent.resolve()), "utf-8")
        for old in sorted(place.glob(f"*{SUFFIX}"))[:-VERSIONS]:
            old.unlink()
    except OSError:
        return


def versions(path: Path, folder: Path) -> list[tuple[str, Path]]:
    """Earlier versions of a saved project, the newest first: when each was saved, and its file."""
    found = sorted(_versions_of(path, folder).glob(f"*{SUFFIX}"), reverse=True)
    return [(file.stem[:19].replace(".", ":"), file) for file in found]


def _versions_of(path: Path, folder: Path) -> Path:
    return folder / "versions" / hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:16]


def _mine(folder: Path) -> Path:
    return folder / f"{os.getpid()}{SUFFIX}"


def _is_running(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
