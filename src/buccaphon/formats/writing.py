"""Writing what a format made: every file whole or not at all, and told where it went."""

from __future__ import annotations

import contextlib
import glob
import re
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from buccaphon.errors import BuccaphonError, Cancelled, TargetError
from buccaphon.files import clear_unfinished, is_folder, is_there, write_whole, writing_whole
from buccaphon.formats.format import Files, Stream
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import _


@dataclass(frozen=True, slots=True)
class Written:
    """A file that is there as it should be. changed: whether it had to be written for that."""

    path: Path
    changed: bool


def write_files(
    files: Files,
    folder: Path,
    progress: Progress = no_progress,
    main: Path | None = None,
    sources: Collection[Path] = (),
) -> list[Written]:
    """Write all of a format's files into a folder that is there; files that are already up to date are not touched, so that
    an open host need not read it again. main: another path for the first of them. sources: what all of it is made from,
    none of which is written over. Raises TargetError when one cannot be written, and Cancelled; what was written before
    stays."""
    written = []
    for number, name in enumerate(files):
        require_no_source(main if main is not None and number == 0 else folder / name, sources)
    for number, (name, content) in enumerate(files.items()):
        if not progress(number / len(files), _("Writing {name}", name=name)):
            raise Cancelled
        target = main if main is not None and number == 0 else folder / name
        clear_unfinished(target)
        changed = True
        if not isinstance(content, bytes):
            with writing_whole(target) as file:
                _stream(content, file, progress)
        elif changed := not _is_as(target, content):
            write_whole(target, content)
        written.append(Written(target, changed))
    return written


def _stream(content: Stream, file: IO[bytes], progress: Progress) -> None:
    """A disk that is full reaches us through whoever writes a film as an error of its own kind."""
    try:
        content(file, progress)
    except (BuccaphonError, OSError):
        raise
    except Exception as problem:
        beneath: BaseException | None = problem
        while beneath is not None and not isinstance(beneath, OSError):
            beneath = beneath.__cause__ or beneath.__context__
        if beneath is None:
            raise
        raise beneath from None


def require_no_source(target: Path, sources: Iterable[Path]) -> None:
    """Raises TargetError where a file to be written is one of those that it is made from, by whatever name."""
    for source in sources:
        with contextlib.suppress(OSError, ValueError):
            if target.exists() and source.exists() and target.samefile(source):
                reason = _("it is what this is made from, which would be gone")
                raise TargetError(str(target), reason, _("Choose another name or folder"))


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
        reason = _("the folder cannot be made ({reason})", reason=problem.strerror)
        raise TargetError(str(folder), reason, _("Choose another place")) from None


def names_of(files: Iterable[Path], most: int = 6) -> str:
    """The names of files for a sentence: the first few, and how many more there are."""
    names = [file.name for file in files]
    more = f" and {len(names) - most} more" if len(names) > most else ""
    return ", ".join(names[:most]) + more
