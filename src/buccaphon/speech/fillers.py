"""What people say between words, and words that are written as long as they are drawn out: um, mm-hm, noooo."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import islice, product

from buccaphon.speech.dictionary import is_listed, listed

# in ARPAbet, the likeliest first; those that the dictionary has already are not here, unless it lacks a way
_FILLERS = {
    "erm": ("ER M", "AH M"), "um": ("AH M",), "uhm": ("AH M",), "er": ("ER",), "hm": ("HH M", "M"), "hmm": ("HH M", "M"),
    "mm": ("M",), "mhm": ("M HH M",), "mm-hm": ("M HH M",), "mm-hmm": ("M HH M",), "mmhm": ("M HH M",),
    "uh-uh": ("AH AH",), "aah": ("AA",), "aargh": ("AA R G",), "argh": ("AA R G",), "ooh": ("UW",), "oof": ("UW F",),
    "eek": ("IY K",), "ew": ("IY UW", "Y UW"), "pff": ("P F",), "psst": ("P S T",), "tsk": ("T S K",), "brr": ("B R",),
    "grr": ("G R",), "haha": ("HH AA HH AA",), "hehe": ("HH EH HH EH",), "sorta": ("S AO R T AH",), "oughta": ("AO T AH",),
    "whatcha": ("W AH CH AH",), "shoulda": ("SH UH D AH",), "coulda": ("K UH D AH",), "woulda": ("W UH D AH",),
}  # fmt: skip
_DOUBLED = frozenset(("boo", "moo", "woo", "shoo", "see", "fee", "bee", "tee"))  # that end in a letter twice
_LONG = re.compile(r"(.)\1\1+")
_RUN = re.compile(r"(.)\1{1,}")
_MOST_RUNS = 4  # of letters that are written long; longer strings are no filler


def filler(word: str) -> tuple[str, ...]:
    """The ways to say a lower-case word that is none of the dictionary's, or has one that it lacks; () for any other."""
    if word in _FILLERS:
        return _FILLERS[word]
    shorter = drawn_out_of(word)
    return _FILLERS.get(shorter, ())


def drawn_out_of(word: str) -> str:
    """The word that one with a letter three times or more in a row is written long for: no for noooo; else itself."""
    if not _LONG.search(word) or is_listed(word):
        return word
    runs = list(islice(_RUN.finditer(word), _MOST_RUNS))
    # a run is a letter twice or once; at the end of a word once is likelier, as in "sooo", inside it twice, as in "goood"
    ways = [(1, 2) if run.end() == len(word) else (2, 1) for run in runs]
    shorter = [_with_runs(word, runs, lengths) for lengths in product(*ways)]
    known = (each for among in (_DOUBLED, _FILLERS) for each in shorter if each in among)
    return next(known, None) or next((each for each in shorter if len(each) > 1 and listed(each)), word)


def _with_runs(word: str, runs: Sequence[re.Match[str]], lengths: Sequence[int]) -> str:
    parts, at = [], 0
    for run, length in zip(runs, lengths, strict=True):
        parts += [word[at : run.start()], run[1] * length]
        at = run.end()
    return "".join([*parts, word[at:]])
