"""Splitting a name into its meaningful parts."""

from __future__ import annotations

import re
import unicodedata
from itertools import pairwise

from buccaphon.kits.names.words import DIGRAPHS, KNOWN, LETTERS, MOUTH, PAIRS

_SEAMS = re.compile(
    r"(?<=[a-zà-ÿ])(?=[A-Z])"  # camelCase
    r"|(?<=[A-Z])(?=[A-Z][a-zà-ÿ])"  # the end of CAPITALSBefore
    r"|(?<=[^\W\d_])(?=\d)|(?<=\d)(?=[^\W\d_])"  # letters and digits
)
_SEPARATORS = re.compile(r"[\s_\-./\\:|,;()\[\]{}+&#*]+")
_SUFFIX = re.compile(r"\.(png|svgz?|jpe?g|webp|ora|tiff?|tga|bmp|gif|psd|exr)$", re.IGNORECASE)
_WITHOUT_MARKS = str.maketrans({"ł": "l", "Ł": "L", "ß": "ss", "đ": "d"})  # letters that Unicode does not take apart
_SHORTEST_TOGETHER = 6  # letters
_MOST_CONSONANTS = 5  # letters without a vowel that may stand for sounds; more are an abbreviation
_VOWELS = frozenset("aeiou")
_LATIN_ENDS = 0x250  # beyond, a letter with a mark is another letter


def without_suffixes(names: list[str]) -> list[str]:
    """The names without a picture's suffix, where all of them have one: alone, “.BMP” may be three sounds."""
    if names and all(_SUFFIX.search(name) for name in names):
        return [_SUFFIX.sub("", name) for name in names]
    return names


def tokens(name: str) -> list[str]:
    """The pieces as they are written, cut at separators, capitals and digits; Unicode in composed form."""
    composed = unicodedata.normalize("NFC", name)
    return [piece for piece in _SEPARATORS.split(_SEAMS.sub(" ", composed)) if piece]


def parted(piece: str) -> list[str]:
    """A piece that is several known words written together, or a word for the mouth and a sound: mouthopen, kussmund, lipsoo.
    The piece alone when it is not that."""
    low = fold(piece)
    if len(low) < _SHORTEST_TOGETHER or low in KNOWN or len(low) != len(piece):
        return [piece]
    lengths = _words_in(low)
    if lengths is None:
        begin = max((len(word) for word in MOUTH if len(word) >= 3 and low.startswith(word)), default=0)
        rest = low[begin:]
        if not begin or not (
            rest in PAIRS or rest in LETTERS or (len(rest) <= _MOST_CONSONANTS and not set(rest) & _VOWELS)
        ):
            return [piece]
        lengths = (begin, len(low) - begin)
    ends = [sum(lengths[:number]) for number in range(len(lengths) + 1)]
    return [piece[start:end] for start, end in pairwise(ends)]


def _words_in(low: str) -> tuple[int, ...] | None:
    """The lengths of the known words that make up a piece, the longest first where there is a choice."""
    if not low:
        return ()
    for length in range(len(low), 1, -1):
        if low[:length] in KNOWN:
            rest = _words_in(low[length:])
            if rest is not None:
                return (length, *rest)
    return None


def fold(piece: str) -> str:
    """Lower case, without accents: for words. IPA keeps its own letters."""
    piece = piece.translate(_WITHOUT_MARKS)
    accented = any(unicodedata.decomposition(letter) and ord(letter) < _LATIN_ENDS for letter in piece)
    if not piece.isascii() and not accented:
        return piece.lower()
    parts = unicodedata.normalize("NFKD", piece)
    return "".join(letter for letter in parts if not unicodedata.combining(letter)).lower()


def bare(name: str) -> str:
    """All pieces of a name together, folded, without numbers."""
    return "".join(fold(piece) for piece in tokens(name) if not piece.isdigit())


def spelled(piece: str) -> list[str]:
    """A piece as several sounds in IPA: PBM, LTh, VF. Empty when it is not that."""
    left = piece.lower()
    if not (left.isascii() and left.isalpha()):
        return []
    found = []
    while left:
        two = left[:2]
        if two in DIGRAPHS:
            sound, left = PAIRS[two], left[2:]
        elif len(two) == 2 and two[0] == two[1]:
            sound, left = PAIRS.get(two, LETTERS[two[0]]), left[2:]
        else:
            sound, left = LETTERS[two[0]], left[1:]
        found.append(sound)
    return found
