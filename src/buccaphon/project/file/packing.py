"""A pack: a project with everything it uses in one zip, to be opened elsewhere.

Inside lie `project.buccaphon`, and with it what it names: `recordings/`, `kits/`. Charts and lexicon are in the project.
Unpacking writes nothing outside the folder it is given, follows no links, and stops at limits.
"""

from __future__ import annotations

import contextlib
import os
import tempfile
import zipfile
from collections.abc import Iterator, Sequence
from dataclasses import replace
from pathlib import Path, PurePosixPath

from buccaphon.audio.reading import SUFFIXES as SOUND_SUFFIXES
from buccaphon.errors import Cancelled, ProjectError, TargetError
from buccaphon.files import printable, writing_whole
from buccaphon.kits.kit import with_files
from buccaphon.kits.limits import PICTURE_SUFFIXES
from buccaphon.kits.model.names import MODEL_SUFFIXES
from buccaphon.progress import Progress, no_progress
from buccaphon.project.file.store import SUFFIX, project_as_bytes
from buccaphon.project.state import State
from buccaphon.texts import _

PACK_SUFFIX = ".buccapack.zip"
PROJECT = f"project{SUFFIX}"
MOST_BYTES = 8 << 30  # that a pack may unpack to
MOST_FILES = 20_000
_PIECE = 1 << 20
_PACKED = frozenset(
    (*SOUND_SUFFIXES, *PICTURE_SUFFIXES, *MODEL_SUFFIXES, ".ora", ".bin")
)  # what a project can be made of
_STORED = (  # are packed already
    ".png", ".jpg", ".jpeg", ".webp", ".ora", ".flac", ".mp3", ".m4a", ".ogg", ".opus", ".mp4", ".mov", ".mkv", ".webm",
)  # fmt: skip


def pack(state: State, path: Path, progress: Progress = no_progress) -> tuple[str, ...]:
    """Write a project with all it uses. The names of what was not there to be packed. Raises TargetError, Cancelled."""
    with tempfile.TemporaryDirectory() as nowhere:  # a folder that the pack's own places are told from
        return _pack(state, path, Path(os.path.realpath(nowhere)), progress)


def _pack(state: State, path: Path, root: Path, progress: Progress) -> tuple[str, ...]:
    places = _Places(root)
    state = state.with_each_take(lambda take: replace(take, path=places.of(take.path, "recordings")))
    kits = tuple(with_files(kit, lambda file: replace(file, path=places.of(file.path, "kits"))) for kit in state.kits)
    missing: list[str] = []
    files = list(places.files())
    with writing_whole(path) as out, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        for number, (source, inside) in enumerate(files):
            if not progress(number / max(len(files), 1), source.name):
                raise Cancelled
            if (
                source.suffix.lower() not in _PACKED
            ):  # a project from elsewhere may name anything: a key, a list of passwords
                missing.append(printable(source))
                continue
            try:
                kind = zipfile.ZIP_STORED if source.suffix.lower() in _STORED else zipfile.ZIP_DEFLATED
                file.write(source, inside, kind)
            except OSError:
                missing.append(printable(source))
        file.writestr(PROJECT, project_as_bytes(replace(state, kits=kits), root))
    return tuple(missing)


def unpack(path: Path, folder: Path, progress: Progress = no_progress) -> Path:
    """Write what is in a pack into a folder that is new or empty, and return the project's path. Raises ProjectError when it
    is no pack, damaged, hostile or far too large, TargetError when it cannot be written, Cancelled."""
    subject, made = str(path), list[Path]()
    try:
        with zipfile.ZipFile(path) as file:
            entries = _entries(file, subject)
            _make_folder(folder)
            try:
                for number, (entry, place) in enumerate(entries):
                    if not progress(number / max(len(entries), 1), place.name):
                        raise Cancelled
                    made.append(folder / place)
                    _write(file, entry, folder / place)
            except BaseException:
                _clear_away(made, folder)
                raise
    except (
        zipfile.BadZipFile,
        zipfile.LargeZipFile,
        NotImplementedError,
        EOFError,
        RuntimeError,
        ValueError,
    ) as problem:
        raise ProjectError(
            subject, _("it is damaged or not a pack ({reason})", reason=problem), _("Pack the project again")
        ) from None
    except OSError as problem:
        reason = _("it cannot be unpacked ({reason})", reason=problem.strerror or problem)
        raise TargetError(str(folder), reason, _("Choose another folder, or free space there")) from None
    return folder / PROJECT


class _Places:
    """Where each file goes in the pack; what is named twice is there once."""

    def __init__(self, root: Path) -> None:
        self._root = root
        self._places: dict[Path, str] = {}

    def of(self, path: Path, room: str) -> Path:
        """Where a file or folder goes."""
        if path not in self._places:
            taken = {place.lower() for place in self._places.values()}
            name = Path(printable(path))  # which a pack can hold, whatever the file is called
            stem, suffix = (name.stem, name.suffix) if name.suffix else (name.name, "")
            tried = (f"{room}/{stem}{f' {n}' if n > 1 else ''}{suffix}" for n in range(1, 10_000))
            self._places[path] = next(place for place in tried if place.lower() not in taken)
        return self._root / self._places[path]

    def files(self) -> Iterator[tuple[Path, str]]:
        """Each file with its name in the pack; of a folder all files in it, and the data that a model names beside it."""
        for path, place in self._places.items():
            if path.is_dir():
                for each in sorted(path.iterdir()):
                    if each.is_file() and not each.name.startswith("."):
                        yield each, f"{place}/{printable(each)}"
            else:
                yield path, place
                if path.suffix.lower() == ".gltf":
                    for each in sorted(path.parent.glob("*.bin")):
                        yield each, str(PurePosixPath(place).parent / printable(each))


def _entries(file: zipfile.ZipFile, subject: str) -> list[tuple[zipfile.ZipInfo, Path]]:
    """The files of a pack with their places below the folder; refused when any would lie outside it."""
    if any(not info.filename for info in file.infolist()):
        raise ProjectError(subject, _("a file in it has no name"), _("Pack the project again"))
    infos = [info for info in file.infolist() if not info.is_dir()]
    if PROJECT not in (info.filename for info in infos):
        raise ProjectError(
            subject, _("there is no {project} in it", project=PROJECT), _("Open a pack that Buccaphon wrote")
        )
    if len(infos) > MOST_FILES or sum(info.file_size for info in infos) > MOST_BYTES:
        raise ProjectError(subject, _("it would unpack to too much data"), _("Leave out what the project does not use"))
    found = []
    for info in infos:
        place = PurePosixPath(info.filename.replace("\\", "/"))
        is_link = (info.external_attr >> 16) & 0o170000 == 0o120000
        if (
            not place.parts
            or place.is_absolute()
            or ".." in place.parts
            or ":" in info.filename
            or "\0" in info.filename
            or is_link
        ):
            raise ProjectError(
                subject,
                _("{name} would be unpacked outside the folder", name=info.filename[:80]),
                _("Do not open it"),
            )
        found.append((info, Path(*place.parts)))
    return found


def _make_folder(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    if any(folder.iterdir()):
        raise TargetError(str(folder), _("it is not empty"), _("Choose an empty folder or a new one"))


def _clear_away(made: Sequence[Path], folder: Path) -> None:
    """Half a pack is of no use to anybody: what was unpacked goes, and the folders made for it."""
    for path in made:
        with contextlib.suppress(OSError):
            path.unlink(missing_ok=True)
        for above in path.parents:
            if above == folder:
                break
            with contextlib.suppress(OSError):
                above.rmdir()


def _write(file: zipfile.ZipFile, entry: zipfile.ZipInfo, target: Path) -> None:
    target.parent.mkdir(parents=True, exist_ok=True)
    left = entry.file_size
    with file.open(entry) as source, target.open("xb") as out:
        while piece := source.read(min(_PIECE, left + 1)):
            left -= len(piece)
            if left < 0:
                raise ValueError(f"{entry.filename} is larger than the pack declares")
            out.write(piece)
