"""How English words are said in a hurry: 'n for and, dropped h, -in' for -ing, flapped t, swallowed vowels, lost final stops.

None of these stands in a dictionary; each is less likely than what does. The processes are those of J. C. Wells,
Accents of English (1982), chapter 3.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice

from buccaphon.speech.lexicon import Pronunciation
from buccaphon.speech.phones import ipa_of, is_vowel

_Way = tuple[tuple[str, ...], tuple[int, ...]]  # sounds and stresses

_MOST = 2  # of one word; more only slow the search

# in ARPAbet, of the commonest words
_WEAK = {
    "and": ("AH N", "N"), "of": ("AH",), "them": ("AH M", "DH M"), "him": ("IH M",), "her": ("ER",),
    "his": ("IH Z",), "he": ("IY",), "have": ("AH V", "AH"), "has": ("AH Z",), "had": ("AH D",),
    "to": ("T AH",), "for": ("F ER",), "you": ("Y AH",), "your": ("Y ER",), "can": ("K AH N", "K N"),
    "was": ("W AH Z",), "at": ("AH T",), "as": ("AH Z",), "because": ("K AH Z",), "about": ("B AW T",),
    "what": ("W AH",), "that": ("DH AH T",), "are": ("ER",), "our": ("AA R",), "or": ("ER",),
    "just": ("JH AH S", "JH IH S"), "will": ("AH L",), "would": ("W AH D",), "must": ("M AH S",),
    "going": ("G AH N",), "want": ("W AA N",), "got": ("G AA",), "give": ("G IH",), "let": ("L EH",),
    "don't": ("D OW N",), "probably": ("P R AA B L IY",), "actually": ("AE K SH L IY",), "really": ("R IH L IY",),
    "suppose": ("S P OW Z",), "remember": ("M EH M B ER",), "library": ("L AY B R IY",), "with": ("W IH",),
}  # fmt: skip
_FULL = frozenset(["AA", "AE", "AO", "AW", "AY", "EH", "EY", "IY", "OW", "UW"])
_BEFORE_LOST = frozenset(["s", "n", "l", "f", "k", "p", "ʃ"])


@dataclass(frozen=True, slots=True)
class Reduced(Pronunciation):
    """A way to say a word in a hurry, less likely than those of the dictionary."""


def reduced_ways(bare: str, ways: Sequence[Pronunciation]) -> tuple[Reduced, ...]:
    """More ways to say a written English word than `ways`, the dictionary's, likeliest first; often none."""
    if not ways:
        return ()
    found = dict.fromkeys((*map(_listed, _WEAK.get(bare.lower(), ())), *_worn(bare.lower(), ways[0])))
    known = {way.sounds for way in ways}
    return tuple(islice((Reduced(*way) for way in found if way[0] not in known), _MOST))


def _listed(arpabet: str) -> _Way:
    """Of the table: without stress where there is nothing but weak vowels."""
    sounds = arpabet.split()
    if _FULL.isdisjoint(sounds):
        return tuple(ipa_of(sound, 0) for sound in sounds), (0,) * len(sounds)
    way = Pronunciation.of_arpabet(arpabet)
    return way.sounds, way.stresses


def _worn(word: str, way: Pronunciation) -> Iterator[_Way]:
    """What becomes of a word by rule."""
    sounds, stresses = way.sounds, way.stresses
    vowels = sum(map(is_vowel, sounds))
    if word.endswith("ing") and vowels > 1 and sounds[-2:] == ("ɪ", "ŋ"):
        yield (*sounds[:-1], "n"), stresses
    for place, (before, here, after) in enumerate(zip(sounds, sounds[1:], sounds[2:], strict=False), 1):
        if here == "t" and is_vowel(before) and is_vowel(after) and not stresses[place + 1]:  # is flapped
            yield (*sounds[:place], "d", *sounds[place + 1 :]), stresses
        if here == "ɚ" and is_vowel(after) and not is_vowel(before) and vowels > 2:  # is swallowed
            yield (*sounds[:place], "ɹ", *sounds[place + 1 :]), (*stresses[:place], 0, *stresses[place + 1 :])
    if vowels and len(sounds) > 2 and sounds[-1] in ("t", "d") and sounds[-2] in _BEFORE_LOST:
        yield sounds[:-1], stresses[:-1]
