"""Which drawings of a folder, and which layers of a file, are mouths, which are the face, and which stay out.

Names are asked first, then how much of the canvas each covers and where it lies, then, for mouths whose names say nothing,
their pictures.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from buccaphon.kits.names import words
from buccaphon.kits.names.evidence import Listing, read_names
from buccaphon.kits.names.reasons import BY_HAND, Reason, Reasons
from buccaphon.kits.names.tokens import fold
from buccaphon.kits.own.claims import GUIDE, NO_MOUTH, PAPER, Row, pieces_of, read_claims
from buccaphon.kits.own.drawing import OwnDrawing, Role
from buccaphon.kits.own.entries import Entry, titles
from buccaphon.kits.own.seen import has_mouth, looks_of

_FINE, _COARSE = 1536, 400  # pixels on the longer side: to measure mouths, and to see whether a face has one
_LARGE, _FAR_LARGER = 0.25, 4.0  # of the canvas, and times the next: the face, whatever it is called
_FACE_COVER, _LARGER = 0.15, 2.5  # the same for a name that says nothing, beside usual mouths
_COMMON = 0.6  # of the names

Chosen = Mapping[str, Role]
"""Roles that somebody chose, by what the entries are listed by."""


@dataclass(frozen=True)
class Sorted:
    """drawings: by the numbers of their entries, in their order; groups and what is inside a mouth are none. has_mouth: the
    face has a mouth of its own, so that no drawing need be shown."""

    drawings: Mapping[int, OwnDrawing]
    has_mouth: bool = False

    def having(self, role: Role) -> list[int]:
        """The numbers of the entries that are for something."""
        return [n for n, each in self.drawings.items() if each.role is role]


def sort_drawings(entries: Sequence[Entry], chosen: Chosen | None = None) -> Sorted:
    """The drawings of a folder or the cells of a sheet."""
    rows = dict(enumerate(read_claims([entry.name for entry in entries])))
    _find_faces_of_mouths(list(rows.values()))
    _find_face(entries, list(rows.values()))
    _find_features(list(rows.values()))
    return _sorted(entries, rows, {n: row.name for n, row in rows.items()}, chosen or {})


def sort_layers(entries: Sequence[Entry], chosen: Chosen | None = None) -> Sorted:
    """The layers of a file. The group that is called a mouth, or of which most stand for mouths, is read as a list; of all
    else what is seen below is the face, and what is seen above lies over the mouths. Other groups of mouths, what is hidden
    and what is called a guide stay out."""
    families = _Families(entries)
    group = families.of_mouths()
    rows = _read_family(entries, families.of.get(group, []))
    mouths = {n for n, row in rows.items() if row.role is Role.MOUTH}
    if not families.may_be_mouths(group, [rows[n] for n in mouths]):
        mouths = set()
    others = {
        n: rows.get(n, Row(entry.name)) for n, entry in enumerate(entries) if n not in mouths and not entry.is_group
    }
    others = {n: row for n, row in others.items() if not mouths & set(families.above(n))}
    away = {n for parent in families.of if parent != group and families.mouths(parent) > 1 for n in families.of[parent]}
    for n, row in others.items():
        row.role, row.why = _around(n, families, row, lowest=min(mouths, default=len(entries)), away=away)
    _tell_of_largest(entries, others)
    listed = {n: rows[n] if n in mouths else others[n] for n in range(len(entries)) if n in mouths or n in others}
    return _sorted(entries, listed, titles(entries, families.of.get(group, [])), chosen or {})


def _sorted(entries: Sequence[Entry], rows: Mapping[int, Row], names: Mapping[int, str], chosen: Chosen) -> Sorted:
    """What was found, with what was chosen by hand, and the look of those mouths whose names say nothing."""
    found = {n: _drawing(names[n], row, chosen) for n, row in rows.items()}
    mouths = [n for n, each in found.items() if each.role is Role.MOUTH]
    silent = [n for n in mouths if not rows[n].says]
    pictures = [picture for n in mouths if (picture := entries[n].picture) is not None]
    if silent and len(pictures) == len(mouths):
        looks = dict(zip(mouths, looks_of([each.pixels(_FINE) for each in pictures]), strict=True))
        for n in silent:
            found[n] = replace(found[n], look=looks[n], why=found[n].why or (Reason("looks"),))
    return Sorted(found, _has_mouth(entries, found))


def _drawing(title: str, row: Row, chosen: Chosen) -> OwnDrawing:
    if title in chosen:
        return OwnDrawing(title, chosen[title], BY_HAND, by_hand=True)
    return OwnDrawing(title, row.role, row.why)


def _has_mouth(entries: Sequence[Entry], found: Mapping[int, OwnDrawing]) -> bool:
    """Whether a face has a mouth of its own where the drawings lie."""

    def pictures(role: Role) -> list[int]:
        return [n for n, each in found.items() if each.role is role and entries[n].picture is not None]

    faces, mouths = pictures(Role.FACE), pictures(Role.MOUTH)
    if not faces or not mouths:
        return False
    drawn = [picture.pixels(_COARSE) for n in mouths if (picture := entries[n].picture) is not None]
    return any(has_mouth(face.pixels(_COARSE), drawn) for n in faces if (face := entries[n].picture) is not None)


# --- a list of drawings -----------------------------------------------------------------------------------------------


def _find_faces_of_mouths(rows: Sequence[Row]) -> None:
    """Whole faces that go with one mouth each: face_a, face_o. One alone is the face."""
    told = read_names([row.name for row in rows]).names
    pairs = [
        row
        for row, each in zip(rows, told, strict=True)
        if row.role is Role.FACE and (each.sounds or each.pose or each.rest) and not each.mouth
    ]
    faces = sum(row.role is Role.FACE for row in rows)
    for row in pairs if faces > 1 else ():
        row.role = Role.FACE_OF_MOUTH


def _find_features(rows: Sequence[Row]) -> None:
    """Eyes, brows and the like of which there is one alone, or one a side, belong to the face and lie over it."""
    by_word: dict[str, list[Row]] = {}
    for row, own in zip(rows, pieces_of([row.name for row in rows]), strict=True):
        lows = [fold(raw) for raw in own]
        if row.role is Role.UNUSED and (said := set(lows) & NO_MOUTH):
            side = "" if lows[-1] in words.LEFT else "right" if lows[-1] in words.RIGHT else "one"
            by_word.setdefault(f"{min(said)} {side}", []).append(row)
    for same in by_word.values():
        if len(same) == 1:
            same[0].role = Role.OVER


def _find_face(entries: Sequence[Entry], rows: Sequence[Row]) -> None:
    """The face and strangers among what is taken for mouths, by what they cover and by what the others are called."""
    cover = {n: each for n, entry in enumerate(entries) if (each := entry.cover) is not None}
    _find_far_larger(cover, rows)
    lows = [{fold(raw) for raw in own} for own in pieces_of([entry.name for entry in entries])]
    worded = [bool(each & words.MOUTH) for each in lows]
    if sum(worded) >= _COMMON * len(rows) and len(rows) > 3:  # mouth 1, mouth 2 … and one that is called otherwise
        for n, row in enumerate(rows):
            if not worded[n] and row.role is Role.MOUTH and not row.says:
                row.role, row.why = Role.UNUSED, (Reason("stranger"),)
    telling = [n for n, row in enumerate(rows) if row.role is Role.MOUTH and row.says]
    silent = [n for n, row in enumerate(rows) if row.role is Role.MOUTH and not row.says]
    if not silent or len(telling) < max(2, len(silent)):
        return
    usual = float(np.median([cover[n] for n in telling if n in cover] or [0.0]))
    largest = max(silent, key=lambda n: cover.get(n, 0.0))
    for n in silent:
        if worded[n]:
            continue  # a word for the mouth beside one that is not known: its picture will say
        is_big = n not in cover or cover[n] > max(_LARGER * usual, _FACE_COVER)
        is_face = n == largest and is_big
        rows[n].role = Role.FACE if is_face else Role.UNUSED
        rows[n].why = (Reason("largest_below" if is_face else "stranger"),)


def _find_far_larger(cover: Mapping[int, float], rows: Sequence[Row]) -> None:
    mouths = [n for n, row in enumerate(rows) if row.role is Role.MOUTH]
    if len(mouths) < 3 or not all(n in cover for n in mouths):
        return
    second, first = sorted(mouths, key=lambda n: cover[n])[-2:]
    if cover[first] > _LARGE and cover[first] > _FAR_LARGER * cover[second]:
        rows[first].role, rows[first].why = Role.FACE, (Reason("largest"),)


# --- layers -----------------------------------------------------------------------------------------------------------


class _Families:
    """Entries by the group that they lie in."""

    def __init__(self, entries: Sequence[Entry]) -> None:
        self.entries = entries
        self.of: dict[int, list[int]] = {}
        for n, entry in enumerate(entries):
            self.of.setdefault(entry.parent, []).append(n)
        self.lows = [{fold(raw) for raw in own} for own in pieces_of([entry.name for entry in entries])]

    def above(self, n: int) -> Iterable[int]:
        """The groups that an entry lies in, the nearest first."""
        while (n := self.entries[n].parent) >= 0:
            yield n

    def called(self, n: int) -> int:
        """1: it, or what it lies in, is called a mouth; -1: it is called something else; 0: neither."""
        for each in (n, *self.above(n)) if n >= 0 else ():
            if self.lows[each] & NO_MOUTH:
                return -1
            if self.lows[each] & words.MOUTH:
                return 1
        return 0

    def mouths(self, parent: int) -> int:
        """How many of a group say that they are mouths; none of one that is called something else."""
        if self.called(parent) < 0:
            return 0
        rows = read_claims([self.entries[n].name for n in self.of[parent]])
        return sum(row.says and row.role is Role.MOUTH for row in rows)

    def of_mouths(self) -> int:
        """The group of the mouths, -1 for the file itself."""
        fitting = [parent for parent, own in self.of.items() if len(own) > 1 and self.called(parent) >= 0] or list(
            self.of
        )
        if not fitting:
            return -1
        counts = {parent: self.mouths(parent) for parent in fitting}
        best = max(fitting, key=lambda parent: (self.called(parent) > 0, counts[parent], not self.is_hidden(parent)))
        if counts[best] < 2 and best != -1 and self.called(best) <= 0:
            best = max(fitting, key=lambda parent: len(self.of[parent]))
        return best

    def may_be_mouths(self, group: int, rows: Sequence[Row]) -> bool:
        """Whether anything says so: a name, that of the group, or that they are numbered."""
        if self.called(group) > 0 or any(row.says or row.for_mouth for row in rows):
            return True
        return read_names([row.name for row in rows]).listing in (Listing.NUMBERS, Listing.ALPHABET)

    def is_hidden(self, n: int) -> bool:
        return n >= 0 and any(self.entries[each].hidden for each in (n, *self.above(n)))


def _read_family(entries: Sequence[Entry], family: Sequence[int]) -> dict[int, Row]:
    rows = read_claims([entries[n].name for n in family])
    _find_face([entries[n] for n in family], rows)
    return dict(zip(family, rows, strict=True))


def _around(n: int, families: _Families, row: Row, *, lowest: int, away: set[int]) -> tuple[Role, Reasons]:
    """What a layer is for that is no mouth. lowest: the lowest of the mouths. away: layers of other groups of mouths."""
    if families.is_hidden(n):
        return Role.UNUSED, (Reason("hidden"),)
    for each in (n, *families.above(n)):
        if guide := families.lows[each] & GUIDE:
            return Role.GUIDE, (Reason("no_mouth", (min(guide),)),)
    if row.role is Role.OTHER_WAY:
        return row.role, row.why
    if n in away:
        return Role.OTHER_WAY, (Reason("outside"),)
    return (Role.FACE if n < lowest else Role.OVER), row.why or (Reason("outside"),)


def _tell_of_largest(entries: Sequence[Entry], rows: Mapping[int, Row]) -> None:
    """Say of the largest layer below that it is the face, but for what is called paper or background."""
    faces = [n for n, row in rows.items() if row.role is Role.FACE]
    lows = {n: {fold(raw) for raw in pieces_of([entries[n].name])[0]} for n in faces}
    faces = [n for n in faces if not lows[n] & PAPER] or faces
    if faces:
        largest = max(faces, key=lambda n: (entries[n].cover or 0.0, -n))
        if (entries[largest].cover or 0.0) > _FACE_COVER:
            rows[largest].why = (Reason("largest_below"),)
