"""The CMU Pronouncing Dictionary in the `pocketsphinx` wheel (BSD licence), in ARPAbet without stress marks."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator
from functools import lru_cache
from importlib.util import find_spec
from itertools import islice, takewhile
from pathlib import Path


def listed(word: str) -> list[list[str]]:
    """What the dictionary has for a lower-case word, or for the word in a possessive that it lacks."""
    return [entry.split() for entry in _entries(word) or _possessive(word)]


def is_listed(word: str) -> bool:
    """Whether the dictionary knows a lower-case word."""
    return bool(_entries(word) or _possessive(word))


def all_listed() -> Iterator[list[str]]:
    """All pronunciations of all words."""
    return (line.split()[1:] for line in _lines())


def words_listed() -> list[str]:
    return list(dict.fromkeys(map(_word_of, _lines())))


@lru_cache(maxsize=1)
def _lines() -> list[str]:
    """A word and its sounds, one line for each way to say it; in the order of the words."""
    spec = find_spec("pocketsphinx")
    if spec is None or spec.origin is None:
        raise FileNotFoundError("the pocketsphinx package, which carries the dictionary, is not installed")
    return (Path(spec.origin).parent / "model" / "en-us" / "cmudict-en-us.dict").read_text("utf-8").splitlines()


def _word_of(line: str) -> str:
    """Without the number of its way: "read(2) R IY D" is of "read"."""
    word = line.partition(" ")[0]
    return word[: word.rindex("(")] if word.endswith(")") else word


@lru_cache(maxsize=20_000)
def _entries(word: str) -> tuple[str, ...]:
    """Looked up where it stands: to read all of the dictionary takes as long as to align a line."""
    lines = _lines()
    first = bisect_left(lines, word, key=_word_of)
    mine = takewhile(lambda line: _word_of(line) == word, islice(lines, first, None))
    return tuple(line.partition(" ")[2] for line in mine)


def _possessive(word: str) -> list[str]:
    """The dictionary's word with an 's it does not list, by the rule of English."""
    if not word.endswith("'s"):
        return []
    endings = {"S": "IH Z", "Z": "IH Z", "SH": "IH Z", "ZH": "IH Z", "CH": "IH Z", "JH": "IH Z"}
    endings |= dict.fromkeys(("P", "T", "K", "F", "TH"), "S")
    stems = _entries(word[:-2])
    return [f"{stem} {endings.get(stem.split()[-1], 'Z')}" for stem in stems]
