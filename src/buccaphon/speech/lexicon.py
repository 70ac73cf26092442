"""How a word may be pronounced: the dictionary first, then letter-to-sound.

The dictionary carries no stress marks; stress and the two kinds of AH and ER are taken over from eSpeak NG's reading of
the word where the vowels agree in number.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from itertools import islice, product

from buccaphon.speech import espeak
from buccaphon.speech.dictionary import listed
from buccaphon.speech.fillers import drawn_out_of, filler
from buccaphon.speech.languages import BY_LETTERS, ENGLISH, find_language
from buccaphon.speech.letters import Rules, read_by_letters, usual_rules
from buccaphon.speech.phones import SOUNDS, ipa_of, is_vowel, single_sounds
from buccaphon.speech.spelling import readings

_NO_MARKS = {ord(mark): None for mark in "ˈˌ-_0123456789˥˦˧˨˩"}  # stress, joints and tones
_MOST_VARIANTS = 12  # of one written word; more only slow the search

# eSpeak NG's English symbols that are not one of ours, as ours.
_FROM_ESPEAK = {
    "ɑː": "ɑ", "iː": "i", "uː": "u", "ɔː": "ɔ", "ɜː": "ɝ", "ᵻ": "ɪ", "ɐ": "ə", "ɾ": "t", "ʔ": "t", "x": "k", "r": "ɹ",
    "əl": "ə l", "ɑːɹ": "ɑ ɹ", "ɔːɹ": "ɔ ɹ", "oːɹ": "ɔ ɹ", "ɪɹ": "ɪ ɹ", "ɛɹ": "ɛ ɹ", "ʊɹ": "ʊ ɹ", "iə": "i ə",
    "aɪɚ": "aɪ ɚ", "aɪə": "aɪ ə", "n̩": "ə n", "oː": "ɔ", "aː": "ɑ", "a": "æ", "e": "ɛ", "o": "oʊ", "ɡʲ": "ɡ", "ɬ": "l",
    "ɑ̃": "ɑ n", "ɔ̃": "ɔ n", "ç": "h", "ʍ": "w", "ɒ": "ɑ", "y": "u", "ø": "ɝ", "œ": "ɝ",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Pronunciation:
    """sounds: IPA symbols. stresses: 0 none, 1 primary, 2 secondary, one a sound, consonants 0."""

    sounds: tuple[str, ...]
    stresses: tuple[int, ...]

    @classmethod
    def of_arpabet(cls, sounds: str) -> Pronunciation:
        """Of ARPAbet symbols with spaces between; its first vowel has the stress."""
        plain = [ipa_of(sound, 1) for sound in sounds.split()]
        first = next((place for place, symbol in enumerate(plain) if is_vowel(symbol)), -1)
        stresses = tuple(int(place == first) for place in range(len(plain)))
        return cls(tuple(map(ipa_of, sounds.split(), stresses)), stresses)

    def __add__(self, other: Pronunciation) -> Pronunciation:
        return Pronunciation(self.sounds + other.sounds, self.stresses + other.stresses)


@dataclass(frozen=True, slots=True)
class Entry:
    """A pronunciation of one's own. written: the word without punctuation, lower case. only: holds just for the n-th time
    the word is said, counted from 0; for all when None."""

    written: str
    way: Pronunciation
    only: int | None = None


@dataclass(frozen=True)
class Lexicon:
    """Pronunciations of one's own, which stand in for those of the dictionary. letters: how a language that is not listed is
    spelled, where that differs from the usual."""

    entries: tuple[Entry, ...] = ()
    letters: Rules = ()

    def ways(self, bare: str, language: str, nth: int = 0) -> tuple[Pronunciation, ...]:
        """The ways to say a word the n-th time it is said: one's own if there are any, else the dictionary's."""
        mine = self._by_word.get(bare.lower(), ())
        here = dict.fromkeys(entry.way for entry in mine if entry.only == nth)
        found = here or dict.fromkeys(entry.way for entry in mine if entry.only is None)
        return tuple(islice(found, _MOST_VARIANTS)) or self.usual_ways(bare, language)

    def usual_ways(self, bare: str, language: str) -> tuple[Pronunciation, ...]:
        """The ways to say a word of which one has said nothing."""
        if language != BY_LETTERS:
            return pronunciations(bare, language)
        sounds, stresses = read_by_letters(bare, self.letters)
        return (Pronunciation(sounds, stresses),) if sounds else ()

    @cached_property
    def _by_word(self) -> dict[str, list[Entry]]:
        found: dict[str, list[Entry]] = {}
        for entry in self.entries:
            found.setdefault(entry.written, []).append(entry)
        return found

    def over(self, other: Lexicon) -> Lexicon:
        """Both, in which this one's words win."""
        mine = {entry.written for entry in self.entries}
        entries = (*self.entries, *(entry for entry in other.entries if entry.written not in mine))
        return Lexicon(entries, tuple((dict(other.letters) | dict(self.letters)).items()))

    def spelled(self, rules: Mapping[str, tuple[str, ...]]) -> Lexicon:
        """With letters that sound so: what differs from the usual is one's own, and usual letters that are not there have
        their usual sounds."""
        usual = dict(usual_rules())
        return replace(self, letters=tuple((each, said) for each, said in rules.items() if usual.get(each) != said))

    def having(self, bare: str, *ways: Pronunciation, only: int | None = None) -> Lexicon:
        """With just these ways to say a word, everywhere or the n-th time; none takes them out."""
        written = bare.lower()
        kept = tuple(entry for entry in self.entries if (entry.written, entry.only) != (written, only))
        return replace(self, entries=(*kept, *(Entry(written, way, only) for way in ways)))


NO_ENTRIES = Lexicon()


@lru_cache(maxsize=20000)
def pronunciations(bare: str, language: str = ENGLISH) -> tuple[Pronunciation, ...]:
    """The ways to say a written word (without punctuation), likeliest first; empty when it holds nothing sayable."""
    if language == BY_LETTERS:
        return Lexicon().usual_ways(bare, language)
    if language != ENGLISH:
        read = _read_aloud(bare, find_language(language).voice)
        return (read,) if read.sounds else ()
    if not _is_latin(bare):
        return ()
    said = [Pronunciation.of_arpabet(way) for way in filler(bare.lower())]
    return tuple(islice(dict.fromkeys((*said, *wordings(bare))), _MOST_VARIANTS)) if said else tuple(wordings(bare))


def wordings(bare: str) -> dict[Pronunciation, tuple[str, ...]]:
    """The ways to say a written English word, likeliest first, each with the words that it says."""
    found: dict[Pronunciation, tuple[str, ...]] = {}
    meant = [(words, [word_pronunciations(word) for word in words]) for words in readings(bare)]
    meant = [(words, parts) for words, parts in meant if parts and all(parts)]
    for words, parts in meant:
        for first, *rest in islice(product(*parts), max(_MOST_VARIANTS // len(meant), 2)):
            found.setdefault(sum(rest, first), words)
    return found


def _is_latin(text: str) -> bool:
    """Whether all letters are Latin: English letter-to-sound would read the names of any others aloud."""
    return all(unicodedata.name(char, "").startswith("LATIN") for char in text if char.isalpha())


@lru_cache(maxsize=20000)
def word_pronunciations(word: str) -> tuple[Pronunciation, ...]:
    """The ways to say one lower-case word."""
    word = drawn_out_of(word)
    read = _by_letters(word)
    entries = listed(word)
    if not entries:
        return (read,) if read.sounds else ()
    return tuple(dict.fromkeys(_stressed(tuple(entry), read) for entry in entries))


@lru_cache(maxsize=20000)
def _read_aloud(text: str, voice: str) -> Pronunciation:
    """As eSpeak NG reads it, in the IPA symbols of its language."""
    sounds: list[str] = []
    stresses: list[int] = []
    for marked in espeak.ipa(text, voice):
        stress = 1 if "ˈ" in marked else 2 if "ˌ" in marked else 0
        for sound in single_sounds(marked.translate(_NO_MARKS)):
            sounds.append(sound)
            stresses.append(stress if is_vowel(sound) else 0)
    return Pronunciation(tuple(sounds), tuple(stresses))


@lru_cache(maxsize=20000)
def _by_letters(word: str) -> Pronunciation:
    sounds: list[str] = []
    stresses: list[int] = []
    for marked in espeak.ipa(word, find_language(ENGLISH).voice):
        stress = 1 if "ˈ" in marked else 2 if "ˌ" in marked else 0
        symbol = marked.translate(_NO_MARKS)
        for sound in _FROM_ESPEAK.get(symbol, symbol).split():
            if sound in SOUNDS:
                sounds.append(sound)
                stresses.append(stress if is_vowel(sound) else 0)
    return Pronunciation(tuple(sounds), tuple(stresses))


def _stressed(arpabet: tuple[str, ...], read: Pronunciation) -> Pronunciation:
    """A dictionary entry with the stresses of another reading of the same word."""
    vowels = [i for i, symbol in enumerate(arpabet) if is_vowel(ipa_of(symbol, 1))]
    given = [stress for sound, stress in zip(read.sounds, read.stresses, strict=True) if is_vowel(sound)]
    if len(given) != len(vowels):  # the readings differ: the first vowel of the word is the best guess in English
        given = [1] + [0] * (len(vowels) - 1)
    stresses = [0] * len(arpabet)
    for at, stress in zip(vowels, given, strict=False):
        stresses[at] = stress
    return Pronunciation(tuple(ipa_of(s, t) for s, t in zip(arpabet, stresses, strict=True)), tuple(stresses))
