"""Rules by how sounds are made, which hold for every language: "rounded vowels", "lips together"."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from buccaphon.speech.articulation import Consonant, Vowel, letters_of

Letter = Vowel | Consonant

_HISSING = (3.0, 4.0, 4.5)


def _vowel(test: Callable[[Vowel], bool]) -> Callable[[Letter], bool]:
    return lambda letter: isinstance(letter, Vowel) and test(letter)


def _consonant(test: Callable[[Consonant], bool]) -> Callable[[Letter], bool]:
    return lambda letter: isinstance(letter, Consonant) and test(letter)


RULES: dict[str, Callable[[Letter], bool]] = {
    "rounded vowels": _vowel(lambda v: v.rounded >= 0.5),
    "open vowels": _vowel(lambda v: v.rounded < 0.5 and v.open >= 0.8),
    "spread vowels": _vowel(lambda v: v.rounded < 0.5 and v.open < 0.7 and v.back < 0.4),
    "slack vowels": _vowel(lambda v: v.rounded < 0.5 and 0.2 < v.open < 0.8 and v.back >= 0.4),
    "all vowels": _vowel(lambda _v: True),
    "lips together": _consonant(lambda c: c.place == 0 and c.manner in ("stop", "nasal", "trill")),
    "lip and teeth": _consonant(lambda c: c.place == 1),
    "lips round": _consonant(lambda c: c.rounded),
    "tongue between the teeth": _consonant(lambda c: c.place == 2),
    "hissing": _consonant(lambda c: c.manner in ("fricative", "affricate") and c.place in _HISSING),
    "tip of the tongue": _consonant(lambda c: 2 < c.place <= 5 and c.manner not in ("fricative", "affricate")),
    "back of the tongue": _consonant(lambda c: c.place >= 6 and not c.rounded),
    "all consonants": _consonant(lambda _c: True),
}
"""By name: whether a sound whose first letter is this one is meant."""


@lru_cache(maxsize=4000)
def is_meant(rule: str, symbol: str) -> bool:
    """Whether a rule means a sound of any language. Affricates count by what they end in."""
    letters = letters_of(symbol)
    if not letters or rule not in RULES:
        return False
    affricate = len(letters) > 1 and all(isinstance(letter, Consonant) for letter in letters)
    return RULES[rule](letters[-1] if affricate else letters[0])
