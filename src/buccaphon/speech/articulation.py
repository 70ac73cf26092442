"""What any IPA symbol says about tongue, lips and voice, and which English sound is nearest to the ear or to the eye.

Letters after the chart in the Handbook of the International Phonetic Association (1999). The distances are of our own making:
to the ear, manner and place weigh most; to the eye, what the lips do.
"""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from functools import lru_cache


@dataclass(frozen=True, slots=True)
class Vowel:
    """open, back, rounded: each 0..1. rhotic: whether it is coloured by an r."""

    open: float
    back: float
    rounded: float
    rhotic: bool = False


@dataclass(frozen=True, slots=True)
class Consonant:
    """place: from the lips (0) to the glottis (10). manner: one of the MANNERS. rounded: whether the lips are."""

    place: float
    manner: str
    voiced: bool
    rounded: bool = False


MANNERS = ("stop", "affricate", "fricative", "nasal", "trill", "tap", "approximant", "lateral")

_VOWELS = """
i 0 0 0 | y 0 0 1 | ɨ 0 .5 0 | ᵻ .1 .4 0 | ʉ 0 .5 1 | ɯ 0 1 0 | u 0 1 1 | ɪ .15 .15 0 | ʏ .15 .15 1 | ʊ .15 .85 1
e .35 0 0 | ø .35 0 1 | ɘ .35 .5 0 | ɵ .35 .5 1 | ɤ .35 1 0 | o .35 1 1 | ə .5 .5 0 | ɛ .65 .05 0 | œ .65 .05 1 | ɜ .65 .5 0
ɞ .65 .5 1 | ʌ .65 .8 0 | ɔ .65 1 1 | æ .85 .1 0 | ɐ .8 .5 0 | a 1 .6 0 | ɶ 1 .1 1 | ɑ 1 1 0 | ɒ 1 1 1
"""
_CONSONANTS = """
stop p 0 - | b 0 + | t 3 - | d 3 + | ʈ 5 - | ɖ 5 + | c 6 - | ɟ 6 + | k 7 - | ɡ 7 + | g 7 + | q 8 - | ɢ 8 + | ʔ 10 -
stop ɓ 0 + | ɗ 3 + | ʄ 6 + | ɠ 7 + | ʛ 8 + | ʘ 0 - | ǀ 2 - | ǃ 3 - | ǂ 6 - | ǁ 3 -
fricative ɸ 0 - | β 0.5 + | f 1 - | v 1 + | θ 2 - | ð 2 + | s 3 - | z 3 + | ʃ 4 - | ʒ 4 +
fricative ʂ 4.5 - | ʐ 4.5 + | ɕ 4.5 - | ʑ 4.5 + | ç 6 - | ʝ 6 + | x 7 - | ɣ 7 + | χ 8 - | ʁ 8 +
fricative ħ 9 - | ʕ 9 + | h 10 - | ɦ 10 + | ɬ 3 - | ɮ 3 + | ɧ 5 -
nasal m 0 + | ɱ 1 + | n 3 + | ɳ 5 + | ɲ 6 + | ŋ 7 + | ɴ 8 +
trill ʙ 0 + | r 3 + | ʀ 8 +
tap ⱱ 1 + | ɾ 3 + | ɽ 5 + | ɺ 3 +
approximant ʋ 1 + | ɹ 4 + | ɻ 5 + | j 6 + | ɰ 7 +
lateral l 3 + | ɫ 3 + | ɭ 5 + | ʎ 6 + | ʟ 7 +
"""
_RHOTIC = {"ɚ": Vowel(0.5, 0.5, 0.3, True), "ɝ": Vowel(0.6, 0.5, 0.3, True)}
_ROUNDED = {
    "w": Consonant(7, "approximant", True, True), "ʍ": Consonant(7, "fricative", False, True),
    "ɥ": Consonant(6, "approximant", True, True),
}  # fmt: skip

LETTERS: dict[str, Vowel | Consonant] = {**_RHOTIC, **_ROUNDED}
for _cell in _VOWELS.replace("\n", "|").split("|"):
    if _cell.strip():
        _letter, _open, _back, _round = _cell.split()
        LETTERS[_letter] = Vowel(float(_open), float(_back), float(_round))
for _line in _CONSONANTS.strip().splitlines():
    _manner, _rest = _line.split(" ", 1)
    for _cell in _rest.split("|"):
        _letter, _place, _voice = _cell.split()
        LETTERS[_letter] = Consonant(float(_place), _manner, _voice == "+")


@lru_cache(maxsize=2000)
def letters_of(symbol: str) -> tuple[Vowel | Consonant, ...]:
    """What the letters of a symbol stand for, length, stress, tone and other marks left out; empty for what is no sound."""
    plain = (char for char in symbol if unicodedata.category(char) not in ("Mn", "Lm", "Sk"))
    found = tuple(LETTERS[char] for char in plain if char in LETTERS)
    return tuple(_labial(letter) for letter in found) if "ʷ" in symbol else found


def _labial(letter: Vowel | Consonant) -> Vowel | Consonant:
    if isinstance(letter, Consonant):
        return Consonant(letter.place, letter.manner, letter.voiced, True)
    return letter


def heard_distance(a: Vowel | Consonant, b: Vowel | Consonant) -> float:
    """How different two sounds are to the ear, 0 for the same."""
    if isinstance(a, Vowel) and isinstance(b, Vowel):
        tongue = abs(a.open - b.open) + 1.0 * abs(a.back - b.back)
        return tongue + 0.45 * abs(a.rounded - b.rounded) + 0.8 * (a.rhotic != b.rhotic)
    if isinstance(a, Consonant) and isinstance(b, Consonant):
        manner = 0.0 if a.manner == b.manner else _manner_cost(a.manner, b.manner)
        return manner + 0.3 * abs(a.place - b.place) + 0.5 * (a.voiced != b.voiced) + 0.8 * (a.rounded != b.rounded)
    return 3.0 if {_glides(a), _glides(b)} != {True} else 1.5


def seen_distance(a: Vowel | Consonant, b: Vowel | Consonant) -> float:
    """How different two sounds look: rounding and opening, lips and teeth; the tongue hardly shows."""
    if isinstance(a, Vowel) and isinstance(b, Vowel):
        return 1.2 * abs(a.open - b.open) + 0.3 * abs(a.back - b.back) + 1.5 * abs(a.rounded - b.rounded)
    if isinstance(a, Consonant) and isinstance(b, Consonant):
        lips = 0.0 if _lips(a) == _lips(b) else 4.0
        manner = 0.0 if a.manner == b.manner else 0.6 * _manner_cost(a.manner, b.manner)
        return (
            lips
            + manner
            + 0.35 * abs(a.place - b.place)
            + 0.1 * (a.voiced != b.voiced)
            + 1.5 * (a.rounded != b.rounded)
        )
    return 5.0


def _manner_cost(a: str, b: str) -> float:
    loose = {"trill", "tap", "approximant", "lateral"}
    if {a, b} <= loose:
        return 0.35
    if {a, b} == {"tap", "stop"}:
        return 0.6
    return 1.0


def _glides(letter: Vowel | Consonant) -> bool:
    return isinstance(letter, Vowel) or letter.manner == "approximant"


def _lips(letter: Consonant) -> int:
    """What of the lips is seen: they meet (0), meet the teeth (1), or neither (2). A lax β or ʋ is a bite at most."""
    return 0 if letter.place == 0 else 1 if letter.place <= 1 else 2
