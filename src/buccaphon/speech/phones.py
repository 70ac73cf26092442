"""The speech sounds: IPA is what the project keeps, ARPAbet is what the English dictionary writes.

Classes and symbols after the Handbook of the International Phonetic Association (1999).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum
from functools import lru_cache

from buccaphon.speech.articulation import LETTERS, Consonant, Vowel, heard_distance, letters_of, seen_distance


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

# What the distances alone would get wrong: near-diphthongs of English, and its r.
_TO_THE_EAR = {"e": "eɪ", "o": "oʊ", "r": "ɹ", "ʀ": "ɹ", "ɾ": "d", "ɲ": "n", "ø": "ɝ", "œ": "ɝ"}
_TO_THE_EYE = {"e": "eɪ", "o": "oʊ", "r": "d", "ɾ": "d", "ɲ": "n"}
_ENGLISH = {ipa: letters_of(ipa) for ipa in SOUNDS}
_STRESSED = {"AH": "ʌ", "ER": "ɝ"}
_WEAK = {"AH": "ə", "ER": "ɚ"}
_PLAIN = {sound.arpabet: sound.ipa for sound in SOUNDS.values()}


_TWO_CONSONANTS, _TWO_VOWELS = 0.25, 0.9  # how far a pair may be from an English one and still be one sound
_OF_MANNER = {"stop": PhoneClass.STOP, "nasal": PhoneClass.NASAL, "fricative": PhoneClass.FRICATIVE}


@lru_cache(maxsize=2000)
def sound_of(ipa: str) -> Sound:
    """A sound of any language: itself, with the ARPAbet symbol of the English sound that is nearest to the ear.

    Raises ValueError when the symbol holds no letter of the IPA.
    """
    if ipa in SOUNDS:
        return SOUNDS[ipa]
    letters = letters_of(ipa)
    if not letters:
        raise ValueError(f"{ipa!r} is no symbol of the International Phonetic Alphabet")
    nearest = _TO_THE_EAR.get(_bare(ipa)) or _nearest(letters, heard_distance)[0]
    return Sound(ipa, SOUNDS[nearest].arpabet, _kind_of(letters))


@lru_cache(maxsize=2000)
def looks_like(ipa: str) -> str:
    """The English sound whose mouth looks most like that of a sound of any language."""
    if ipa in SOUNDS:
        return ipa
    letters = letters_of(ipa)
    if not letters:
        raise ValueError(f"{ipa!r} is no symbol of the International Phonetic Alphabet")
    return _TO_THE_EYE.get(_bare(ipa)) or _nearest(letters, seen_distance)[0]


@lru_cache(maxsize=2000)
def single_sounds(ipa: str) -> tuple[str, ...]:
    """A symbol parted where its letters are not one sound to an English ear: 'pf' becomes 'p', 'f'; 'ɔø' stays."""
    letters = letters_of(ipa)
    if ipa in SOUNDS or len(letters) < 2:
        return (ipa,) if letters else ()
    _, distance = _nearest(letters, heard_distance)
    if distance <= (_TWO_VOWELS if isinstance(letters[0], Vowel) else _TWO_CONSONANTS):
        return (ipa,)
    parts: list[str] = []
    for char in ipa:
        if char in LETTERS:
            parts.append(char)
        elif parts and char != "͡":
            parts[-1] += char
    return tuple(parts)


def _bare(ipa: str) -> str:
    return "".join(char for char in ipa if char in LETTERS)


def _nearest(
    letters: tuple[Vowel | Consonant, ...], distance: Callable[[Vowel | Consonant, Vowel | Consonant], float]
) -> tuple[str, float]:
    """The English sound of as many letters (or, failing that, like the first letter), and how far it is."""
    for count in (min(len(letters), 2), 1):
        found = [
            (sum(distance(a, b) for a, b in zip(letters[:count], mine, strict=True)), ipa)
            for ipa, mine in _ENGLISH.items()
            if len(mine) == count
        ]
        far, ipa = min(found)
        if count == 1 or far <= _TWO_VOWELS:
            return ipa, far + (9.0 if count < len(letters) else 0.0)
    raise AssertionError("there are English sounds of one letter")


def _kind_of(letters: tuple[Vowel | Consonant, ...]) -> PhoneClass:
    first, *rest = letters
    if isinstance(first, Vowel):
        return PhoneClass.VOWEL
    if first.manner == "stop" and rest:
        return PhoneClass.AFFRICATE
    if first.manner == "fricative" and first.voiced:
        return PhoneClass.VOICED_FRICATIVE
    return _OF_MANNER.get(first.manner, PhoneClass.APPROXIMANT)


def ipa_of(arpabet: str, stress: int) -> str:
    """The IPA symbol of an ARPAbet one without its digit; a weak AH or ER is a schwa."""
    return (_STRESSED if stress else _WEAK).get(arpabet) or _PLAIN[arpabet]


def arpabet_of(ipa: str) -> str:
    """The ARPAbet symbol of an IPA one, or of the English sound nearest to it."""
    return sound_of(ipa).arpabet


def is_held(ipa: str) -> bool:
    """Whether a sound is a long voiceless stop, or begins with one."""
    first = letters_of(ipa)[0]
    return "ː" in ipa and isinstance(first, Consonant) and first.manner == "stop" and not first.voiced


def class_of(ipa: str) -> PhoneClass:
    return sound_of(ipa).kind if ipa != PAUSE else PhoneClass.PAUSE


def class_of_arpabet(arpabet: str) -> PhoneClass:
    """That of an ARPAbet symbol without its digit; silence and noises of the acoustic model count as pauses."""
    return SOUNDS[_PLAIN[arpabet]].kind if arpabet in _PLAIN else PhoneClass.PAUSE


def is_vowel(ipa: str) -> bool:
    return ipa != PAUSE and sound_of(ipa).kind is PhoneClass.VOWEL
