"""Names of drawings: in which order they stand, and which face goes with which mouth."""

from __future__ import annotations

from buccaphon.kits.names.tokens import fold, tokens
from buccaphon.kits.own.claims import FACE


def without_face_words(name: str) -> str:
    """What is left of the name of a face that goes with a mouth."""
    return " ".join(piece for piece in tokens(name) if fold(piece) not in FACE)


def natural(name: str) -> list[tuple[int, int | str]]:
    """A key that puts 2 before 10, whatever the case."""
    return [(0, int(piece)) if _is_number(piece) else (1, fold(piece)) for piece in tokens(name)]


def _is_number(piece: str) -> bool:
    return piece.isascii() and piece.isdigit() and len(piece) < 19
