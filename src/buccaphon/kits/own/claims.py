"""What the names of drawings claim: sounds, rest, a look, or that they are no mouths. A list is read as a whole."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Final

import numpy as np

from buccaphon.kits.names import words
from buccaphon.kits.names.evidence import Evidence, Listing, read_names
from buccaphon.kits.names.reasons import Reason, Reasons
from buccaphon.kits.names.tokens import fold, parted, spelled, tokens, without_suffixes
from buccaphon.kits.own.drawing import Role
from buccaphon.kits.own.looks import FILE, LIPS, LOOKS, TEETH_ON_LIP, VOWELS, apart_in, look_alikes
from buccaphon.mouths.pose import Pose
from buccaphon.speech.articulation import letters_of
from buccaphon.speech.phones import SOUNDS, looks_like

_WORDS: Final = {name: frozenset(entry.split()) for name, entry in FILE["words"].items()}
FACE, GUIDE, OVER, PAPER = (_WORDS[name] for name in ("face", "guide", "over", "paper"))
NO_MOUTH: Final = words.NOT_A_MOUTH | _WORDS["no_mouth"]
_NEVER_A_MOUTH: Final = words.EYES_AND_BROWS | {"shadow", "guide", "sketch", "highlight"}  # whatever stands beside it
_WAYS: Final[dict[str, int]] = FILE["ways"]
_BACK_TO_LETTERS: Final = {sound: name for name, sound in words.LETTERS.items()} | {
    sound: name for name, sound in words.PAIRS.items()
}
_SPELLINGS: Final[dict[str, str]] = FILE["letters"] | FILE["pairs"]
_COMMON = 0.6  # of the names: what so many have tells none of them from the others
_LONGEST_SPELLED, _MOST_VOWELS = 8, 3  # consonants, and vowels, in a row
_BESIDE = 3  # mouths, that a word stands beside, until it is taken for a view or a mood
_SLIGHTLY, _HALF, _NOT_WIDE = 0.33, 0.4, 0.75  # how far the jaw is dropped: slightly, half open, open beside wide open
_SHUT_JAW, _BITES, _GATHERED = 0.06, 0.5, 0.25  # parts of a pose
_AMONG_TONGUES, _AMONG_TEETH, _BUT_WIDE = 0.6, 0.6, 0.6
_NOT_GATHERED = 0.2  # a sound with less rounding looks wrong with gathered lips,
_WRONGLY_GATHERED = 0.25  # so much more than by the distance alone
_NAMED_SHARE = 0.7  # of the distance to the nearest sound a drawing is for; the rest is that to its whole look
_OTHER_KIND = 0.12  # from a vowel to a consonant

Split = tuple[list[str], list[str]]


@dataclass
class Row:
    """What is known of one drawing. claims: the sounds it is named for, the first most of all. soft: those it shows where no
    other is named for them. pose: how it looks, by its words or its picture. closed: lips that may but touch. left_over: it
    is for all other sounds. ways: words for a mood, a view or a version. key: what it is a drawing of, without those."""

    name: str
    role: Role = Role.MOUTH
    claims: list[str] = field(default_factory=list)
    soft: list[str] = field(default_factory=list)
    pose: Pose | None = None
    rest: bool = False
    closed: bool = False
    left_over: bool = False
    why: Reasons = ()
    ways: tuple[str, ...] = ()
    key: str = ""
    for_mouth: bool = False

    @property
    def says(self) -> bool:
        """Whether anything is known of how it looks."""
        return bool(self.claims or self.rest or self.closed or self.left_over or self.pose is not None)

    @property
    def shut(self) -> bool:
        if self.claims:
            return all(sound in LIPS for sound in self.claims)
        pose = self.pose
        return self.rest or self.closed or (pose is not None and pose.jaw < _SHUT_JAW and pose.bite < _BITES)

    @property
    def bites(self) -> bool:
        if self.claims:
            return any(sound in TEETH_ON_LIP for sound in self.claims)
        return self.pose is not None and self.pose.bite >= _BITES

    @property
    def for_vowels(self) -> bool:
        """Whether it may show a vowel that none is named for: not what is drawn for tongue and teeth alone."""
        if self.claims:
            return any(sound in VOWELS for sound in self.claims)
        if self.left_over or self.pose is None:
            return not self.left_over
        shows_teeth = self.pose.teeth >= _AMONG_TEETH and self.pose.spread <= _BUT_WIDE
        return self.pose.tongue < _AMONG_TONGUES and not shows_teeth

    @property
    def look(self) -> Pose:
        """How it looks: as the sounds it is for, the first counting most; else by its words or its picture."""
        if self.claims:
            weights = [1 / (number + 1) for number in range(len(self.claims))]
            parts = np.average([LOOKS[sound].parts for sound in self.claims], axis=0, weights=weights)
            return Pose(*np.clip(parts, 0, 1).tolist())
        if self.pose is not None:
            return self.pose
        return Pose(spread=0.1) if self.rest or self.closed else Pose(jaw=0.36, spread=0.1, teeth=0.4)

    def away(self, sound: str) -> float:
        """How far it is from showing a sound."""
        look = self.look
        whole = apart_in(sound, LOOKS[sound], look)
        if LOOKS[sound].round < _NOT_GATHERED and look.round > _GATHERED:
            whole += _WRONGLY_GATHERED
        if not self.claims:
            return whole
        kind = sound in VOWELS
        near = min(apart_in(sound, LOOKS[sound], LOOKS[c]) + _OTHER_KIND * ((c in VOWELS) != kind) for c in self.claims)
        return _NAMED_SHARE * near + (1 - _NAMED_SHARE) * whole


@dataclass(frozen=True)
class _List:
    """What is known of all names together. common: pieces that most of them have. ways: words for moods and views in it."""

    listing: Listing
    common: frozenset[str]
    ways: frozenset[str]
    usual_length: float
    is_french: bool


def read_claims(names: Sequence[str]) -> list[Row]:
    """What each name of a list says, in its order. What says nothing is left a mouth, to be looked at."""
    read = read_names(list(names))
    cut = pieces_of(names)
    count = Counter(low for own in cut for low in {fold(raw) for raw in own})
    common = frozenset(low for low, n in count.items() if n >= max(2.0, _COMMON * len(names)))
    length = float(np.median([len(own) for own in cut])) if cut else 0.0
    whole = _List(read.listing, common, _ways_in(cut, common), length, bool(count.keys() & _WORDS["french"]))
    rows = [_read(told, own, whole) for told, own in zip(read.names, cut, strict=True)]
    _part_openings(rows)
    _share_e_and_i(rows, {fold(raw) for own in cut for raw in own})
    _part_ways(rows)
    return rows


def pieces_of(names: Sequence[str]) -> list[list[str]]:
    """The words, letters and numbers of each name, as they are written."""
    bare = without_suffixes([name.strip() for name in names])
    return [[raw for piece in tokens(name) for raw in parted(piece)] for name in bare]


# --- one name ---------------------------------------------------------------------------------------------------------


def _read(told: Evidence, own: list[str], whole: _List) -> Row:
    row = Row(told.name, key=told.name)
    lows = [fold(raw) for raw in own]
    row.for_mouth = bool(set(lows) & words.MOUTH)
    versions = [f"v{b}" for a, b in pairwise(lows) if a == "v" and b.isdigit()]
    row.ways = tuple(low for low in lows if low in whole.ways and low not in whole.common) + tuple(versions)
    if any(reason.id == "viseme" for reason in told.why):
        row.claims, row.rest, row.why = list(told.sounds), told.rest > 0, tuple(told.why)
        row.soft = list(look_alikes(row.claims))
        return row
    if all(low in row.ways or low in whole.common or low.isdigit() for low in lows):  # “front_neutral” rests
        row.ways = tuple(low for low in row.ways if low not in words.REST)
    telling = _telling(told, own, row, whole, has_version=bool(versions))
    bad = {fold(raw) for raw in telling} & NO_MOUTH
    if bad and not (told.mouth and not bad & _NEVER_A_MOUTH):
        row.role, row.why = role_of_words(bad), (Reason("no_mouth", (min(bad),)),)
        return row
    if not telling and own and not all(low.isdigit() for low in lows):
        if whole.listing not in (Listing.NUMBERS, Listing.ALPHABET) and len(own) < whole.usual_length:
            row.role, row.why = Role.FACE, (Reason("called_like_all"),)
        return row
    moods = [fold(raw) for raw in telling if _WAYS.get(fold(raw), 0) < 0]
    if moods and len(moods) == len(telling) and not set(moods) & words.POSES.keys():
        row.role, row.why = Role.OTHER_WAY, (Reason("another_way", (" ".join(moods),)),)
        return row
    if telling and whole.listing is not Listing.ALPHABET:
        _Telling(telling, own, told, whole).into(row)
    return row


def role_of_words(lows: set[str] | frozenset[str]) -> Role:
    """What a drawing is for that is called by words for something else than a mouth."""
    if lows & GUIDE:
        return Role.GUIDE
    if lows & (FACE | PAPER):
        return Role.FACE
    return Role.OVER if lows & OVER else Role.UNUSED


def _telling(told: Evidence, own: list[str], row: Row, whole: _List, *, has_version: bool) -> list[str]:
    """The pieces that say what this one is a drawing of."""

    def tells(raw: str) -> bool:
        low = fold(raw)
        if low.isdigit() or low in row.ways or (low == "v" and has_version):
            return False
        return low not in whole.common or low in words.POSES

    telling = [raw for raw in own if tells(raw)]
    if len(telling) > 1 and told.side and fold(telling[-1]) in words.LEFT | words.RIGHT:
        telling = telling[:-1]
    return telling


class _Telling:
    """The telling pieces of a name, and what they say one by one and together."""

    def __init__(self, telling: list[str], own: list[str], told: Evidence, whole: _List) -> None:
        self.telling, self.told, self.whole = telling, told, whole
        self.lows = {fold(raw) for raw in telling}
        self.all_lows = {fold(raw) for raw in own}
        self.parts: list[Split] = []
        self.pose: words.Parts = {}

    def into(self, row: Row) -> None:
        for raw in self.telling:
            self._read_piece(raw, row)
        row.claims, row.soft = _joined(self.parts)
        row.claims = [sound for sound in row.claims if sound in SOUNDS]
        if len(self.parts) > 1 and {"ɑ", "i"} <= set(row.claims) and {"a", "i"} <= self.lows:  # A and I together are aɪ
            row.claims = [sound for sound in row.claims if sound not in ("i", "ɪ")]
            row.soft += ["eɪ"]
        self._read_together(row)
        self._read_sizes(row)
        if row.rest:
            row.claims, row.soft = [], []
        elif self.pose and not row.claims:
            row.pose = Pose(**self.pose)
            shut = row.pose.jaw < 0.1 and max(row.pose.tongue, row.pose.teeth) < 0.3 and row.pose.spread < 0.5
            row.closed = (row.closed and shut) or (row.pose.press >= 0.4 and row.pose.jaw == 0)
        row.key = " ".join(row.claims) or ("rest" if row.rest else " ".join(sorted(self.lows)))
        row.why = self._why(row)

    def _why(self, row: Row) -> Reasons:
        text = " ".join(self.telling)
        if row.claims:
            return (Reason("sounds", (text, " ".join(row.claims))),)
        if row.rest:
            return (Reason("rest", (text,)),)
        if row.left_over:
            return (Reason("remainder", (text,)),)
        return (Reason("word", (text,)),) if row.says else ()

    def _read_piece(self, raw: str, row: Row) -> None:
        low, symbol = fold(raw), re.sub(r"\d$", "", raw).upper()
        look = FILE["poses"].get(low) or words.POSES.get(low) or words.POSES.get(f"{low}s")
        if low in words.REST or (low in ("x", "silent") and "rest" in self.lows):
            row.rest = True
        elif low in words.LEFT_OVER or low in _WORDS["consonants"]:
            row.left_over = True
        elif look is not None:
            for part, value in look.items():
                self.pose[part] = min(1.0, self.pose.get(part, 0.0) + value)
            row.closed |= low in words.CLOSED or look == {"press": 0.4}
        elif raw in words.KANA:
            row.rest |= raw in "んン"
            at = "あいうえお".find(raw)
            if at >= 0:
                self.parts.append(_split(FILE["letters"]["aiueo"[at]]))
        elif self.whole.listing is Listing.ARPABET and symbol in words.ARPABET.keys() | FILE["arpabet"].keys():
            sounds = FILE["arpabet"].get(symbol, words.ARPABET.get(symbol, "")).split()
            self.parts.append((sounds, list(look_alikes(sounds))))
        elif self.whole.listing is Listing.IPA and letters_of(raw) and len(raw.rstrip("ːˑ")) <= 2:
            sound = FILE["british"].get(raw.rstrip("ːˑ")) or looks_like(raw.rstrip("ːˑ"))
            self.parts.append(([sound], list(look_alikes([sound]))))
        elif low not in words.MOUTH | words.PLAIN | NO_MOUTH and (found := _claimed_by(raw)) is not None:
            self.parts.append(found)

    def _read_together(self, row: Row) -> None:
        """What words say only beside each other."""
        if self.told.pose and not row.claims and not row.rest and not row.ways:
            self.pose = dict(self.told.pose)
        self._read_openings(row)
        if self.lows & _WORDS["tongue"] and self.lows & _WORDS["tongue_out"]:
            row.claims, row.soft, self.pose = ["θ", "ð"], [], {}
        elif self.lows & _WORDS["teeth"] and self.all_lows & _WORDS["lip"] and not row.claims:
            row.claims, row.soft, self.pose = ["f", "v"], [], {}
        elif self.pose.get("tongue", 0) >= 0.9 and not row.claims:
            row.claims, row.soft, self.pose = ["l"], ["t", "d", "n", "θ", "ð"], {}

    def _read_openings(self, row: Row) -> None:
        """How far it is open, where a word says so beside one for open or closed lips; and what is wide in French."""
        if "large" in self.lows and self.whole.is_french:
            self.pose = {"spread": 1.0, "jaw": 0.3}
        jaw = self.pose.get("jaw", 0.0)
        if row.closed and not {"tongue", "teeth", "bite"} & self.pose.keys() and jaw < 1.0:
            self.pose = {"press": self.pose["press"]} if "press" in self.pose else {}  # “smile closed”: lips are shut
        elif jaw >= 1.0 and self.lows & _WORDS["narrower"]:
            self.pose["jaw"] = _SLIGHTLY
        elif jaw >= 1.0 and self.lows & _WORDS["halfway"]:
            self.pose["jaw"] = _HALF

    def _read_sizes(self, row: Row) -> None:
        """A small o is for u, a big one for ɔ."""
        if not {"ɔ", "oʊ"} & set(row.claims):
            return
        if self.lows & _WORDS["small"]:
            row.claims, row.soft, self.pose = ["u", "ʊ", "w"], ["ɹ"], {}
        elif self.lows & _WORDS["big"]:
            row.claims, row.soft, self.pose = ["ɔ"], ["oʊ", "ɔɪ"], {}


# --- letters ----------------------------------------------------------------------------------------------------------


def _claimed_by(raw: str) -> Split | None:
    """What a piece of letters claims: ee, mbp, LTh, aah, sss; None where it is a word."""
    low = fold(raw)
    if not (low.isascii() and low.isalpha()):
        return None
    doubled = re.sub(r"(.)\1+", r"\1\1", low)  # “ooo” and “ooh” are oo, “aaa” is a, “ahh” is ah
    drawn = (
        2 * low[0] if re.fullmatch(r"([aeiou])\1+h+", low) else f"{low[0]}h" if re.fullmatch(r"[aeiou]h+", low) else ""
    )
    alike = low[0] if len(set(low)) == 1 or drawn else ""
    spelling = next((each for each in (low, doubled, drawn, alike) if each in _SPELLINGS), "")
    vowels = set(low) & set("aeiou")
    if spelling:
        found = _split(_SPELLINGS[spelling])
    elif len(low) <= _MOST_VOWELS and not set(low) - vowels:
        found = _joined([_split(FILE["letters"][letter]) for letter in low])
    elif not vowels and len(low) <= _LONGEST_SPELLED:
        found = _joined([_claimed_by_sound(sound) for sound in spelled(raw)])
    else:
        return None
    return found


def _claimed_by_sound(sound: str) -> Split:
    name = _BACK_TO_LETTERS.get(sound, "")
    return _split(_SPELLINGS.get(name, sound))


def _split(text: str) -> Split:
    hard, _bar, soft = text.partition("|")
    return hard.split(), soft.split()


def _joined(parts: Sequence[Split]) -> Split:
    """Several letters together: the first sounds of each before their second ones."""
    most = max((len(hard) for hard, _soft in parts), default=0)
    order = [sound for number in range(most) for hard, _soft in parts for sound in hard[number : number + 1]]
    soft = [sound for _hard, more in parts for sound in more if sound not in order]
    return list(dict.fromkeys(order)), list(dict.fromkeys(soft))


def _part_openings(rows: list[Row]) -> None:
    """Where one is wide open, what is merely open is less so."""
    opened = [row for row in rows if row.pose is not None and row.pose.jaw >= 1.0]
    wide = [row for row in opened if {fold(raw) for raw in pieces_of([row.name])[0]} & _WORDS["wider"]]
    for row in opened if wide else ():
        if row not in wide and row.pose is not None:
            row.pose = replace(row.pose, jaw=_NOT_WIDE)


def _share_e_and_i(rows: list[Row], lows: set[str]) -> None:
    """Where no drawing is for i, one for E is for both."""
    if "i" in lows or any({"i", "ɪ"} & set(row.claims) for row in rows):
        return
    claimed = {sound for row in rows for sound in row.claims}
    for row in rows:
        if row.claims[:1] == ["ɛ"]:
            row.claims += [sound for sound in ("i", "ɪ", "j") if sound not in claimed]


# --- moods, views and versions ----------------------------------------------------------------------------------------


def _ways_in(cut: list[list[str]], common: frozenset[str]) -> frozenset[str]:
    """Words that part several drawings of one mouth: those known for it beside another word, and those that stand beside
    three mouths or more which are there without them, too. What says a sound or rest is never one."""
    lows = [tuple(fold(raw) for raw in own if fold(raw) not in common) for own in cut]
    found = {low for own in lows for low in own if low in _WAYS and sum(not x.isdigit() for x in own) > 1}
    own_lows = [tuple(x for n, x in enumerate(own) if not x.isdigit() or n == len(own) - 1 > 0) for own in lows]
    for low in {x for own in own_lows for x in own if not _claimed_by(x) and x not in words.REST}:
        beside = {tuple(x for x in own if x != low) for own in own_lows if low in own and len(own) > 1}
        without = {own[-1:] for own in own_lows if low not in own}
        if len(beside) >= _BESIDE and sum(rest[-1:] in without for rest in beside) >= _COMMON * len(beside):
            found.add(low)
    return frozenset(found)


def _part_ways(rows: list[Row]) -> None:
    """Of several drawings of one mouth the plain one is used: no mood, the front, the newest."""
    of_one: dict[str, list[Row]] = {}
    for row in rows:
        if row.role is Role.MOUTH and row.says:
            of_one.setdefault(row.key, []).append(row)
    for same in of_one.values():
        best = max(map(_rank, same))
        for row in same if any(row.ways for row in same) else ():
            if _rank(row) < best:
                row.role = Role.OTHER_WAY
                row.why = (Reason("another_way", (" ".join(row.ways),)) if row.ways else Reason("older"),)


def _rank(row: Row) -> tuple[int, int]:
    versions = [int(way[1:]) for way in row.ways if re.fullmatch(r"v\d{1,9}", way)]
    others = [_WAYS.get(way, -1) for way in row.ways if not re.fullmatch(r"v\d{1,9}", way)]
    return sum(others), max(versions, default=0)
