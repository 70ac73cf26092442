"""A kit as data: inside a project file, or in a file of its own (`.buccakit`, one JSON document, docs/kit-file.md).

Records stand in the file as they are; what differs is a path, which is written relative to the file.
"""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any, TypeVar

import msgspec

from buccaphon.errors import KitError
from buccaphon.files import named_from, relative_name, write_whole
from buccaphon.kits.kit import (
    DEFAULT_OVER,
    CutOut,
    Drawn,
    Kind,
    Kit,
    Look,
    Model,
    Move,
    OtherFile,
    Part,
    Place,
    Reference,
    Weights,
)
from buccaphon.kits.limits import MOST_NAMES, read_bytes
from buccaphon.kits.names.table import NO_NAMES, Given, NamesTable
from buccaphon.kits.own.drawing import OwnDrawing
from buccaphon.setting import Setting, settings_of
from buccaphon.texts import _

SUFFIX = ".buccakit"
FORMAT = "buccaphon kit"
VERSION = 2
_MOST_BYTES = 32 << 20
_MOST_POINTS = 400
_ANY_NUMBER = Setting(label="", least=-1e6, most=1e6)
_KNOWN: dict[str, Setting] = {}
for _kind in (Kit, Place, Reference, Drawn, Move, Part, CutOut, Model, NamesTable):
    _KNOWN.update(settings_of(_kind))
_LOOKS: dict[Kind, type[Look]] = {Kind.DRAWN: Drawn, Kind.CUT_OUT: CutOut, Kind.MODEL: Model}
Record = TypeVar("Record")


class _Entry(msgspec.Struct, kw_only=True):
    name: str
    kind: Kind
    file: OtherFile
    look: dict[str, Any] = {}
    own: tuple[str, ...] = ()
    shows: tuple[Given, ...] = ()
    names: NamesTable = NO_NAMES
    reference: Reference | None = None
    drawings: tuple[OwnDrawing, ...] = ()
    rests: str | None = None
    has_mouth: bool = False
    weights: Weights = Weights.AUTOMATIC
    over: float = DEFAULT_OVER


def kit_as_data(kit: Kit, folder: Path) -> dict[str, Any]:
    """The kit as plain values, its files named from a folder."""
    entry = _Entry(
        name=kit.name,
        kind=kit.kind,
        file=kit.file,
        look=_plain(kit.look),
        own=kit.own,
        shows=kit.shows,
        names=kit.names,
        reference=kit.reference,
        drawings=kit.drawings,
        rests=kit.rests,
        has_mouth=kit.has_mouth,
        weights=kit.weights,
        over=kit.over,
    )
    data: dict[str, Any] = _with_paths(_plain(entry), folder)
    return kit.unknown | data


def kit_from_data(data: dict[str, Any], folder: Path) -> Kit:
    """The kit that was written so. Raises ValueError (msgspec's names the entry) when it cannot be one."""
    opened = _without_paths(data, folder)
    entry = _understood(opened, _Entry)
    look: Look = _understood(entry.look, _LOOKS[entry.kind])
    if max(map(len, (entry.own, entry.names.host, entry.shows, entry.names.given, entry.drawings))) > MOST_NAMES:
        raise ValueError(f"it has more than {MOST_NAMES} names")
    if not entry.name.strip():
        raise ValueError("name: missing")
    _require_ranges(opened)
    known = _Entry.__struct_fields__
    unknown = {name: value for name, value in data.items() if name not in known}
    return Kit(
        entry.name,
        entry.file,
        look,
        entry.own,
        entry.shows,
        entry.names,
        entry.reference,
        unknown,
        entry.drawings,
        entry.rests,
        entry.has_mouth,
        entry.weights,
        entry.over,
    )


def save_kit(kit: Kit, path: Path) -> None:
    """Write a kit into a file of its own. Raises TargetError."""
    data = {"format": FORMAT, "version": VERSION} | kit_as_data(kit, path.parent.resolve())
    write_whole(path, msgspec.json.format(msgspec.json.encode(data), indent=1) + b"\n")


def open_kit(path: Path) -> Kit:
    """Read a kit from its own file. Raises KitError."""
    try:
        data = msgspec.json.decode(read_bytes(path, _MOST_BYTES))
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        raise KitError(
            str(path), _("it is not a character file, or is incomplete"), _("Open a {suffix} file", suffix=SUFFIX)
        ) from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise KitError(str(path), _("it is not a Buccaphon character file"), _("Open a {suffix} file", suffix=SUFFIX))
    version = data.pop("version", None)
    if version not in (1, VERSION):
        raise KitError(
            str(path),
            _("its version is {version!r}, known is {known}", version=version, known=VERSION),
            _("Open it with that version"),
        )
    data.pop("format")
    try:
        return kit_from_data(from_1_to_2(data) if version == 1 else data, path.parent.resolve())
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError) as problem:
        raise KitError(
            str(path), _("an entry is wrong ({reason})", reason=problem), _("Correct it in a text editor")
        ) from None


_ANCHORS = {"the bottom edge": "bottom", "the middle": "middle", "the top edge": "top"}
_CASES = {"as it is": "unchanged", "lower case": "lower", "UPPER CASE": "upper", "Title Case": "title"}


def from_1_to_2(data: dict[str, Any]) -> dict[str, Any]:
    """Version 1 kept words of the window where ids are now."""
    data = dict(data)
    if "anchor" in data.get("look", {}):
        data["look"] = data["look"] | {"anchor": _ANCHORS.get(data["look"]["anchor"], data["look"]["anchor"])}
    if "shows" in data:
        data["shows"] = [_given_from_1(row) for row in data["shows"]]
    if "names" in data:
        names = dict(data["names"])
        if "case" in names:
            names["case"] = _CASES.get(names["case"], names["case"])
        if "given" in names:
            names["given"] = [_given_from_1(row) for row in names["given"]]
        data["names"] = names
    return data


def _given_from_1(row: dict[str, Any]) -> dict[str, Any]:
    words = row.get("why", "")
    reason = {"id": "by_hand"} if row.get("by_hand") else {"id": "as_told", "about": [words]}
    return row | {"why": [reason] if words else []}


def renamed(kit: Kit, name: str) -> Kit:
    return replace(kit, name=name)


def _plain(record: object) -> Any:
    return msgspec.to_builtins(record, enc_hook=_path_to_text)


def _path_to_text(value: object) -> object:
    if isinstance(value, Path):
        return str(value)
    raise NotImplementedError


def _with_paths(value: Any, folder: Path) -> Any:
    if isinstance(value, dict):
        if value.keys() == {"path", "digest"}:
            plain, in_bytes = relative_name(Path(value["path"]), folder)
            return {"path": plain, "digest": value["digest"]} | ({"path_bytes": in_bytes} if in_bytes else {})
        return {name: _with_paths(each, folder) for name, each in value.items()}
    return [_with_paths(each, folder) for each in value] if isinstance(value, list | tuple) else value


def _without_paths(value: Any, folder: Path) -> Any:
    """The same with whole paths again."""
    if isinstance(value, dict):
        if isinstance(value.get("path"), str) and value.keys() <= {"path", "digest", "path_bytes"}:
            path = named_from(folder, value["path"], value.get("path_bytes", ""))
            return {"path": path, "digest": value.get("digest", "")}
        return {name: _without_paths(each, folder) for name, each in value.items()}
    return [_without_paths(each, folder) for each in value] if isinstance(value, list | tuple) else value


def _understood(data: Any, kind: type[Record]) -> Record:
    return msgspec.convert(data, kind, dec_hook=_path_as_it_is, builtin_types=())


def _path_as_it_is(kind: type, value: object) -> object:
    if kind is Path and isinstance(value, Path):
        return value
    raise TypeError("a path is text")  # msgspec adds where


def require_valid_kit(kit: Kit) -> None:
    """Raises KitError for numbers with which no project would open again."""
    try:
        _require_ranges(_plain((kit.look, kit.names, kit.reference)))
    except ValueError as problem:
        raise KitError(kit.name, str(problem), _("Use one within that range")) from None


def _require_ranges(value: Any, name: str = "") -> None:
    if isinstance(value, dict):
        for inner, each in value.items():
            _require_ranges(each, inner)
    elif isinstance(value, list | tuple):
        if len(value) > _MOST_POINTS and name in ("lip_line", "chin", "outline"):
            raise ValueError(f"{name}: more than {_MOST_POINTS} points")
        for each in value:
            _require_ranges(each, name)
    elif isinstance(value, int | float) and not isinstance(value, bool):
        _KNOWN.get(name, _ANY_NUMBER).require(name, value)
