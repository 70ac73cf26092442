"""Which names in artwork are mouths, and which are the rest of the face."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from enum import Enum, auto
from typing import TypeVar

from buccaphon.files import whole_text
from buccaphon.kits.names.evidence import Evidence, read_names
from buccaphon.kits.names.tokens import fold, tokens

Layer = TypeVar("Layer")

_FACE = frozenset(
    ("face", "head", "body", "base", "background", "bg", "skin", "cheeks", "cheek", "kopf", "gesicht", "visage", "tete",
     "cara", "cabeza", "faccia")
)  # fmt: skip
_OVER = frozenset(
    ("over", "above", "front", "hair", "hat", "beard", "glasses", "foreground", "fg", "nose", "moustache")
)
_GUIDE = frozenset(("guide", "guides", "reference", "ref", "sketch", "notes", "template"))


class Role(Enum):
    """What a drawing is for. FACE_OF_MOUTH: the rest of the face as it is with one mouth."""

    MOUTH = auto()
    UNDER = auto()
    OVER = auto()
    FACE_OF_MOUTH = auto()
    GUIDE = auto()


def roles_of(names: Sequence[str]) -> list[Role]:
    """What each drawing of a folder is for, by its name."""
    return [_role(told) for told in read_names(names).names]


def mouths_in(layers: Sequence[Layer], name_of: Callable[[Layer], str]) -> list[Layer]:
    """Those of some layers that stand for mouths: all with a word for the mouth in their names, where there are two; else, if
    two say a sound, a pose or rest, all that are not said to be anything else."""
    told = read_names([name_of(layer) for layer in layers]).names
    worded = [layer for layer, each in zip(layers, told, strict=True) if each.mouth and not each.never]
    if len(worded) > 1:
        return worded
    if sum(_says_mouth(each) for each in told) < 2:
        return []
    return [layer for layer, each in zip(layers, told, strict=True) if _role(each) is Role.MOUTH and not each.never]


def without_face_words(name: str) -> str:
    """What is left of the name of a face that goes with a mouth."""
    return " ".join(piece for piece in tokens(name) if fold(piece) not in _FACE)


def _role(told: Evidence) -> Role:
    pieces = {fold(piece) for piece in told.pieces}
    if pieces & _GUIDE:
        return Role.GUIDE
    if pieces & _FACE and not told.mouth:
        says_one = told.sounds or told.pose or told.rest
        return Role.FACE_OF_MOUTH if says_one else Role.UNDER
    if pieces & _OVER and not told.mouth:
        return Role.OVER
    return Role.MOUTH


def _says_mouth(told: Evidence) -> bool:
    return bool(told.sounds or told.pose or told.rest or told.mouth) and not (told.never and not told.mouth)


def natural(name: str) -> list[tuple[int, int | str]]:
    """A key that puts 2 before 10, whatever the case."""
    return [(0, int(piece)) if _is_number(piece) else (1, fold(piece)) for piece in tokens(name)]


def _is_number(piece: str) -> bool:
    return piece.isascii() and piece.isdigit() and len(piece) < 19


def unique(names: Iterable[str]) -> list[str]:
    """The names as any file can hold them, those that come again with a number behind them."""
    seen: dict[str, int] = {}
    found = []
    for name in map(whole_text, names):
        seen[name] = seen.get(name, 0) + 1
        found.append(name if seen[name] == 1 else f"{name} {seen[name]}")
    return found
