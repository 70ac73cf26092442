"""The project file: one JSON document, described in docs/project-file.md, written atomically.

Most records stand in the file as they are; what differs is a take's path (relative, so that project and recordings can move
together), its score, the lexicon (as its own text) and the frame rate (as a fraction).
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any, TypeVar, get_type_hints

import msgspec

from buccaphon.errors import BuccaphonError, ProjectError
from buccaphon.files import named_from, relative_name, write_whole
from buccaphon.kits.store import kit_as_data, kit_from_data
from buccaphon.motion.mixes import read_mix
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.laying import Painted
from buccaphon.project.file.checking import require_valid
from buccaphon.project.file.unknown import Unknown, unknown_in, with_unknown
from buccaphon.project.file.upgrades import UPGRADES
from buccaphon.project.state import Line, Role, State, chart_of
from buccaphon.project.take import Take
from buccaphon.score.records import Score, Word
from buccaphon.speech.lexicon_text import lexicon_as_text, parse_lexicon
from buccaphon.texts import _
from buccaphon.timing import FrameRate

Record = TypeVar("Record")
_log = logging.getLogger("buccaphon.project")
SUFFIX = ".buccaphon"
FORMAT = "buccaphon project"
VERSION = 10
_MOST_BYTES = 256 << 20
_NOT_KEPT = ("unknown", "key", "on_show")  # fields that are none of the file's
Data = dict[str, Any]


def save_project(state: State, path: Path) -> None:
    """Write a project. Raises TargetError when it cannot be written."""
    write_whole(path, project_as_bytes(state, path.parent.resolve()))


def require_valid_to_save(state: State, path: Path) -> None:
    """Raises ProjectError for what could not be opened again, before it takes the place of what can."""
    try:
        require_valid(state)
    except (ValueError, BuccaphonError) as problem:
        reason = _("it could not be opened again as it is now ({reason})", reason=problem)
        raise ProjectError(path.name, reason, _("Undo what was done last, then save")) from None


def project_as_bytes(state: State, folder: Path) -> bytes:
    """A scene as its file, naming what it uses from a folder. Each line is written as the role that it is of shows it."""
    written = _written(replace(state.at_rest, open_line=state.open_line), folder, with_unknown)
    return msgspec.json.format(msgspec.json.encode(written), indent=1) + b"\n"


def open_project(path: Path, folder: Path | None = None) -> State:
    """Read a project. folder: from where it names its recordings, when that is not its own.

    Raises ProjectError when it is missing, broken, from a newer version, or says what cannot be.
    """
    subject = str(path)
    data = _decoded(path)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise ProjectError(subject, _("it is not a Buccaphon project"), _("Open a {suffix} file", suffix=SUFFIX))
    version = data.get("version")
    if type(version) is not int or version < 1:
        raise ProjectError(
            subject, _("its file version {version!r} is not valid", version=version), _("Open an earlier version of it")
        )
    if version > VERSION:
        reason = _(
            "it was saved by a newer Buccaphon (file version {version}, known up to {known})",
            version=version,
            known=VERSION,
        )
        raise ProjectError(subject, reason, _("Open it with that version"))
    try:
        if version < VERSION:
            _log.info("a project of version %d is upgraded to %d", version, VERSION)
        for number in range(version, VERSION):
            data = UPGRADES[number](data)
        state = _understood(data, (folder or path.parent).resolve())
        require_valid(state)
    except BuccaphonError as problem:
        reason = _("an entry is wrong ({subject}: {reason})", subject=problem.subject, reason=problem.reason)
    except (
        ValueError,
        KeyError,
        TypeError,
        AttributeError,
        RecursionError,
    ) as problem:  # also msgspec's ValidationError
        reason = _("an entry is wrong ({reason})", reason=problem)
    else:
        return state
    raise ProjectError(subject, reason, _("Correct it in a text editor, or open an earlier version"))


def _decoded(path: Path) -> Any:
    subject = str(path)
    try:
        if path.exists() and not path.is_file():
            raise ProjectError(subject, _("it is not a file"), _("Open a {suffix} file", suffix=SUFFIX))
        if path.stat().st_size > _MOST_BYTES:
            raise ProjectError(
                subject, _("it is far larger than any project"), _("Open a {suffix} file", suffix=SUFFIX)
            )
        return msgspec.json.decode(path.read_bytes())
    except OSError as problem:
        reason = _("it cannot be read ({reason})", reason=problem.strerror)
        raise ProjectError(subject, reason, _("Check the name and the folder")) from None
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        reason = _("it is not a project file, or is incomplete")
        raise ProjectError(subject, reason, _("Open a {suffix} file", suffix=SUFFIX)) from None


def _written(state: State, folder: Path, kept: Callable[[Any, Unknown], Any] = lambda data, _unknown: data) -> Data:
    """kept: puts what is not known of a record into what is written of it."""

    def take(record: Take) -> Data:
        plain, in_bytes = relative_name(record.path, folder)
        special = {
            "path": lambda _path: plain,
            "score": lambda score: {"words": score.words, "duration": score.duration} if score else None,
        }
        return _plain(kept(_plain({"path_bytes": in_bytes} | _as_data(record, special)), record.unknown))

    def line(record: Line) -> Data:
        data = _plain(_as_data(record, {"takes": lambda _takes: []}))
        return _plain(kept(data, record.unknown)) | {"takes": [take(each) for each in record.takes]}

    def role(record: Role) -> Data:
        return _plain(
            kept(_plain(_as_data(record, {"mixes": lambda mixes: [mix.says for mix in mixes]})), record.unknown)
        )

    special = {
        "lines": lambda lines: [line(each) for each in lines],
        "roles": lambda roles: [role(each) for each in roles],
        "lexicon": lambda lexicon: lexicon_as_text(lexicon) if lexicon.entries else "",
        "rate": lambda rate: str(rate.value),
        "kits": lambda kits: [kit_as_data(kit, folder) for kit in kits],
    }
    data = _plain({"format": FORMAT, "version": VERSION, "standing": state.standing} | _as_data(state, special))
    return _plain(kept(data, state.unknown))


def _plain(data: Any) -> Data:
    """As JSON has it."""
    plain: Data = msgspec.json.decode(msgspec.json.encode(data))
    return plain


def _as_data(record: Any, special: Mapping[str, Callable[[Any], Any]]) -> Data:
    """A record's fields by name. special: those that do not stand in the file as they are."""
    values = {name: getattr(record, name) for name in _TYPES[type(record)]}
    return {name: special[name](value) if name in special else value for name, value in values.items()}


def _understood(data: Data, folder: Path) -> State:
    special = {
        "lexicon": lambda text: parse_lexicon(_read(text, str), "the project's lexicon"),
        "rate": lambda text: FrameRate.parse(_read(text, str)),
        "kits": lambda entries: tuple(kit_from_data(entry, folder) for entry in entries),
        "roles": lambda entries: tuple(_role(entry) for entry in entries),
    }
    without_lines = _from_data(State, {name: value for name, value in data.items() if name != "lines"}, special)
    charts = _charts_of(without_lines)
    lines = tuple(_line(entry, number, folder, charts) for number, entry in enumerate(data.get("lines", [{}])))
    return _with_what_is_unknown(replace(without_lines, lines=lines), data, folder)


def _charts_of(state: State) -> tuple[Chart, ...]:
    """Those that the roles use, then all that ship."""
    used = (chart_of(name, state.charts) for name in dict.fromkeys(role.chart for role in state.roles))
    return (*used, *shipped_charts().values())


def _role(entry: Data) -> Role:
    return _from_data(
        Role, entry, {"mixes": lambda texts: tuple(read_mix(text) for text in _read(texts, tuple[str, ...]))}
    )


def _line(entry: Data, number: int, folder: Path, charts: Sequence[Chart]) -> Line:
    special = {"takes": lambda takes: tuple(_take(each, folder, charts) for each in takes)}
    return replace(_from_data(Line, entry, special), key=number)


def _take(entry: Data, folder: Path, charts: Sequence[Chart]) -> Take:
    in_bytes = _read(entry.get("path_bytes", ""), str)
    special = {"path": lambda text: named_from(folder, _read(text, str), in_bytes), "score": _score}
    take = _from_data(Take, entry, special)
    return replace(take, painted=tuple(_with_pose(paint, charts) for paint in take.painted))


def _score(entry: dict[str, Any] | None) -> Score | None:
    if entry is None:
        return None
    return Score(_read(entry["words"], tuple[Word, ...]), _read(entry["duration"], float))


def _from_data(kind: type[Record], data: Data, special: Mapping[str, Callable[[Any], Any]]) -> Record:
    """The record whose fields stand in the data; others keep their defaults. Raises ValueError, which names the field."""
    values = {}
    for name, its_type in _TYPES[kind].items():
        if name in data:
            try:
                values[name] = special[name](data[name]) if name in special else _read(data[name], its_type)
            except msgspec.ValidationError as problem:
                raise ValueError(f"{name}: {problem}") from None
    return kind(**values)


def _read(value: Any, its_type: Any) -> Any:
    return msgspec.convert(value, its_type)


_TYPES: dict[type, dict[str, Any]] = {
    kind: {name: its_type for name, its_type in get_type_hints(kind).items() if name not in _NOT_KEPT}
    for kind in (State, Line, Role, Take)
}
"""Of the records that are written field by field: the fields that a file keeps, with their types."""


def _with_pose(paint: Painted, charts: Sequence[Chart]) -> Painted:
    """Older files name painted mouths alone: what they look like is that of the first chart that has one of that name."""
    if paint.pose is not None:
        return paint
    known = next((mouth for chart in charts for mouth in chart.mouths if mouth.name == paint.mouth), None)
    if known is None:
        raise ValueError(f"painted: unknown mouth “{paint.mouth}”")
    return replace(paint, pose=known.pose, contact=known.contact)


def _with_what_is_unknown(state: State, data: Data, folder: Path) -> State:
    known = _written(state, folder)
    if data == known:  # far the most usual, and told at once
        return state
    lines = tuple(
        replace(
            line,
            takes=tuple(
                replace(take, unknown=unknown_in(*pair))
                for take, *pair in zip(line.takes, read.get("takes", ()), entry["takes"], strict=True)
            ),
            unknown=unknown_in({**read, "takes": None}, {**entry, "takes": None}),
        )
        for line, read, entry in zip(state.lines, data.get("lines", [{}]), known["lines"], strict=True)
    )
    roles = tuple(
        replace(role, unknown=unknown_in(read, entry))
        for role, read, entry in zip(state.roles, data.get("roles", [{}]), known["roles"], strict=True)
    )
    apart: Data = {"lines": None, "roles": None}
    return replace(state, lines=lines, roles=roles, unknown=unknown_in(data | apart, known | apart))
