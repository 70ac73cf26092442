"""Rules by how sounds are made, which hold for every language: "rounded vowels", "lips together"."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from buccaphon.speech.articulation import Consonant, Vowel, letters_of
from buccaphon.texts import N_, _

Letter = Vowel | Consonant

_HISSING = (3.0, 4.0, 4.5)  # places at which friction hisses: teeth ridge and just behind it


def _vowel(test: Callable[[Vowel], bool]) -> Callable[[Letter], bool]:
    return lambda letter: isinstance(letter, Vowel) and test(letter)


def _consonant(test: Callable[[Consonant], bool]) -> Callable[[Letter], bool]:
    return lambda letter: isinstance(letter, Consonant) and test(letter)


RULES: dict[str, Callable[[Letter], bool]] = {
    "rounded vowels": _vowel(lambda v: v.rounded >= 0.5),
    "open vowels": _vowel(lambda v: v.rounded < 0.5 and v.open >= 0.8),
    "spread vowels": _vowel(lambda v: v.rounded < 0.5 and v.open < 0.7 and v.back < 0.4),
    "relaxed vowels": _vowel(lambda v: v.rounded < 0.5 and 0.2 < v.open < 0.8 and v.back >= 0.4),
    "all vowels": _vowel(lambda _v: True),
    "lips together": _consonant(lambda c: c.place == 0 and c.manner in ("stop", "nasal", "trill")),
    "lip to teeth": _consonant(lambda c: c.place == 1),
    "lips round": _consonant(lambda c: c.rounded),
    "tongue between the teeth": _consonant(lambda c: c.place == 2),
    "hissing": _consonant(lambda c: c.manner in ("fricative", "affricate") and c.place in _HISSING),
    "tip of the tongue": _consonant(lambda c: 2 < c.place <= 5 and c.manner not in ("fricative", "affricate")),
    "back of the tongue": _consonant(lambda c: c.place >= 6 and not c.rounded),
    "all consonants": _consonant(lambda _c: True),
}
"""By name, as chart files keep it: whether a sound whose first letter is this one is meant."""

_LABELS = (
    N_("rounded vowels"), N_("open vowels"), N_("spread vowels"), N_("relaxed vowels"), N_("all vowels"),
    N_("lips together"), N_("lip to teeth"), N_("lips round"), N_("tongue between the teeth"), N_("hissing"),
    N_("tip of the tongue"), N_("back of the tongue"), N_("all consonants"),
)  # fmt: skip
_RENAMED = {"slack vowels": N_("relaxed vowels"), "lip and teeth": N_("lip to teeth")}


def rule_label(rule: str) -> str:
    """A rule as people read it."""
    return _(rule)


def rule_named(name: str) -> str:
    """The rule of a name; charts of earlier versions had other names for two of them."""
    return _RENAMED.get(name, name)


@lru_cache(maxsize=4000)
def is_meant(rule: str, symbol: str) -> bool:
    """Whether a rule means a sound of any language. Affricates count by what they end in."""
    letters = letters_of(symbol)
    if not letters or rule not in RULES:
        return False
    affricate = len(letters) > 1 and all(isinstance(letter, Consonant) for letter in letters)
    return RULES[rule](letters[-1] if affricate else letters[0])
