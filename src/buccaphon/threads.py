"""How many threads share the work of one line."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

Piece = TypeVar("Piece")

_NAME = "BUCCAPHON_THREADS"
_USUAL = 2  # threads where nobody says otherwise: more of them wait for memory


def threads() -> int:
    """Two, or what the environment says: one, where other processes work on other lines."""
    told = os.environ.get(_NAME, "")
    return max(int(told), 1) if told.isdecimal() else _USUAL


def share(do: Callable[[Piece], None], pieces: Sequence[Piece]) -> None:
    """Do something with each of some pieces, several at a time: while NumPy counts, other threads go on."""
    if threads() == 1 or len(pieces) < 2:
        for piece in pieces:
            do(piece)
    else:
        with ThreadPoolExecutor(threads()) as pool:
            list(pool.map(do, pieces))


def work_alone() -> None:
    """One thread from now on in this process."""
    os.environ[_NAME] = "1"
