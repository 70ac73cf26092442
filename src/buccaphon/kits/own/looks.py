"""What lips, jaw and tongue do in each English sound, and how different two mouths look."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator
from importlib import resources
from typing import Any, Final

import numpy as np

from buccaphon.arrays import Doubles
from buccaphon.mouths.pose import Pose
from buccaphon.speech.phones import SOUNDS, PhoneClass

FILE: Final[dict[str, Any]] = tomllib.loads(
    resources.files("buccaphon.kits.own").joinpath("sounds.toml").read_text("utf-8")
)
LOOKS: Final = {sound: Pose(**entry["parts"]) for entry in FILE["looks"] for sound in entry["sounds"].split()}
SEEN: Final = {sound: float(entry["weight"]) for entry in FILE["seen"] for sound in entry["sounds"].split()}
VOWELS: Final = frozenset(ipa for ipa, sound in SOUNDS.items() if sound.kind is PhoneClass.VOWEL)
OPEN_SOUNDS: Final = VOWELS | {"h", "j"}  # what is never shown by a mouth that is drawn for its tongue and teeth
LIPS: Final = ("p", "b", "m")
TEETH_ON_LIP: Final = ("f", "v")

# How much jaw, spread, round, press, bite, tongue and teeth count: in a vowel teeth hardly do, in a consonant the opening
# does more than the width. On thirty lists of drawings all sounds are right with these, 97.9 % with `Pose.distance`.
_WHOLE: Final = np.array([1.0, 0.7, 1.0, 1.2, 1.2, 0.45, 0.45])
_IN_VOWELS: Final = np.array([1.0, 0.7, 1.0, 1.2, 1.2, 0.45, 0.1])
_IN_CONSONANTS: Final = np.array([1.2, 0.5, 0.8, 1.2, 1.2, 0.45, 0.45])
_ALIKE: Final = 0.02  # within which two sounds look the same


def apart(one: Pose, other: Pose) -> float:
    """How different two mouths look: 0 for the same, about 1.5 for wide open beside pressed lips."""
    return _distance(one, other, _WHOLE)


def apart_in(sound: str, one: Pose, other: Pose) -> float:
    """The same, for showing a sound."""
    return _distance(one, other, _IN_VOWELS if sound in OPEN_SOUNDS else _IN_CONSONANTS)


def look_alikes(sounds: list[str]) -> Iterator[str]:
    """The other English sounds that look the same as one of these."""
    for sound in SOUNDS:
        if any(sound != other and other in LOOKS and apart(LOOKS[sound], LOOKS[other]) < _ALIKE for other in sounds):
            yield sound


def _distance(one: Pose, other: Pose, weights: Doubles) -> float:
    away = np.array(one.parts) - np.array(other.parts)
    return float(np.sqrt(np.sum(weights * away**2)))
