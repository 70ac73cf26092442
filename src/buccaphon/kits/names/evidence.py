"""What each name of a list says of a mouth: its sounds, its pose, that it rests, or that it is no mouth at all.

A list is read as a whole first, since what one name says depends on the others: whether numbers count visemes, whether
letters are ARPAbet, which words are the same in all of them.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from buccaphon.choice import Choice
from buccaphon.kits.names import words
from buccaphon.kits.names.reasons import Reason
from buccaphon.kits.names.tokens import fold, parted, spelled, tokens, without_suffixes
from buccaphon.speech.articulation import letters_of
from buccaphon.texts import N_


class Listing(Choice):
    """What a list of names is as a whole."""

    LETTERS = "letters", N_("letters and words")
    IPA = "ipa", N_("the International Phonetic Alphabet")
    ARPABET = "arpabet", "ARPAbet"
    NUMBERS = "numbers", N_("consecutive numbers")
    ALPHABET = "alphabet", N_("consecutive letters")


@dataclass
class Evidence:
    """What one name says. pieces: as written. sounds: in IPA, the first weighs most. pose: parts, 0..1. rest: 0..1.
    closed: the lips may but touch. side: it is
    the left or right one of a pair. mouth: a word for the mouth is in it. never: it is no mouth. why: the reasons."""

    name: str
    pieces: list[str]
    sounds: list[str] = field(default_factory=list)
    pose: words.Parts = field(default_factory=dict)
    rest: float = 0.0
    closed: bool = False
    remainder: bool = False
    side: str = ""
    mouth: bool = False
    never: bool = False
    why: list[Reason] = field(default_factory=list)


@dataclass(frozen=True)
class ReadList:
    """names: what each says, in the list's order."""

    listing: Listing
    names: list[Evidence]


@dataclass(frozen=True)
class _Whole:
    """What is known of the list before its names are read. common: pieces that most names have.
    everywhere: that all have. runs: the number of each name
    that is told by nothing else. pairs: beginnings of names that go on with left and with right."""

    common: frozenset[str]
    everywhere: frozenset[str]
    arpabet: bool
    ipa: bool
    runs: dict[int, int]
    alphabet: bool
    numbered: bool
    pairs: frozenset[tuple[str, ...]]


@dataclass(frozen=True, slots=True)
class _Piece:
    raw: str
    low: str


def read_names(names: Sequence[str]) -> ReadList:
    """What the names of a host's list say."""
    pieces = [
        [_Piece(raw, fold(raw)) for piece in tokens(name) for raw in parted(piece)]
        for name in without_suffixes([name.strip() for name in names])
    ]
    whole = _look_at_all(pieces)
    found = [_read(name, own, number, whole) for number, (name, own) in enumerate(zip(names, pieces, strict=True))]
    if whole.alphabet:
        return ReadList(Listing.ALPHABET, found)
    if whole.numbered:
        return ReadList(Listing.NUMBERS, found)
    return ReadList(Listing.IPA if whole.ipa else Listing.ARPABET if whole.arpabet else Listing.LETTERS, found)


# --- the list as a whole ----------------------------------------------------------------------------------------------

_COMMON = 0.6  # of the names
_FEWEST_LETTERS = 4  # that make an alphabet; A, B, C alone may be anything


def _look_at_all(names: list[list[_Piece]]) -> _Whole:
    count = Counter(low for own in names for low in {piece.low for piece in own})
    least = max(2.0, _COMMON * len(names))
    common = frozenset(low for low, n in count.items() if n >= least)
    raw = {piece.raw for own in names for piece in own}
    runs = {}
    for number, own in enumerate(names):
        told = [piece.low for piece in own if piece.low not in common]
        last = own[-1].low if own and own[-1].low.isdigit() else told[0] if len(told) == 1 else ""
        if last.isdigit() and all(low.isdigit() for low in told):
            runs[number] = int(last)
    values = sorted(runs.values())
    numbered = len(runs) >= max(2.0, _COMMON * len(names)) and values == list(range(values[0], values[0] + len(values)))
    return _Whole(
        common=common,
        everywhere=frozenset(low for low, n in count.items() if n == len(names) > 1),
        arpabet=_is_arpabet(raw),
        ipa=any(set(each) & words.ONLY_IPA for each in raw),
        runs=runs,
        alphabet=_is_alphabet(names, common),
        numbered=numbered,
        pairs=frozenset(_pairs(names)),
    )


def _is_arpabet(pieces: set[str]) -> bool:
    found = pieces & words.ONLY_ARPABET
    return any(sum(map(cased, found)) >= 2 for cased in (str.isupper, str.islower))


def _is_alphabet(names: list[list[_Piece]], common: frozenset[str]) -> bool:
    told = [[piece.low for piece in own if piece.low not in common] for own in names]
    letters = sorted(own[0] for own in told if len(own) == 1 and len(own[0]) == 1 and "a" <= own[0] <= "z")
    unbroken = letters == [chr(ord("a") + number) for number in range(len(letters))]
    return unbroken and len(letters) == len(names) >= _FEWEST_LETTERS


def _pairs(names: list[list[_Piece]]) -> Iterable[tuple[str, ...]]:
    sides: dict[tuple[str, ...], set[bool]] = {}
    for own in names:
        if own and own[-1].low in words.LEFT | words.RIGHT:
            sides.setdefault(tuple(piece.low for piece in own[:-1]), set()).add(own[-1].low in words.LEFT)
    return (stem for stem, both in sides.items() if len(both) == 2)


# --- one name ---------------------------------------------------------------------------------------------------------


def _read(name: str, own: list[_Piece], number: int, whole: _Whole) -> Evidence:
    found = Evidence(name, [piece.raw for piece in own])
    if own and own[-1].low in words.LEFT | words.RIGHT:
        alone = len(own[-1].low) > 1 or tuple(piece.low for piece in own[:-1]) in whole.pairs
        if alone:  # else “Tongue_L” is the sound l
            found.side = "left" if own[-1].low in words.LEFT else "right"
            own = own[:-1]
    lows = {piece.low for piece in own}
    found.mouth = any(low in words.MOUTH or f"{low}s" in words.MOUTH for low in lows)
    other = any(low in words.NOT_A_MOUTH and low not in whole.common for low in lows)
    found.never = other and (not found.mouth or bool(lows & words.EYES_AND_BROWS))
    if _is_viseme(own, number, whole):
        _read_viseme(found, whole.runs[number] - min(whole.runs.values()))
    elif (unit := _action_unit(own)) is not None:
        found.pose, found.never = dict(words.ACTION_UNITS.get(unit, {})), unit not in words.ACTION_UNITS
        found.why.append(Reason("action_unit", (str(unit),)))
    elif not whole.alphabet:
        telling = _telling(own, whole)
        for piece in telling:
            _read_piece(found, piece, whole)
        _read_together(found, {piece.low for piece in telling}, lows)
    return found


def _is_viseme(own: list[_Piece], number: int, whole: _Whole) -> bool:
    counted = whole.numbered and number in whole.runs and len(whole.runs) == len(words.MPEG4_VISEMES)
    return counted and any(piece.low.startswith(words.NUMBERED_VISEMES) for piece in own)


def _read_viseme(found: Evidence, number: int) -> None:
    found.sounds = list(words.MPEG4_VISEMES[number])
    found.rest = 0.0 if number else 1.0
    found.why.append(Reason("viseme", (str(number),)))


def _action_unit(own: list[_Piece]) -> int | None:
    return next((int(b.low) for a, b in pairwise(own) if a.low == "au" and b.low.isdigit() and b.low.isascii()), None)


def _telling(own: list[_Piece], whole: _Whole) -> list[_Piece]:
    """The pieces that tell one name from the others; what is a word for a mouth tells even where most have it."""
    strong = (words.POSES.keys() | words.REST) - whole.everywhere
    telling = [p for p in own if p.low in strong or (p.low not in whole.common and not p.low.isdigit())]
    version = {  # v2 is one, and not the sound v
        number for number, (a, b) in enumerate(pairwise(own)) if a.low == "v" and b.low.isdigit()
    }
    telling = [p for p in telling if own.index(p) not in version]
    if not telling and len(own) == 1 and not own[0].low.isdigit():
        return list(own)
    return telling


def _read_piece(found: Evidence, piece: _Piece, whole: _Whole) -> None:
    raw, low = piece.raw, piece.low
    pose = words.POSES.get(low) or words.POSES.get(f"{low}s")
    if low in words.REST:
        found.rest = max(found.rest, 1.0 if low in words.SUREST_REST else 0.9)
        found.why.append(Reason("rest", (raw,)))
    elif low in words.LEFT_OVER:
        found.remainder = True
        found.why.append(Reason("remainder", (raw,)))
    elif pose is not None:
        for part, value in pose.items():
            found.pose[part] = min(1.0, found.pose.get(part, 0.0) + value)
        found.why.append(Reason("word", (raw,)))
    elif low not in words.MOUTH | words.NOT_A_MOUTH | words.PLAIN:
        sounds = _sounds_of(raw, low, whole)
        if sounds:
            found.sounds += sounds
            found.why.append(Reason("sounds", (raw, " ".join(sounds))))


def _sounds_of(raw: str, low: str, whole: _Whole) -> list[str]:
    unstressed, short = re.sub(r"\d$", "", raw).upper(), raw.rstrip("ːˑ")
    if raw in words.KANA:
        found = [words.KANA[raw]]
    elif whole.arpabet and unstressed in words.ARPABET:
        found = [words.ARPABET[unstressed]]
    elif whole.ipa and _is_ipa(short):
        found = [short]
    elif low in words.PAIRS:
        found = [words.PAIRS[low]]
    elif low in words.LETTERS:
        found = [words.LETTERS[low]]
    else:
        vowels = set(low) & set("aeiou")
        all_alike = not vowels or not set(low) - set("aeiou")
        several = all_alike and (len(low) <= 5 or (len(low) == 6 and raw.isupper()))
        found = spelled(raw) if several else []
    return found


def _is_ipa(piece: str) -> bool:
    if not 0 < len(piece) <= 3 or not letters_of(piece):
        return False
    return bool(set(piece) & words.ONLY_IPA) or len(piece) == 1 or piece in words.IPA_PAIRS


def _read_together(found: Evidence, telling: set[str], lows: set[str]) -> None:
    """What words say only beside each other."""
    met = telling | ({"jaw", "mouth"} & lows)
    found.closed = bool(met & words.CLOSED)
    for groups, pose, letters_are_places in words.PHRASES:
        if all(met & group for group in groups):
            found.pose = dict(pose)
            found.sounds = [] if letters_are_places else found.sounds  # bottom and top
            break
    sizes = telling & words.ALONE.keys()
    if sizes and not found.sounds and not telling & (words.POSES.keys() - words.ALONE.keys()):
        found.pose = dict(words.ALONE[min(sizes)])
        found.why = found.why or [Reason("word", (min(sizes),))]
    sideways = bool({"left", "right", "forward", "side"} & telling)
    if sideways and "jaw" in lows:
        found.pose, found.never = {}, True
    if sideways and {"left", "right"} & telling and {"mouth", "mth"} & lows and not found.pose:
        found.never = True
