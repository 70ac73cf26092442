"""The target pose of each sound, and how its moves are timed: the two-tier recipe's tables.

Fitted to an articulatory synthesizer's lips and jaw (docs/motion.md says how well); spread, tongue and teeth are by hand.
Sounds that stand in no table get theirs by rule: vowels from openness and rounding, consonants from place and manner.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from buccaphon.speech.articulation import Consonant, Vowel, letters_of
from buccaphon.speech.phones import PAUSE

TARGET_PARTS = ("aperture", "jaw", "round", "spread", "tongue", "teeth")
Target = tuple[float, float, float, float, float, float]
"""What a sound does, in the order of TARGET_PARTS: the parts of a pose but for contacts, and the gap of the lips."""

VOWEL, REST, LIPS, BITE = range(4)  # kinds of sounds; the others are consonants without contact
KINDS = ("V", "X", "L", "F", "S", "R", "T", "D", "l", "K", "h", "j")
_GLIDE_SHARE = 0.6  # of a glide is its first vowel

_TABLE = """
sound aperture jaw round spread tongue teeth |
ɑ .88 .85 .05 .05 0 .3 | a .92 .87 .05 .10 0 .4 | æ .78 .76 .00 .45 0 .5 | ʌ .62 .58 .10 .00 0 .3 | ə .57 .40 .08 .05 0 .3
ɛ .71 .56 .00 .50 0 .5 | ɪ .61 .39 .00 .60 0 .6 | i .62 .20 .00 1 0 .7 | e .58 .37 .00 .80 0 .6 | ɔ .50 .80 .45 .00 0 .1
o .34 .59 .66 .00 0 0 | ʊ .40 .60 .64 .00 0 0 | u .25 .28 .95 .00 0 0 | ɝ .48 .54 .43 .00 0 .3 | ɚ .47 .52 .43 .00 0 .3
w .22 .32 .97 .00 0 0 | ɹ .45 .47 .42 .00 0 .3
"""
_CLASSES = """
sound aperture jaw round spread tongue teeth |
L .00 .21 .15 .05 0 0 | F .16 .06 -.3 .10 0 .6 | S .42 .18 .08 .35 0 1 | R .72 .12 .52 .00 .3 1 | T .63 .16 .14 .20 1 .5
D .38 .24 .09 .15 1 .8 | l .80 .34 .20 .10 1 .4 | K .57 .27 .09 .05 0 .3 | h .45 .60 .00 .00 0 .3 | j .61 .22 .02 .80 0 .6
"""
_GLIDES = {"aɪ": ("a", "ɪ"), "aʊ": ("a", "ʊ"), "ɔɪ": ("ɔ", "ɪ"), "eɪ": ("e", "ɪ"), "oʊ": ("o", "ʊ")}
_RESTING: Target = (0.0, 0.0, 0.0, 0.1, 0.0, 0.0)  # corners a little apart: a face at rest, not a dead one


@dataclass(frozen=True, slots=True)
class Timing:
    """Seconds. vowels: how long before the end of the vowel before it a vowel begins to show, and how long that takes.
    consonants, lips: how long before its start a consonant begins to show, how long that takes, how long before its end it
    begins to go, how long that takes. burst: of a voiceless stop, the share of it that is its burst. hides: how far each
    kind of consonant hides the vowels, 0..1."""

    vowels: tuple[float, float]
    consonants: tuple[float, float, float, float]
    lips: tuple[float, float, float, float]
    burst: float
    hides: tuple[float, ...]


def _hides(**weights: float) -> tuple[float, ...]:
    return tuple(weights.get(kind, 1.0) for kind in KINDS)


APERTURE = Timing(
    (0.033, 0.168), (0.096, 0.150, 0.043, 0.131), (0.094, 0.112, 0.024, 0.143), 0.50,
    _hides(L=1.0, F=0.78, S=0.67, R=0.36, T=0.41, D=0.59, l=0.41, K=0.41, h=0.20, j=0.59),
)  # fmt: skip
JAW = Timing(
    (0.019, 0.171), (0.075, 0.075, 0.007, 0.106), (0.087, 0.110, 0.019, 0.111), 0.37,
    _hides(L=0.86, F=0.85, S=0.98, R=0.83, T=0.59, D=0.59, l=0.59, K=0.51, h=0.08, j=0.59),
)  # fmt: skip
ROUND = Timing(
    (0.018, 0.152), (0.113, 0.189, 0.032, 0.117), (0.067, 0.114, 0.027, 0.117), 0.16,
    _hides(L=0.49, F=0.72, S=0.64, R=0.68, T=0.44, D=0.56, l=0.44, K=0.44, h=0.05, j=0.56),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Piece:
    """A sound, or one of the two vowels of a glide. share: of the sound's length. voiceless: its end is a burst."""

    target: Target
    kind: int
    share: float = 1.0
    voiceless: bool = False


def _read(table: str) -> dict[str, Target]:
    """The targets of a table whose first cell names its columns."""
    head, *cells = (cell.split() for cell in table.replace("\n", "|").split("|") if cell.strip())
    found: dict[str, Target] = {}
    for name, *values in cells:
        told = dict(zip(head[1:], map(float, values), strict=True))
        aperture, jaw, rounding, spread, tongue, teeth = (told[part] for part in TARGET_PARTS)
        found[name] = (aperture, jaw, rounding, spread, tongue, teeth)
    return found


def _with_whole_tongue(name: str, target: Target) -> Target:
    """The tongue goes all the way where the jaw goes half of it."""
    aperture, jaw, rounding, spread, tongue, teeth = target
    return (aperture, jaw, rounding, spread, tongue / JAW.hides[KINDS.index(name)], teeth)


_SOUNDS = _read(_TABLE)
_OF_CLASS = {name: _with_whole_tongue(name, target) for name, target in _read(_CLASSES).items()}


@lru_cache(maxsize=2000)
def pieces_of(symbol: str) -> tuple[Piece, ...]:
    """What a sound of any language is made of; '' is a pause."""
    if symbol == PAUSE:
        return (Piece(_RESTING, REST),)
    if symbol in _GLIDES:
        first, second = _GLIDES[symbol]
        return (
            Piece(_SOUNDS[first], VOWEL, _GLIDE_SHARE),
            Piece(_SOUNDS[second], VOWEL, 1 - _GLIDE_SHARE),
        )
    if symbol in _SOUNDS:
        return (Piece(_SOUNDS[symbol], VOWEL),)
    letters = letters_of(symbol)
    vowels = [letter for letter in letters if isinstance(letter, Vowel)]
    if len(vowels) > 1:
        return tuple(
            Piece(_of_vowel(vowel), VOWEL, share)
            for vowel, share in zip(vowels[:2], (_GLIDE_SHARE, 1 - _GLIDE_SHARE), strict=True)
        )
    if vowels or not letters:
        return (Piece(_of_vowel(vowels[0]) if vowels else _SOUNDS["ə"], VOWEL),)
    consonants = [letter for letter in letters if isinstance(letter, Consonant)]
    return (_of_consonants(consonants),)


def _of_vowel(vowel: Vowel) -> Target:
    o, r = vowel.open, vowel.rounded
    return (
        0.50 + 0.31 * o - 0.21 * r - 0.07 * o * r,
        0.20 + 0.61 * o + 0.17 * r + 0.04 * o * r,
        0.07 + 0.74 * r - 0.40 * o * r,
        (1 - r) * (1 - o) * (1 - vowel.back),
        0.0,
        0.3 * (1 - r),
    )


def _of_consonants(letters: list[Consonant]) -> Piece:
    first, last = letters[0], letters[-1]
    if last.rounded:
        return Piece(_SOUNDS["w"], VOWEL)
    if last.manner == "approximant" and 4 <= last.place < 6:  # behind the ridge
        return Piece(_SOUNDS["ɹ"], VOWEL)
    name = _class_of(last)
    stops = first.manner == "stop" and not first.voiced and name in ("L", "T", "K", "R")
    return Piece(_OF_CLASS[name], KINDS.index(name), voiceless=stops)


def _class_of(letter: Consonant) -> str:
    """By place, from the lips (0) to the glottis (10), and manner."""
    place, rubs = letter.place, letter.manner in ("fricative", "affricate")
    ridge = "l" if letter.manner == "lateral" else ("S" if place < 4 else "R") if rubs else "T"
    palate = "j" if letter.manner == "approximant" and place < 7 else "K"
    for edge, name in ((1, "L"), (2, "F"), (3, "D"), (6, ridge), (9, palate)):
        if place < edge:
            return name
    return "h"
