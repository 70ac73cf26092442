"""Nothing is lost: what is open is kept beside the project while it is worked on, and saved files keep their last versions.

Kept files lie in a folder of the user's own. Each run has a name of its own and holds a lock on it; where a kept file has no
lock that is held, its run ended without saving. Numbers of processes would not do: in a container every run may have the
same one.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import logging
import shutil
import time
import uuid
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import IO

from buccaphon.files import write_whole
from buccaphon.project.file.store import SUFFIX, save_project
from buccaphon.project.state import State

_log = logging.getLogger("buccaphon.project")
VERSIONS = 10
_LOCK = ".lock"
_STALE = 3600.0  # seconds after which nobody writes on at an unfinished file


@dataclass(frozen=True, slots=True)
class Kept:
    """Work that a process left behind. path: of the kept project. original: where it was saved to, if anywhere."""

    path: Path
    original: Path | None
    title: str


class Keeper:
    """Keeps what is open in this run. Nothing that another run has kept is touched."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.path = folder / f"{uuid.uuid4().hex}{SUFFIX}"
        self.lock: IO[bytes] | None = None

    def keep(self, state: State, original: Path | None, title: str) -> None:
        """Raises TargetError or OSError when the folder cannot be written."""
        self.folder.mkdir(parents=True, exist_ok=True)
        if self.lock is None or not self.path.with_suffix(_LOCK).exists():
            self.lock = self.path.with_suffix(_LOCK).open("wb")
            fcntl.flock(self.lock, fcntl.LOCK_EX)
        save_project(state, self.path)
        note = {"original": str(original) if original else None, "title": title}
        write_whole(self.path.with_suffix(".json"), json.dumps(note).encode())

    def let_go(self) -> None:
        """What was kept is saved, or not wanted. What cannot be deleted stays."""
        _delete(self.path)
        if self.lock is not None:
            self.lock.close()
            self.lock = None


def left_behind(folder: Path) -> list[Kept]:
    """What runs that are gone have kept, the newest first; what their writing left unfinished is cleared away."""
    found = []
    with contextlib.suppress(OSError):
        for path in folder.glob(f"*{SUFFIX}"):
            if not _is_held(path.with_suffix(_LOCK)):
                found.append((path.stat().st_mtime, path))
        for unfinished in folder.glob(f".*{SUFFIX}.*"):
            if time.time() - unfinished.stat().st_mtime > _STALE:
                unfinished.unlink(missing_ok=True)
    return [_kept(path) for _, path in sorted(found, reverse=True)]


def _kept(path: Path) -> Kept:
    try:
        note = dict(json.loads(path.with_suffix(".json").read_text()))
    except (OSError, ValueError, TypeError):
        note = {}
    original = note.get("original")
    return Kept(path, Path(str(original)) if original else None, str(note.get("title") or "Untitled"))


def _is_held(lock: Path) -> bool:
    """Whether the run that a lock belongs to goes on."""
    try:
        with lock.open("rb") as file:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return False
    except OSError:
        return True
    return False


def forget(kept: Kept) -> None:
    """Delete what was left behind: it is open again, or not wanted."""
    _delete(kept.path)


def _delete(path: Path) -> None:
    for suffix in (SUFFIX, ".json", _LOCK):
        with contextlib.suppress(OSError):
            path.with_suffix(suffix).unlink(missing_ok=True)


def keep_version(path: Path, folder: Path) -> bool:
    """Put the file that is about to be saved over among its versions; whether it is there. A version that cannot be kept
    stops no saving."""
    try:
        if not path.is_file():
            return True
        place = _versions_of(path, folder)
        place.mkdir(parents=True, exist_ok=True)
        stamp = datetime.fromtimestamp(path.stat().st_mtime).strftime("%Y-%m-%d %H.%M.%S.%f")
        copied = place / f"{stamp}{SUFFIX}"
        shutil.copy2(path, copied)
        (place / "folder.txt").write_text(str(path.parent.resolve()), "utf-8")
        for old in sorted(place.glob(f"*{SUFFIX}"))[:-VERSIONS]:
            old.unlink()
    except OSError as problem:
        _log.warning("an earlier version could not be kept: %s", problem)
        return False
    return True


def versions(path: Path, folder: Path) -> list[tuple[str, Path]]:
    """Earlier versions of a saved project, the newest first: when each was saved, and its file."""
    found = sorted(_versions_of(path, folder).glob(f"*{SUFFIX}"), reverse=True)
    return [(file.stem[:19].replace(".", ":"), file) for file in found]


def _versions_of(path: Path, folder: Path) -> Path:
    return folder / "versions" / hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:16]
