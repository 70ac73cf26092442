"""A whole export list written for one delivery, for the window, the command line and a batch."""

from __future__ import annotations

import os
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import Enum
from pathlib import Path

from buccaphon.errors import BuccaphonError, Cancelled, ListError, TargetError
from buccaphon.formats.delivery import Delivery, Voice
from buccaphon.formats.format import Format, Needs
from buccaphon.formats.listing import Entry, ExportList, names_field, stem
from buccaphon.formats.options import TOGETHER, chosen_options
from buccaphon.formats.pictures import Pictures
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import Written, already_there, make_folder, write_files
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import _

NO_ROLES: Mapping[str, Mapping[str, str]] = {}


@dataclass(frozen=True, slots=True)
class Wanted:
    """An entry that is on, with its format and its place: folder and name without ending. character, role: for which of
    several it is written; '' where there are not several, and for what is written once for the whole scene."""

    entry: Entry
    form: Format
    place: Path
    character: str = ""
    role: str = ""


@dataclass(slots=True)
class Delivered:
    """What came of it. problems: why others could not be written, each a sentence."""

    written: list[Written] = field(default_factory=list)
    problems: list[BuccaphonError] = field(default_factory=list)

    @property
    def new(self) -> list[Path]:
        """Those that were not there as they are."""
        return [each.path for each in self.written if each.changed]

    @property
    def unchanged(self) -> list[Path]:
        return [each.path for each in self.written if not each.changed]


class Outside(Enum):
    """Whether an entry of a list may lead out of the list's folder: only where somebody looks at it first."""

    REFUSED = "every file lies below the folder that was named"
    LOOKED_AT = "whoever asks looks at the places before anything is written"


def resolve_targets(
    exports: ExportList,
    facts: Mapping[str, str],
    base: Path,
    outside: Outside = Outside.REFUSED,
    characters: Sequence[str] = (),
    roles: Mapping[str, Mapping[str, str]] = NO_ROLES,
) -> list[Wanted]:
    """The entries that are on, with their places. base: what the list's folder is below of. characters: one whose files are
    not the only ones, or several, each with a set of its own; their names come into those of the files by themselves. roles:
    those of a scene of several, each with its facts; there are no sets of characters then. Raises ListError, and TargetError
    when two would write over each other."""
    found = []
    for entry in exports.entries:
        if entry.on:
            form, folder = format_named(entry.format), base / exports.folder
            if outside is Outside.REFUSED:
                require_below(base, folder / entry.folder)
            for role, told in (roles if roles and not form.of_scene(dict(entry.options)) else {"": {}}).items():
                several = tuple(characters) if not roles else ()
                for character in (several or ("",))[: 1 if form.for_all else None]:
                    known = {**facts, **told, **({"character": character} if character else {})}
                    name = stem(pattern_of(entry, several=bool(several), roles=bool(role)), known)
                    found.append(Wanted(entry, form, folder / entry.folder / name, character, role))
    _require_apart(found)
    return found


def pattern_of(entry: Entry, *, several: bool, roles: bool = False) -> str:
    """The pattern of an entry's name, with the character's where there are files of several, or with the role's."""
    form = format_named(entry.format)
    if roles and not form.of_scene(dict(entry.options)) and not names_field(entry.name, "role"):
        return f"{entry.name}_{{role}}"
    if several and not form.for_all and not names_field(entry.name, "character"):
        return f"{entry.name}_{{character}}"
    return entry.name


def _require_apart(found: list[Wanted]) -> None:
    taken: dict[str, str] = {}
    for each in found:
        target = f"{os.path.normpath(each.place)}{each.form.ending}".lower()
        if target in taken:
            reason = _(
                "“{other}” and “{name}” in the list would overwrite each other",
                other=taken[target],
                name=each.form.title,
            )
            raise TargetError(f"{each.place}{each.form.ending}", reason, _("Give one of them another name or folder"))
        taken[target] = each.form.title


def require_below(root: Path, place: Path) -> None:
    """Raises ListError where a place would lie outside a folder, by its name or by a link: a list may come from anywhere."""
    if not Path(os.path.realpath(place)).is_relative_to(os.path.realpath(root)):
        remedy = _("Name a folder inside that one")
        raise ListError(
            _("the folder {place} of the export list", place=place), _("it leads out of {root}", root=root), remedy
        )


def in_the_way(wanted: list[Wanted]) -> list[Path]:
    """The files that are there and would be written over."""
    return [path for each in wanted for path in already_there(each.place, each.form.ending)]


def deliver_all(
    delivery: Delivery,
    wanted: list[Wanted],
    progress: Progress = no_progress,
    paint: Callable[[Delivery], Pictures] | None = None,
) -> Delivered:
    """Write all of them; what cannot be written does not keep the others from it. paint: gives the pictures of a delivery,
    and is asked when something needs them. Raises Cancelled."""
    done = Delivered()
    for number, each in enumerate(wanted):

        def told(share: float, what: str, number: int = number) -> bool:
            return progress((number + share) / len(wanted), what)

        if not told(0.0, _("Writing {name}", name=each.form.title)):
            raise Cancelled
        try:
            make_folder(each.place.parent)
            if Needs.PICTURES in each.form.needs and delivery.pictures is None and paint is not None:
                delivery = replace(delivery, pictures=paint(delivery))
            options = chosen_options(each.form.options, dict(each.entry.options))
            if Needs.PICTURES in each.form.needs and paint is not None and getattr(options, TOGETHER, False):
                delivery = replace(delivery, voices=tuple(_painted(voice, paint) for voice in delivery.voices))
            files = each.form.files(replace(delivery, place=each.place), options)
            done.written += write_files(files, each.place.parent, told, sources=delivery.sources)
        except BuccaphonError as problem:
            done.problems.append(problem)
    return done


def _painted(voice: Voice, paint: Callable[[Delivery], Pictures]) -> Voice:
    """One of several roles with its pictures."""
    return voice if voice.of.pictures is not None else replace(voice, of=replace(voice.of, pictures=paint(voice.of)))
