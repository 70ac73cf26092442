"""The CMU Pronouncing Dictionary in the `pocketsphinx` wheel (BSD licence), in ARPAbet without stress marks."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from importlib.util import find_spec
from pathlib import Path


def listed(word: str) -> list[list[str]]:
    """What the dictionary has for a lower-case word, or for the word in a possessive that it lacks."""
    return [entry.split() for entry in _entries().get(word) or _possessive(word)]


def is_listed(word: str) -> bool:
    """Whether the dictionary knows a lower-case word."""
    return word in _entries() or bool(_possessive(word))


def all_listed() -> Iterator[list[str]]:
    """All pronunciations of all words."""
    return (entry.split() for entries in _entries().values() for entry in entries)


def words_listed() -> list[str]:
    return list(_entries())


@lru_cache(maxsize=1)
def _entries() -> dict[str, list[str]]:
    spec = find_spec("pocketsphinx")
    if spec is None or spec.origin is None:
        raise FileNotFoundError("the pocketsphinx package, which carries the dictionary, is not installed")
    entries: dict[str, list[str]] = {}
    text = (Path(spec.origin).parent / "model" / "en-us" / "cmudict-en-us.dict").read_text("utf-8")
    for line in text.splitlines():
        word, _, sounds = line.partition(" ")
        if word.endswith(")"):
            word = word[: word.rindex("(")]
        entries.setdefault(word, []).append(sounds)
    return entries


def _possessive(word: str) -> list[str]:
    """The dictionary's word with an 's it does not list, by the rule of English."""
    if not word.endswith("'s"):
        return []
    endings = {"S": "IH Z", "Z": "IH Z", "SH": "IH Z", "ZH": "IH Z", "CH": "IH Z", "JH": "IH Z"}
    endings |= dict.fromkeys(("P", "T", "K", "F", "TH"), "S")
    stems = _entries().get(word[:-2], [])
    return [f"{stem} {endings.get(stem.split()[-1], 'Z')}" for stem in stems]
