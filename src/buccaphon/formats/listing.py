"""The export list: which files a line becomes, what they are called and where they go. A project keeps one; as a TOML file it
goes from project to project and to the command line."""

from __future__ import annotations

import re
import string
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import msgspec

from buccaphon.errors import ListError, TargetError
from buccaphon.files import quoted, read_text, whole_text
from buccaphon.formats.options import chosen_options
from buccaphon.formats.registry import FORMATS, format_named
from buccaphon.setting import setting
from buccaphon.texts import N_, _

SUFFIX = ".toml"
MOST_ENTRIES = 200
FIELDS = {
    "title": N_("project or recording name"),
    "take": N_("take name"),
    "chart": N_("the mouth chart"),
    "character": N_("the character in the mirror"),
    "role": N_("role name"),
    "fps": N_("frame rate"),
}
_UNFIT = re.compile(r"[\x00-\x1f\x7f/\\:*?\"<>|]+")  # in names of files, on whatever system the host runs


@dataclass(frozen=True, slots=True)
class Entry:
    """One file, or one set of files. format: its id. name: a pattern without the ending, such as `{title}_{take}`. folder:
    below the list's own, or a whole path. options: by name, those that differ from the default, as text."""

    format: str
    name: str = setting("{title}", N_("Name"), N_("File name without extension"), is_text=True)
    folder: str = setting(
        "",
        N_("Folder"),
        N_("A subfolder of the export folder, or a full path"),
        is_text=True,
        none=N_("export folder"),
    )
    options: tuple[tuple[str, str], ...] = ()
    on: bool = True

    def told(self, option: str) -> str | None:
        return dict(self.options).get(option)


USUAL = (Entry("keys-csv"), Entry("keys-json"), Entry("textgrid"))


@dataclass(frozen=True, slots=True)
class ExportList:
    """folder: of all, below the project's own or a whole path; '' until one was chosen. again: whether all is written again
    whenever the project is saved. each: whether a set of files is written for each character of the project."""

    entries: tuple[Entry, ...] = USUAL
    folder: str = ""
    again: bool = False
    each: bool = True


DEFAULT_LIST = ExportList()


def stem(pattern: str, facts: Mapping[str, str]) -> str:
    """A file's name without its ending. facts: what stands for each of FIELDS. Raises ListError for a field that is none
    of them, and a name that says nothing."""
    found = "".join(
        literal + (facts[_field(field, pattern)] if field is not None else "")
        for literal, field, _rest, _rest in _parsed(pattern)
    )
    plain = _UNFIT.sub("_", whole_text(found)).strip().replace(" ", "_").lstrip(".")
    if not plain:
        raise ListError(
            _("the name “{pattern}”", pattern=pattern), _("it gives an empty file name"), _("Write {title}")
        )
    return plain


def names_field(pattern: str, name: str) -> bool:
    """Whether the names that a pattern gives differ with a field, as from character to character."""
    return any(field == name for _literal, field, _rest, _rest in _parsed(pattern))


def _parsed(pattern: str) -> list[tuple[str, str | None, str | None, str | None]]:
    try:
        return list(string.Formatter().parse(pattern))
    except ValueError:
        raise ListError(
            _("the name “{pattern}”", pattern=pattern),
            _("it has a { or } without its partner"),
            _("Write {title}, {take} …"),
        ) from None


def _field(name: str, pattern: str) -> str:
    if name not in FIELDS:
        raise ListError(
            _("the name “{pattern}”", pattern=pattern),
            _("there is no field {{{name}}}", name=name),
            _("There are {fields}", fields=", ".join(FIELDS)),
        )
    return name


def require_valid_list(found: ExportList) -> None:
    """Raises ListError for a format, an option, a name or a folder that cannot be."""
    if len(found.entries) > MOST_ENTRIES:
        raise ListError(
            _("the export list"),
            _("it has more than {most} entries", most=MOST_ENTRIES),
            _("Remove some first"),
        )
    known = {form.id for form in FORMATS}
    for entry in found.entries:
        if entry.format not in known:
            raise ListError(
                _("the format “{format}”", format=entry.format[:40]),
                _("there is no format with that id"),
                _("There are {known}", known=", ".join(known)),
            )
        try:
            chosen_options(format_named(entry.format).options, dict(entry.options))
        except TargetError as problem:
            raise ListError(problem.subject, problem.reason, problem.remedy) from None
        stem(entry.name, dict.fromkeys(FIELDS, "x"))
    if any("\0" in text for text in (found.folder, *(entry.folder for entry in found.entries))):
        raise ListError(
            _("a folder of the export list"), _("it contains a character that paths cannot have"), _("Choose it again")
        )


# --- as a file ---------------------------------------------------------------------------------------------------------


class _Entry(msgspec.Struct, kw_only=True, rename={"format": "as"}, forbid_unknown_fields=True):
    format: str
    name: str = "{title}"
    folder: str = ""
    on: bool = True
    set: dict[str, str | bool | int | float] = {}


class _List(msgspec.Struct, kw_only=True, rename={"entries": "export"}, forbid_unknown_fields=True):
    entries: list[_Entry]
    folder: str = ""
    again: bool = False
    each: bool = True


def list_as_text(found: ExportList) -> str:
    """As TOML, as `parse_list` reads it."""
    lines = [f"folder = {quoted(found.folder)}", f"again = {str(found.again).lower()}"]
    lines += [] if found.each else ["each = false"]
    for entry in found.entries:
        lines += ["", "[[export]]", f"as = {quoted(entry.format)}", f"name = {quoted(entry.name)}"]
        lines += [f"folder = {quoted(entry.folder)}"] if entry.folder else []
        lines += [] if entry.on else ["on = false"]
        lines += [f"set.{name} = {quoted(text)}" for name, text in entry.options]
    return "\n".join(lines) + "\n"


def parse_list(text: str, subject: str) -> ExportList:
    """Raises ListError when it cannot be understood."""
    try:
        file = msgspec.convert(tomllib.loads(text), _List)
    except (tomllib.TOMLDecodeError, msgspec.ValidationError, RecursionError) as problem:
        raise ListError(
            subject, _("it is no export list ({reason})", reason=problem), _("Start from a list saved by the window")
        ) from None
    entries = tuple(
        Entry(e.format, e.name, e.folder, tuple((n, _text(v)) for n, v in e.set.items()), e.on) for e in file.entries
    )
    found = ExportList(entries, file.folder, file.again, file.each)
    require_valid_list(found)
    return found


def _text(value: str | bool | int | float) -> str:
    return {True: "yes", False: "no"}[value] if isinstance(value, bool) else str(value)


def read_list(path: Path) -> ExportList:
    """Raises ListError."""
    return parse_list(read_text(path, ListError), str(path))
