"""Writing what a format made: every file whole or not at all, and told where it went."""

from __future__ import annotations

import glob
import re
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from buccaphon.errors import Cancelled, TargetError
from buccaphon.files import clear_unfinished, is_folder, is_there, write_whole, writing_whole
from buccaphon.formats.format import Files
from buccaphon.progress import Progress, unheard


@dataclass(frozen=True, slots=True)
class Written:
    """A file that is there as it should be. changed: whether it had to be written for that."""

    path: Path
    changed: bool


def write_files(files: Files, folder: Path, progress: Progress = unheard, main: Path | None = None) -> list[Written]:
    """Write all of a format's files into a folder that is there; one that is there as it should be stays untouched, so that
    an open host need not read it again. main: another path for the first of them. Raises TargetError when one cannot be
    written, and Cancelled; what was written before stays."""
    written = []
    for number, (name, content) in enumerate(files.items()):
        if not progress(number / len(files), f"Writing {name}"):
            raise Cancelled
        target = main if main is not None and number == 0 else folder / name
        clear_unfinished(target)
        changed = True
        if not isinstance(content, bytes):
            with writing_whole(target) as file:
                content(file, progress)
        elif changed := not _is_as(target, content):
            write_whole(target, content)
        written.append(Written(target, changed))
    return written


def _is_as(path: Path, content: bytes) -> bool:
    try:
        return path.is_file() and path.stat().st_size == len(content) and path.read_bytes() == content
    except OSError:
        return False


def already_there(place: Path, ending: str) -> list[Path]:
    """The files that one of a format would be written over: a place is a folder and a name without its ending, where #### in
    an ending stands for numbers."""
    if "#" not in ending:
        target = place.parent / f"{place.name}{ending}"
        return [target] if is_there(target) else []
    found = glob.escape(place.name) + re.sub("#+", "[0-9]*", ending)
    return sorted(place.parent.glob(found))[:1] if is_folder(place.parent) else []


def make_folder(folder: Path) -> None:
    """Make a folder, and those around it, unless it is there. Raises TargetError."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as problem:
        reason = f"the folder cannot be made ({problem.strerror})"
        raise TargetError(str(folder), reason, "Choose another place") from None


def names_of(files: Iterable[Path], most: int = 6) -> str:
    """The names of files for a sentence: the first few, and how many more there are."""
    names = [file.name for file in files]
    more = f" and {len(names) - most} more" if len(names) > most else ""
    return ", ".join(names[:most]) + more
