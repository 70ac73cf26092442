"""Several files and folders at once, as they are dropped or named on the command line: what each is, and what comes of
all."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from itertools import islice
from pathlib import Path

from buccaphon.app.session.opening import LEXICON_SUFFIX, TABLE_SUFFIXES
from buccaphon.audio.reading import SUFFIXES
from buccaphon.files import is_folder
from buccaphon.formats.in_.notes import SUFFIX as NOTES_SUFFIX
from buccaphon.kits.model.names import MODEL_SUFFIXES
from buccaphon.kits.store import SUFFIX as KIT_SUFFIX
from buccaphon.mouths.chart_file import SUFFIX as CHART_SUFFIX
from buccaphon.painting.artwork.folder import SUFFIXES as DRAWING_SUFFIXES
from buccaphon.painting.characters.loading import ARTWORK_INSTEAD, LAYERED_SUFFIXES
from buccaphon.project.file.store import SUFFIX as PROJECT_SUFFIX
from buccaphon.project.motion_file import SUFFIX as MOTION_SUFFIX
from buccaphon.texts import N_, _, ngettext

_KINDS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("projects", (PROJECT_SUFFIX, ".zip")),
    ("others", (NOTES_SUFFIX, CHART_SUFFIX, MOTION_SUFFIX, LEXICON_SUFFIX)),
    ("characters", (*LAYERED_SUFFIXES, *MODEL_SUFFIXES, KIT_SUFFIX)),
    ("pictures", DRAWING_SUFFIXES),
    ("recordings", SUFFIXES),
    ("others", TABLE_SUFFIXES),
)  # the first that fits: a .wav with markers is a recording, a film too
_MOST_LOOKED_AT = 2000  # entries of a folder
_INSTEAD = ARTWORK_INSTEAD | {
    ".wma": N_("WAV or MP3"), ".doc": N_("plain text"), ".docx": N_("plain text"), ".odt": N_("plain text"),
    ".rtf": N_("plain text"),
}  # fmt: skip  # what to save instead of what cannot be read


@dataclass(frozen=True, slots=True)
class Dropped:
    """What some paths are. projects: projects and packs, of which the first is opened. drawings: of one character, in one
    folder. characters: folders, layered files, models, single pictures and saved ones. others: words, times, charts,
    lexicons, notes. unread: each with why, or what to save instead."""

    projects: tuple[Path, ...] = ()
    recordings: tuple[Path, ...] = ()
    drawings: tuple[Path, ...] = ()
    characters: tuple[Path, ...] = ()
    others: tuple[Path, ...] = ()
    unread: tuple[tuple[Path, str], ...] = field(default=())

    @property
    def can_be_opened(self) -> bool:
        return bool(self.projects or self.recordings or self.drawings or self.characters or self.others)

    @property
    def says(self) -> str:
        """What will come of it, in a sentence."""
        parts = []
        if self.projects:
            parts.append(_("open {name}", name=self.projects[0].name))
        if self.recordings:
            name, count = self.recordings[0].name, len(self.recordings)
            parts.append(ngettext("open {name}", "open {count} recordings as lines of the scene", count, name=name))
        if self.drawings:
            parts.append(
                ngettext(
                    "make a character of {count} drawing", "make a character of {count} drawings", len(self.drawings)
                )
            )
        if self.characters:
            name, count = self.characters[0].name, len(self.characters)
            parts.append(ngettext("add {name}", "add {count} characters", count, name=name))
        if self.others:
            name, count = self.others[0].name, len(self.others)
            parts.append(ngettext("import {name}", "import {count} files", count, name=name))
        will = f"{' · '.join(parts)}." if parts else ""
        return " ".join(part for part in (will[:1].upper() + will[1:], self.says_unread) if part)

    @property
    def says_unread(self) -> str:
        """What is left out, and why; '' for nothing."""
        left_out = [f"{path.name}: {why}" for path, why in self.unread[:3]]
        if len(self.unread) > 3:
            left_out.append(_("and {count} more", count=len(self.unread) - 3))
        extra = [_("{name}: one project is open at a time", name=path.name) for path in self.projects[1:2]]
        return _("Not opened: {names}.", names="; ".join((*left_out, *extra))) if left_out or extra else ""


def what_they_are(paths: Iterable[Path]) -> Dropped:
    """Sort them by what they are; folders are looked into."""
    found: dict[str, list[Path]] = {name: [] for name in ("projects", "recordings", "pictures", "characters", "others")}
    unread: list[tuple[Path, str]] = []
    for path in dict.fromkeys(paths):
        kinds = [(path, kind_of(path))] if not is_folder(path) else _in_folder(path)
        for each, kind in kinds:
            if kind in found:
                found[kind].append(each)
            else:
                unread.append((each, kind))
    pictures, characters = found["pictures"], found["characters"]
    drawings: list[Path] = []
    if len(pictures) > 1:  # one alone is a picture to cut, or a sheet of mouths
        drawings = [path for path in pictures if path.parent == pictures[0].parent]
        unread += [
            (path, _("the drawings of one character lie in one folder")) for path in pictures if path not in drawings
        ]
    if len(drawings) < 2:
        characters, drawings = [*characters, *pictures[:1]], []
    return Dropped(
        tuple(found["projects"]), tuple(found["recordings"]), tuple(drawings), tuple(characters), tuple(found["others"]),
        tuple(unread),
    )  # fmt: skip


def kind_of(path: Path) -> str:
    """The kind of a file, by its name; a reason where it can be none."""
    name, suffix = path.name.lower(), path.suffix.lower()
    for kind, suffixes in _KINDS:
        if name.endswith(suffixes):
            return kind
    if suffix in _INSTEAD:
        return _("“{suffix}” files are not read; save it as {instead}", suffix=suffix, instead=_(_INSTEAD[suffix]))
    return _("“{suffix}” is no kind of file that is read here", suffix=suffix or path.name)


def _in_folder(folder: Path) -> list[tuple[Path, str]]:
    """A folder of drawings is a character; of another, the recordings and what else there is to open."""
    try:
        inside = sorted(path for path in islice(folder.iterdir(), _MOST_LOOKED_AT) if not path.name.startswith("."))
    except OSError as problem:
        return [(folder, _("the folder cannot be read ({reason})", reason=problem.strerror))]
    kinds = [(path, kind_of(path)) for path in inside if path.is_file()]
    if any(path.suffix.lower() in DRAWING_SUFFIXES for path, _ in kinds):
        return [(folder, "characters")]
    known = [(path, kind) for path, kind in kinds if kind in ("projects", "recordings", "characters")]
    return known or [(folder, _("there is no recording and no drawing in it"))]
