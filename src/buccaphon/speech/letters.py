"""Words of languages that are not listed, read by their letters: by rules that can be changed, the longest spelling first."""

from __future__ import annotations

import tomllib
import unicodedata
from collections.abc import Iterable, Mapping
from functools import lru_cache
from importlib import resources

from buccaphon.speech.phones import is_vowel

Rules = tuple[tuple[str, tuple[str, ...]], ...]
"""Spellings in lower case, each with its sounds in IPA; none for letters that are silent."""


@lru_cache(maxsize=1)
def _file() -> Mapping[str, Mapping[str, str]]:
    return tomllib.loads((resources.files("buccaphon.speech") / "letters.toml").read_text("utf-8"))


def near() -> Mapping[str, str]:
    """By the names of languages that are not listed the code of the listed one that is said most like each."""
    return _file()["near"]


@lru_cache(maxsize=1)
def usual_rules() -> Rules:
    """Those that hold where nobody says otherwise."""
    return tuple((letters, tuple(sounds.split())) for letters, sounds in _file()["letters"].items())


def effective(own: Rules) -> dict[str, tuple[str, ...]]:
    """The usual rules with one's own in the place of those for the same letters."""
    return dict(usual_rules()) | dict(own)


def unread(word: str, own: Rules) -> str:
    """The first letter of a word that has no rule; '' for none."""
    return _read(word, own)[1]


def read_by_letters(word: str, own: Rules) -> tuple[tuple[str, ...], tuple[int, ...]]:
    """The sounds of a word and their stresses, the last vowel but one having it; none where a letter has no rule."""
    sounds, strange = _read(word, own)
    if strange:
        return (), ()
    vowels = [place for place, sound in enumerate(sounds) if is_vowel(sound)]
    stressed = vowels[-2:][0] if vowels else -1
    return tuple(sounds), tuple(int(place == stressed) for place in range(len(sounds)))


@lru_cache(maxsize=20_000)
def _read(word: str, own: Rules) -> tuple[tuple[str, ...], str]:
    rules = effective(own)
    longest, sounds, at = max(map(len, rules)), list[str](), 0
    text = unicodedata.normalize("NFC", word.lower())
    while at < len(text):
        plain = _plain(text[at])
        taken = next((text[at : at + n] for n in range(longest, 0, -1) if text[at : at + n] in rules), text[at])
        said = rules.get(taken, rules.get(plain, () if unicodedata.combining(plain) else None))
        if said is None:
            return (), text[at]
        sounds = _joined(sounds, said, doubled=at > 0 and len(taken) == 1 and plain == _plain(text[at - 1]))
        at += len(taken)
    return tuple(sounds), ""


def _plain(letter: str) -> str:
    """Without the marks above or below it, such as a tone's."""
    return unicodedata.normalize("NFD", letter)[0]


def _joined(sounds: list[str], said: Iterable[str], *, doubled: bool) -> list[str]:
    """doubled: the same letter came just before, which makes a vowel long and a consonant no other."""
    new = list(said)
    if not doubled or not sounds or sounds[-1].rstrip("ː") != (new[0] if len(new) == 1 else ""):
        return [*sounds, *new]
    return [*sounds[:-1], f"{new[0]}ː"] if is_vowel(new[0]) and not sounds[-1].endswith("ː") else sounds
