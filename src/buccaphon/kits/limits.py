"""Size limits for character files, and opening them within these: they may be damaged or hostile."""

from __future__ import annotations

import gzip
import io
import os
import zipfile
import zlib
from contextlib import AbstractContextManager
from pathlib import Path
from typing import TYPE_CHECKING

import defusedxml.ElementTree
from defusedxml import DefusedXmlException

from buccaphon.errors import KitError
from buccaphon.texts import _

if TYPE_CHECKING:
    from xml.etree.ElementTree import Element

PICTURE_SUFFIXES = (".png", ".svg", ".svgz", ".webp", ".jpg", ".jpeg")
MOST_BYTES = 1 << 30  # of a file, and of what it unpacks to
MOST_SIDE = 16_384  # pixels
MOST_PIXELS = 100_000_000
MOST_XML = 32 << 20  # bytes
MOST_ENTRIES = 4000
MOST_DEPTH = 40
_GZIP = b"\x1f\x8b"


MOST_NAMES = 4000  # of drawings, shapes and a host's own


def within_limits(subject: str, of: str = "kit") -> AbstractContextManager[None]:
    """What goes wrong while a file from anywhere is read is the file's fault, and is told so. Raises KitError."""
    return _Within(subject, of)


class _Within(AbstractContextManager[None]):
    def __init__(self, subject: str, of: str) -> None:
        self._subject, self._of = subject, of

    def __exit__(self, kind: object, problem: BaseException | None, trace: object) -> None:
        if isinstance(problem, _DAMAGED):
            said = _(
                "its {part} is damaged ({reason})", part=self._of, reason=str(problem)[:100] or type(problem).__name__
            )
            raise KitError(self._subject, said, _("Write it again")) from None


_DAMAGED = (KeyError, IndexError, TypeError, ValueError, AttributeError, ArithmeticError, RecursionError, OSError)


def read_bytes(path: Path, most: int = MOST_BYTES) -> bytes:
    """A file's bytes. Raises KitError when it cannot be read or is larger than `most`."""
    subject = str(path)
    try:
        if path.exists() and not path.is_file():
            raise KitError(subject, _("it is not a file"), _("Choose a picture, a layered file, a model or a folder"))
        size = path.stat().st_size
        if size > most:
            raise KitError(
                subject, _("it is far too large ({size:.0f} MB)", size=size / 1000000.0), _("Save it smaller")
            )
        return path.read_bytes()
    except (OSError, ValueError) as problem:
        reason = _("it cannot be read ({reason})", reason=getattr(problem, "strerror", None) or problem)
        raise KitError(subject, reason, _("Check the name, the folder and its permissions")) from None


def require_size(width: int, height: int, subject: str) -> None:
    """Refuse a picture that no memory is to be given to."""
    if width < 1 or height < 1:
        raise KitError(subject, _("its width or height is 0"), _("Save it again"))
    if width > MOST_SIDE or height > MOST_SIDE or width * height > MOST_PIXELS:
        reason = _(
            "it is {width} x {height} pixels, more than {side} on a side or {pixels} million",
            width=width,
            height=height,
            side=MOST_SIDE,
            pixels=MOST_PIXELS // 1000000,
        )
        raise KitError(subject, reason, _("Save it smaller"))


def parse_xml(data: bytes, subject: str) -> Element:
    """A tree without entities, not too deep. Compressed data is unpacked first. Raises KitError."""
    if data[:2] == _GZIP:
        data = _unzipped(data, subject)
    if len(data) > MOST_XML:
        raise KitError(subject, _("it is longer than {most} MB of text", most=MOST_XML >> 20), _("Save it simpler"))
    try:
        root: Element = defusedxml.ElementTree.fromstring(data)
    except DefusedXmlException:
        raise KitError(subject, _("it declares XML entities"), _("Save it as plain SVG")) from None
    except (SyntaxError, ValueError, LookupError) as problem:
        raise KitError(subject, _("it is damaged ({reason})", reason=problem), _("Save it again")) from None
    level, depth = [root], 0
    while level:
        depth += 1
        if depth > MOST_DEPTH:
            raise KitError(
                subject,
                _("its groups are nested more than {most} deep", most=MOST_DEPTH),
                _("Flatten some groups"),
            )
        level = [child for each in level for child in each]
    return root


def _unzipped(data: bytes, subject: str) -> bytes:
    try:
        with gzip.GzipFile(fileobj=io.BytesIO(data)) as file:
            return file.read(MOST_XML + 1)
    except (OSError, EOFError, zlib.error) as problem:
        raise KitError(subject, _("it is damaged ({reason})", reason=problem), _("Save it again")) from None


def open_zip(data: bytes, subject: str) -> zipfile.ZipFile:
    """Raises KitError when it is none, encrypted, or unpacks to too much."""
    try:
        found = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, NotImplementedError) as problem:
        raise KitError(subject, _("it is damaged ({reason})", reason=problem), _("Save it again")) from None
    entries = found.infolist()
    if len(entries) > MOST_ENTRIES or sum(entry.file_size for entry in entries) > MOST_BYTES:
        raise KitError(subject, _("it would unpack to too much data"), _("Save it smaller"))
    if any(entry.flag_bits & 1 for entry in entries):
        raise KitError(subject, _("it is encrypted"), _("Save it without a password"))
    return found


def read_entry(file: zipfile.ZipFile, name: str, subject: str, most: int = MOST_BYTES) -> bytes:
    """One entry; never more bytes than it says it has. Raises KitError."""
    try:
        entry = file.getinfo(name)
        if entry.file_size > most:
            raise KitError(subject, _("{name} in it is far too large", name=name), _("Save it smaller"))
        return file.read(entry)
    except KeyError:
        raise KitError(subject, _("it has no {name}", name=name), _("Save it again")) from None
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, ValueError, RuntimeError) as problem:
        raise KitError(
            subject, _("{name} in it is damaged ({reason})", name=name, reason=problem), _("Save it again")
        ) from None


def file_inside(folder: Path, name: str) -> Path | None:
    """A file that a kit names, when it lies in the kit's folder and nowhere else."""
    try:
        inside = Path(os.path.realpath(folder / name))
        root = Path(os.path.realpath(folder))
        return inside if inside.is_relative_to(root) and inside.is_file() else None
    except (OSError, ValueError):  # what can be no name is none
        return None
