"""Matching the words of two texts (sequence alignment)."""

from __future__ import annotations

import difflib
from collections.abc import Sequence


def match(old: Sequence[str], new: Sequence[str]) -> dict[int, int]:
    """For the entries of one list that are found again in another, in order: their numbers there."""
    shared = min(len(old), len(new))
    # mostly all is the same but for a few words: what begins and ends alike needs no search
    head = next((n for n in range(shared) if old[n] != new[n]), shared)
    tail = next((n for n in range(shared - head) if old[-1 - n] != new[-1 - n]), shared - head)
    middles = old[head : len(old) - tail], new[head : len(new) - tail]
    blocks = difflib.SequenceMatcher(None, *middles, autojunk=False).get_matching_blocks()
    found = {n: n for n in range(head)}
    found |= {head + i + k: head + j + k for i, j, n in blocks for k in range(n)}
    return found | {len(old) - n: len(new) - n for n in range(tail, 0, -1)}


def plain(text: str) -> str:
    """A word without case and punctuation, for comparing."""
    return text.lower().strip("“”\"'‘’«».,;:!?…()[]{}*_—–-¡¿")
