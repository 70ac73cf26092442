"""How slowly something is said: how long its sounds last against how long such sounds usually do."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from buccaphon.speech.articulation import Consonant, Vowel, letters_of

SLOW = 1.3  # of the usual length, from which it is worth hearing at its own pace
_SLOWEST = 2.4  # what is slower is drawn out here and there, not said slowly
_BRISKLY = 1.1  # a tenth quicker than usual, strange voices are placed better than just as quick
_LEAST_SOUNDS = 12  # to judge by
_GLIDE, _VOWEL, _HISS, _OTHER = 0.140, 0.080, 0.115, 0.070  # seconds, about the medians of the development recordings


def pace_of(sounds: Iterable[tuple[str, float]]) -> float:
    """How many times further apart frames are to stand for sounds to last as long as usual or a little less, by their median;
    1 where they are not slow. sounds: IPA symbols with their seconds, pauses left out. A few that are drawn out do not make
    it slow."""
    longer = [seconds / _usual(symbol) for symbol, seconds in sounds]
    if len(longer) < _LEAST_SOUNDS:
        return 1.0
    slower = float(np.median(longer))
    return min(_BRISKLY * slower, _SLOWEST) if slower >= SLOW else 1.0


def _usual(symbol: str) -> float:
    letters = letters_of(symbol)
    vowels = [letter for letter in letters if isinstance(letter, Vowel)]
    if vowels:
        return _GLIDE if len(vowels) > 1 else _VOWEL
    consonants = [letter for letter in letters if isinstance(letter, Consonant)]
    hisses = any(letter.manner in ("fricative", "affricate") for letter in consonants)
    return _HISS if hisses and not any(letter.voiced for letter in consonants) else _OTHER
