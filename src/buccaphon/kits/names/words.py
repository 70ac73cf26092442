"""What words, letters and numbers in a host's names say, as `words.toml` has it."""

from __future__ import annotations

import tomllib
from importlib import resources
from typing import Any, Final

from buccaphon.speech.phones import SOUNDS

Parts = dict[str, float]  # of a pose

_FILE: Final[dict[str, Any]] = tomllib.loads(
    resources.files("buccaphon.kits.names").joinpath("words.toml").read_text("utf-8")
)


def _words(name: str) -> frozenset[str]:
    return frozenset(_FILE[name].split())


def _poses(name: str) -> dict[str, Parts]:
    return {word: entry["parts"] for entry in _FILE[name] for word in entry["words"].split()}


def _sounds(name: str) -> dict[str, str]:
    cells = _FILE["sounds"][name].split()
    return dict(zip(cells[::2], cells[1::2], strict=True))


SUREST_REST = _words("surest_rest")
REST = SUREST_REST | _words("rest")
LEFT_OVER = _words("left_over")
CLOSED = _words("closed")  # what may rest, too
POSES = _poses("pose")
ALONE = _poses("alone")  # where no other word says more
MOUTH = _words("mouth")
EYES_AND_BROWS = _words("eyes_and_brows")
NOT_A_MOUTH = EYES_AND_BROWS | _words("not_a_mouth")
PLAIN = _words("plain")  # say nothing by themselves
LEFT, RIGHT = _words("left"), _words("right")
NUMBERED_VISEMES = ("vis", "mpeg", "fap", "phn", "phon")  # how a word begins beside which numbers are those of MPEG-4

LETTERS, PAIRS, KANA = _sounds("letters"), _sounds("pairs"), _sounds("kana")
DIGRAPHS = _words("digraphs")
ARPABET = {sound.arpabet: ipa for ipa, sound in SOUNDS.items()} | {"AH": "ʌ", "AX": "ə", "ER": "ɝ"}
ONLY_ARPABET = _words("only_arpabet") | _words("only_arpabet_small")
ONLY_IPA = frozenset("əɑɔʃʒŋθðæʌɛɪʊɝɚɹɡøœɯɲɾʁɐɒ")
IPA_PAIRS = _words("ipa_pairs")

# ISO/IEC 14496-2, viseme_select 0 to 14; the first is none.
MPEG4_VISEMES: tuple[tuple[str, ...], ...] = (
    (), ("p", "b", "m"), ("f", "v"), ("θ", "ð"), ("t", "d"), ("k", "ɡ"), ("tʃ", "dʒ", "ʃ"), ("s", "z"), ("n", "l"), ("ɹ",),
    ("ɑ",), ("ɛ",), ("ɪ",), ("ɔ",), ("ʊ",),
)  # fmt: skip
ACTION_UNITS: dict[int, Parts] = {int(number): parts for number, parts in _FILE["action_units"].items()}

# Groups of words of which one of each must be there, what they say together, and whether letters beside them are places.
PHRASES: tuple[tuple[tuple[frozenset[str], ...], Parts, bool], ...] = tuple(
    (tuple(frozenset(g.split()) for g in entry["groups"]), entry["parts"], entry.get("letters_are_places", False))
    for entry in _FILE["phrase"]
)

_ALL_WORDS = POSES.keys() | REST | MOUTH | NOT_A_MOUTH | PLAIN | LEFT_OVER
# What may be told in a word that is several written together.
KNOWN = frozenset(word for word in _ALL_WORDS if len(word) >= 3) | {"left", "right", "up"}
