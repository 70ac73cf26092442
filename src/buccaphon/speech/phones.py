"""The speech sounds: IPA is what the project keeps, ARPAbet is what the English dictionary writes.

Classes and symbols after the Handbook of the International Phonetic Association (1999).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum


class PhoneClass(Enum):
    """How a sound is made, as far as its onset in the signal is concerned."""

    VOWEL = "V"
    STOP = "S"
    AFFRICATE = "A"
    FRICATIVE = "F"
    VOICED_FRICATIVE = "Z"
    NASAL = "N"
    APPROXIMANT = "L"
    PAUSE = "X"


@dataclass(frozen=True, slots=True)
class Sound:
    """One speech sound: its IPA symbol, the ARPAbet symbol that the acoustic model knows it by, its class."""

    ipa: str
    arpabet: str
    kind: PhoneClass


PAUSE = ""  # the symbol of a pause, wherever a phone symbol may stand

_TABLE = """
ɑ AA V | æ AE V | ʌ AH V | ə AH V | ɔ AO V | aʊ AW V | aɪ AY V | ɛ EH V | ɝ ER V | ɚ ER V | eɪ EY V | ɪ IH V | i IY V
oʊ OW V | ɔɪ OY V | ʊ UH V | u UW V
p P S | b B S | t T S | d D S | k K S | ɡ G S
tʃ CH A | dʒ JH A
f F F | θ TH F | s S F | ʃ SH F | h HH F
v V Z | ð DH Z | z Z Z | ʒ ZH Z
m M N | n N N | ŋ NG N
l L L | ɹ R L | w W L | j Y L
"""

SOUNDS: dict[str, Sound] = {}
for _cell in _TABLE.replace("\n", "|").split("|"):
    if _cell.strip():
        _ipa, _arpabet, _kind = _cell.split()
        SOUNDS[_ipa] = Sound(_ipa, _arpabet, PhoneClass(_kind))

_STRESSED = {"AH": "ʌ", "ER": "ɝ"}
_WEAK = {"AH": "ə", "ER": "ɚ"}
_PLAIN = {sound.arpabet: sound.ipa for sound in SOUNDS.values()}


def ipa_of(arpabet: str, stress: int) -> str:
    """The IPA symbol of an ARPAbet one without its digit; a weak AH or ER is a schwa."""
    return (_STRESSED if stress else _WEAK).get(arpabet) or _PLAIN[arpabet]


def arpabet_of(ipa: str) -> str:
    """The ARPAbet symbol of an IPA one."""
    return SOUNDS[ipa].arpabet


def class_of(ipa: str) -> PhoneClass:
    return SOUNDS[ipa].kind if ipa != PAUSE else PhoneClass.PAUSE


def class_of_arpabet(arpabet: str) -> PhoneClass:
    """That of an ARPAbet symbol without its digit; silence and noises of the acoustic model count as pauses."""
    return SOUNDS[_PLAIN[arpabet]].kind if arpabet in _PLAIN else PhoneClass.PAUSE


def is_vowel(ipa: str) -> bool:
    return ipa in SOUNDS and SOUNDS[ipa].kind is PhoneClass.VOWEL
