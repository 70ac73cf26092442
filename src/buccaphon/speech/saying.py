"""A pronunciation said aloud, to compare it with what is in the recording."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from buccaphon.speech.espeak import said
from buccaphon.speech.lexicon import Pronunciation
from buccaphon.speech.phones import arpabet_of

_VOICE = "gmw/en-US"
# eSpeak NG's mnemonics of American English
_MNEMONICS = {
    **{
        "AA": "A:",
        "AE": "a",
        "AH": "V",
        "AO": "O:",
        "AW": "aU",
        "AY": "aI",
        "EH": "E",
        "ER": "3:",
        "EY": "eI",
        "IH": "I",
    },
    **{"IY": "i:", "OW": "oU", "OY": "OI", "UH": "U", "UW": "u:", "B": "b", "CH": "tS", "D": "d", "DH": "D", "F": "f"},
    **{
        "G": "g",
        "HH": "h",
        "JH": "dZ",
        "K": "k",
        "L": "l",
        "M": "m",
        "N": "n",
        "NG": "N",
        "P": "p",
        "R": "r",
        "S": "s",
    },
    **{"SH": "S", "T": "t", "TH": "T", "V": "v", "W": "w", "Y": "j", "Z": "z", "ZH": "Z"},
}
_WEAK = {"AH": "@", "ER": "3"}  # without stress
_STRESS = {0: "", 1: "'", 2: ","}


@lru_cache(maxsize=64)
def saying(way: Pronunciation) -> tuple[npt.NDArray[np.float32], int]:
    """(samples,) -1..1 and rate in Hz of a pronunciation by an American synthetic voice; the sounds of other languages as the
    nearest English ones."""
    return said(mnemonics(way), _VOICE)


def mnemonics(way: Pronunciation) -> str:
    """A pronunciation in eSpeak NG's spelling of sounds, kept apart so that no two are taken for one."""
    return "|".join(_mnemonic(sound, stress) for sound, stress in zip(way.sounds, way.stresses, strict=True))


def _mnemonic(sound: str, stress: int) -> str:
    name = arpabet_of(sound)
    return _STRESS[stress] + (_WEAK.get(name, _MNEMONICS[name]) if stress == 0 else _MNEMONICS[name])
