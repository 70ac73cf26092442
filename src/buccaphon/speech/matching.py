"""Which words of one text are which of another."""

from __future__ import annotations

import difflib
from collections.abc import Sequence


def matched(old: Sequence[str], new: Sequence[str]) -> dict[int, int]:
    """For the entries of one list that are found again in another, in order: their numbers there."""
    blocks = difflib.SequenceMatcher(None, old, new, autojunk=False).get_matching_blocks()
    return {i + k: j + k for i, j, n in blocks for k in range(n)}


def plain(text: str) -> str:
    """A word without case and punctuation, for comparing."""
    return text.lower().strip("“”\"'‘’«».,;:!?…()[]{}*_—–-¡¿")
