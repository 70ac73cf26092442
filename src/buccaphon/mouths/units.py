"""Which mouth each sound asks for, and when: sounds with their mouths, as the lips really move, and pauses."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.passages import Passage
from buccaphon.mouths.settings import DEFAULT_LEAD, MouthSettings, SettingsTrack
from buccaphon.score.records import Word
from buccaphon.speech.phones import PAUSE, is_vowel, looks_like

OPENING = 0.06  # seconds before the first sound in which the mouth may leave rest
_STRESS = 1.35  # how much more a stressed vowel wants to be seen (docs/mouths.md)
_TOUCH = 1e-6  # seconds; sounds nearer to each other have no pause between
_LEAST = 0.02  # seconds that every sound wants to be seen
_BURST = 0.5  # voiceless stops open so far before their end, as a share of their length
_VOICELESS = frozenset({"p", "t", "k", "tʃ"})

# Sounds that move from one mouth to another while they last: parts and their shares of the time.
_GLIDES = {
    "aɪ": (("ɑ", 0.6), ("ɪ", 0.4)),
    "aʊ": (("ɑ", 0.6), ("ʊ", 0.4)),
    "ɔɪ": (("ɔ", 0.6), ("ɪ", 0.4)),
    "oʊ": (("oʊ", 0.65), ("ʊ", 0.35)),
}

# Of sounds that look alike: seconds that the mouth is made before the sound and left before its end, and how much it weighs
# when only what reads is shown, and when every sound is. Found against an articulatory synthesizer and lines that read; see
# docs/mouths.md.
_GROUPS: tuple[tuple[str, float, float, float, float], ...] = (
    ("p b m", 0.040, 0.005, 3.0, 3.0),
    ("f v", 0.040, 0.015, 3.0, 3.0),
    ("u ʊ w oʊ ɔ ɔɪ", 0.065, 0.015, 1.1, 1.3),
    ("ɑ æ ɛ eɪ i ɪ aɪ aʊ", 0.030, 0.015, 1.0, 1.2),
    ("ʌ ə ɝ ɚ", 0.020, 0.015, 0.95, 1.2),
    ("ʃ ʒ tʃ dʒ", 0.070, 0.030, 0.85, 1.6),
    ("ɹ", 0.040, 0.015, 0.65, 1.6),
    ("s z", 0.040, 0.035, 0.60, 1.8),
    ("θ ð", 0.040, 0.030, 0.70, 1.8),
    ("t d n", 0.035, 0.035, 0.35, 1.8),
    ("l", 0.035, 0.035, 0.50, 1.8),
    ("k ɡ ŋ h", 0.030, 0.040, 0.15, 1.4),
    ("j", 0.050, 0.040, 0.55, 1.4),
)
_OF_SOUND = {sound: number for number, (group, *_) in enumerate(_GROUPS) for sound in group.split()}
_LOOKS = tuple(look[1:] for look in _GROUPS)
_QUIET = 1.6  # weight of a pause that comes to rest
_TONGUE = frozenset(("s", "z", "θ", "ð", "t", "d", "n", "l", "k", "ɡ", "ŋ", "h"))


class Unit(NamedTuple):
    """A sound, a part of one that glides, or a pause.

    symbol: '' for a pause. mouth: its number in the chart. start, end: seconds of the sound. on, off: seconds from when to
    when it wants to be seen. weight: per second and unit of visible distance, 0 for a pause that holds what was before.
    stressed: of a vowel, where it begins.
    """

    symbol: str
    mouth: int
    start: float
    end: float
    on: float
    off: float
    weight: float
    stressed: bool


@dataclass(frozen=True, slots=True)
class _Part:
    """A part of a sound: its symbol and mouth, until which share of the sound it lasts, seconds that its mouth is made before
    it and left before its end, what share of it is left out at its end, and its weights."""

    symbol: str
    mouth: int
    until: float
    lead: float
    lag: float
    burst: float
    weight: float
    stressed_weight: float
    vowel: bool


class _Looks(dict[str, tuple[_Part, ...]]):
    """The parts of each sound in a chart and settings, found when they are asked for."""

    def __init__(self, chart: Chart, settings: MouthSettings) -> None:
        super().__init__()
        self._chart, self._settings = chart, settings
        self.rests = chart.rests

    def __missing__(self, symbol: str) -> tuple[_Part, ...]:
        found, until = [], 0.0
        for part, share in _GLIDES.get(symbol, ((symbol, 1.0),)):
            until += share
            found.append(self._part(part, until, is_vowel(symbol)))
        self[symbol] = tuple(found)
        return self[symbol]

    def _part(self, symbol: str, until: float, vowel: bool) -> _Part:
        alike, settings = looks_like(symbol), self._settings
        lead, lag, reads, every = _LOOKS[_OF_SOUND[alike]]
        weight = reads + settings.detail * (every - reads)
        if alike in _TONGUE and not settings.skip_quick_sounds:
            weight = max(weight, every)
        earlier = settings.lead - DEFAULT_LEAD
        burst = _BURST if alike in _VOICELESS else 0.0
        mouth = self._chart.answer(symbol)
        return _Part(symbol, mouth, until, lead + earlier, lag + earlier, burst, weight, _STRESS * weight, vowel)


@lru_cache(maxsize=32)
def _looks_in(chart: Chart, settings: MouthSettings) -> _Looks:
    return _Looks(chart, settings)


class Said(NamedTuple):
    """What wants to be seen of a word and of the pause before it. at: the second at which the sound before the word ends.
    quiet: whether nothing is said before it. until: the second at which its last sound ends. stressed: those of its units.
    spoken: seconds of its sounds."""

    word: Word
    at: float
    quiet: bool
    units: list[Unit]
    until: float
    stressed: list[Unit]
    spoken: float


def said_in(passage: Passage, chart: Chart, mouth_settings: SettingsTrack, before: Sequence[Said] = ()) -> list[Said]:
    """The words of a passage. before: those of an earlier one, in the same chart and settings; as many words or none."""
    looks = {settings: _looks_in(chart, settings) for settings in mouth_settings.all}
    found: list[Said] = []
    at, quiet = passage.begin, True  # at its rims a passage comes to rest
    for number, word in enumerate(passage.words):
        if before and before[number][:3] == (word, at, quiet):
            said = before[number]
        else:
            units, until = _units_in(word, at, quiet, looks, mouth_settings)
            spoken = sum(phone.end - phone.start for phone in word.phones)
            said = Said(word, at, quiet, units, until, [unit for unit in units if unit.stressed], spoken)
        found.append(said)
        at, quiet = said.until, False
    return found


def _units_in(
    word: Word, at: float, quiet: bool, looks: Mapping[MouthSettings, _Looks], mouth_settings: SettingsTrack
) -> tuple[list[Unit], float]:
    found: list[Unit] = []
    everywhere = looks[mouth_settings.everywhere]
    for phone in word.phones:
        start, end = phone.start, phone.end
        if start > at + _TOUCH:
            found.append(_pause(at, start, everywhere.rests, mouth_settings, quiet=quiet))
        quiet = False
        parts = (looks[mouth_settings.at((start + end) / 2)] if mouth_settings.here else everywhere)[phone.symbol]
        begin = start
        for part in parts:
            until = min(start + part.until * (end - start), end)
            strong = part.vowel and phone.stress == 1
            on = begin - part.lead
            off = max(until - part.lag - part.burst * (until - begin), on + _LEAST)
            weight = part.stressed_weight if strong else part.weight
            found.append(Unit(part.symbol, part.mouth, begin, until, on, off, weight, strong and begin == start))
            begin = until
        at = end
    return found, at


def units_of(passage: Passage, said: Sequence[Said], chart: Chart, mouth_settings: SettingsTrack) -> list[Unit]:
    """All that wants to be seen of a passage, in order. said: its words."""
    found = [unit for each in said for unit in each.units]
    at = said[-1].until if said else passage.begin
    if passage.until > at + _TOUCH:
        found.append(_pause(at, passage.until, chart.rests, mouth_settings, quiet=True))
    return found


def _pause(start: float, end: float, rests: int, mouth_settings: SettingsTrack, *, quiet: bool) -> Unit:
    settings = mouth_settings.at((start + end) / 2)
    earlier = settings.lead - DEFAULT_LEAD
    weight = _QUIET if quiet or end - start >= settings.pause else 0.0
    return Unit(PAUSE, rests, start, end, start - earlier, end - OPENING - earlier, weight, False)
