"""Writing what a format made: every file whole or not at all, and told where it went."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from buccaphon.errors import Cancelled, TargetError
from buccaphon.files import write_whole, writing_whole
from buccaphon.formats.format import Files
from buccaphon.progress import Progress, unheard


def write_files(files: Files, folder: Path, progress: Progress = unheard, main: Path | None = None) -> list[Path]:
    """Write all of a format's files into a folder that is there. main: another path for the first of them. Raises TargetError
    when one cannot be written, and Cancelled; what was written before stays."""
    written = []
    for number, (name, content) in enumerate(files.items()):
        if not progress(number / len(files), f"Writing {name}"):
            raise Cancelled
        target = main if main is not None and number == 0 else folder / name
        if isinstance(content, bytes):
            write_whole(target, content)
        else:
            with writing_whole(target) as file:
                content(file, progress)
        written.append(target)
    return written


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
