"""Files: reading text that may be anything, and writing that either happens whole or not at all."""

from __future__ import annotations

import contextlib
import glob
import json
import os
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from buccaphon.errors import InputError, TargetError
from buccaphon.texts import _

MOST_TEXT = 8 << 20  # bytes
_STALE = 3600.0  # seconds after which nobody writes on at an unfinished file
_LONGEST = 200  # bytes; a name may have 255


def read_text(path: Path, problem: type[InputError]) -> str:
    """The text of a file in UTF-8. Raises `problem` when there is none, it is not a file, far too large, or not UTF-8."""
    subject = str(path)
    try:
        if path.exists() and not path.is_file():
            raise problem(subject, "it is not a file", "Name a text file")
        if path.stat().st_size > MOST_TEXT:
            reason = _("it is longer than any script ({size:.0f} MB)", size=path.stat().st_size / 1000000.0)
            raise problem(subject, reason, "Name a text file")
        return path.read_text("utf-8-sig")
    except UnicodeDecodeError:
        raise problem(subject, "it is not UTF-8 text", "Save it as plain text in UTF-8") from None
    except (OSError, ValueError) as odd:
        reason = _("it cannot be read ({reason})", reason=getattr(odd, "strerror", None) or odd)
        raise problem(subject, reason, "Check the name, the folder and its permissions") from None


def whole_text(text: str) -> str:
    """Text from outside without halves of characters (lone surrogates), which no file can hold."""
    return text.encode("utf-16", "surrogatepass").decode("utf-16", "replace")


def quoted(text: str) -> str:
    """A TOML basic string, whose escapes are those of JSON."""
    return json.dumps(text, ensure_ascii=False).replace("\x7f", "\\u007f")


def printable(path: Path) -> str:
    """A file's name for people; what is not UTF-8 in it is replaced."""
    return os.fsencode(path.name).decode("utf-8", "replace")


def relative_name(path: Path, folder: Path) -> tuple[str, str]:
    """A path as it is written into a file in a folder, so that both can move together: relative, as plain text; and in
    hexadecimal where it is not UTF-8, else ''."""
    relative = os.path.relpath(os.path.realpath(path), folder)
    plain = os.fsencode(relative).decode("utf-8", "replace")
    return plain, "" if plain == relative else os.fsencode(relative).hex()


def named_from(folder: Path, plain: str, in_bytes: str = "") -> Path:
    """The path that was written so. Raises ValueError when it cannot be one."""
    named = os.fsdecode(bytes.fromhex(in_bytes)) if in_bytes else plain
    if "\0" in named:
        raise ValueError("its path contains a character that paths cannot have")
    return Path(os.path.realpath(folder / named))


def clear_unfinished(path: Path) -> None:
    """Delete what writings of a file left behind that were killed over an hour ago."""
    with contextlib.suppress(OSError):
        for left in path.parent.glob(f"{glob.escape(_hidden(path.name))}????????"):
            if time.time() - left.stat().st_mtime > _STALE:
                left.unlink(missing_ok=True)


def write_whole(path: Path, content: bytes) -> None:
    """Write a file beside its place, then put it there in one step; through a link, where it leads. Raises TargetError when
    that cannot be done."""
    with writing_whole(path) as file:
        file.write(content)


@contextlib.contextmanager
def writing_whole(path: Path) -> Iterator[IO[bytes]]:
    """The same for what is written piece by piece: it is there when the block ends, and not at all when it fails."""
    _require_place(path)
    try:
        path = Path(os.path.realpath(path))
        handle, name = tempfile.mkstemp(prefix=_hidden(path.name), dir=path.parent)
        try:
            os.close(handle)
            with Path(name).open("w+b") as file:  # not by its handle: whoever writes a film asks for its name
                yield file
                file.flush()
                os.fsync(file.fileno())
            Path(name).chmod(path.stat().st_mode & 0o777 if path.exists() else 0o644)
            Path(name).replace(path)
        except BaseException:
            Path(name).unlink(missing_ok=True)
            raise
    except OSError as problem:
        reason = _("it cannot be written ({reason})", reason=problem.strerror or problem)
        raise TargetError(str(path), reason, _("Choose another place, or free some disk space")) from None


def require_writable(path: Path) -> None:
    """Refuse a target before the work is done rather than after."""
    _require_place(path)
    if not os.access(path.parent, os.W_OK):
        raise TargetError(
            str(path), _("you have no permission to write in {parent}", parent=path.parent), _("Choose another place")
        )


def is_there(path: Path) -> bool:
    """Whether a file would be written over. A name that no file can have, or a folder that may not be entered, holds none."""
    try:
        return path.exists()
    except OSError:
        return False


def is_folder(path: Path) -> bool:
    """As `Path.is_dir`; what can be no name is no folder."""
    try:
        return path.is_dir()
    except OSError:
        return False


def _require_place(path: Path) -> None:
    try:
        if path.is_dir():
            raise TargetError(str(path), _("it is a folder"), _("Name a file in it"))
        if path.exists() and not path.is_file():
            raise TargetError(str(path), _("it is not a file"), _("Name a file"))
        if not path.parent.is_dir():
            raise TargetError(
                str(path),
                _("there is no folder {parent}", parent=path.parent),
                _("Make the folder first or choose another"),
            )
    except OSError as problem:
        reason = _("it cannot be written ({reason})", reason=problem.strerror or problem)
        raise TargetError(str(path), reason, _("Choose another place or a shorter name")) from None


def _hidden(name: str) -> str:
    """The beginning of the name of an unfinished file; short enough that whatever can be a name has room behind it."""
    return "." + os.fsencode(name)[:_LONGEST].decode("utf-8", "ignore") + "."
