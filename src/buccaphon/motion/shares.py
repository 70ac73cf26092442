"""How much of which sound the mouth shows at any moment: vowels on a tier of their own, consonants as gates over it.

After S. Öhman, "Numerical model of coarticulation" (1967): the vowels go on under the consonants, which is where
anticipation comes from. Moves are minimum-jerk steps (Flash and Hogan 1985), which reach their ends exactly: silence is
exactly closed. For every moment the shares sum to 1, so whatever is blended by them never overshoots.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Bools, Doubles, held
from buccaphon.motion.targets import BITE, KINDS, LIPS, REST, VOWEL, Piece, Timing, pieces_of
from buccaphon.score.records import Phone
from buccaphon.speech.phones import PAUSE

LONG_PAUSE = 0.22  # seconds; in a shorter one the mouth goes on to the next vowel
REACH = 0.7  # seconds: no sound is felt further away than this
_CLOSING, _OPENING = 0.14, 0.14  # seconds that the way to rest takes, and that opening begins before the first sound
_LEAST_RISE = 0.02  # seconds
_NO_VOWELS = ("w", "ɹ")  # consonants on the tier of the vowels
_VOWELS, _CONSONANTS = 3, 5  # the newest that can be at work at once
_LONG_AGO = -1e9  # seconds: before anything

Numbers = npt.NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Line:
    """Sounds in order, glides parted, with the pauses between them: (n,) of each. pieces: all kinds of them that there are,
    of: which of these each is. target: (n, 6). rests: whether the mouth goes to rest in it. stress: 1 of stressed vowels, -1
    of weak ones, else 0."""

    pieces: Sequence[Piece]
    of: Numbers
    start: Doubles
    end: Doubles
    kind: Numbers
    target: Doubles
    voiceless: Bools
    rests: Bools
    stress: Doubles


def line_of(phones: Sequence[Phone], before: float, after: float) -> Line:
    """phones: in order, pauses left out. before, after: seconds where silence begins before the first of them and ends after
    the last."""
    pieces, by_symbol = list[Piece](), dict[str, list[tuple[int, float, bool]]]()
    found = list[tuple[int, float, float, float]]()

    def add(symbol: str, start: float, end: float, stress: float = 0.0) -> None:
        if symbol not in by_symbol:
            made = pieces_of(symbol)
            by_symbol[symbol] = [(len(pieces) + n, each.share, each.kind == VOWEL) for n, each in enumerate(made)]
            pieces.extend(made)
        at = start
        for number, share, vowel in by_symbol[symbol]:
            until = at + share * (end - start)
            found.append((number, at, until, stress if vowel else 0.0))
            at = until

    said = before
    for phone in phones:
        if phone.start > said:
            add(PAUSE, said, phone.start)
        add(phone.symbol, phone.start, phone.end, 0.0 if phone.symbol in _NO_VOWELS else 1.0 if phone.stress else -1.0)
        said = phone.end
    add(PAUSE, said, max(after, said + LONG_PAUSE))
    which, start, end, stress = np.array(found).T.copy()
    of = which.astype(np.int64)
    kind = np.array([piece.kind for piece in pieces]).take(of)
    target = np.array([piece.target for piece in pieces]).take(of, axis=0)
    rests = (kind == REST) & (end - start >= LONG_PAUSE)
    rests[[0, -1]] |= kind[[0, -1]] == REST
    voiceless = np.array([piece.voiceless for piece in pieces]).take(of)
    return Line(pieces, of, start, end, kind, target, voiceless, rests, stress)


def step(x: Doubles) -> Doubles:
    """The minimum-jerk step: 0 up to 0, 1 from 1 on."""
    x = held(x)
    found: Doubles = x * x * x * (10 + x * (6 * x - 15))
    return found


@dataclass(frozen=True, eq=False)
class Shares:
    """At some moments, by each of some timings. which: (slots, timings, frames) numbers of sounds. much: the same shape, how
    much of each there is; a moment's sum to 1."""

    which: Numbers
    much: Doubles

    def blend(self, timing: int, values: Doubles) -> Doubles:
        """(frames, k) of k values that each of the sounds has, (n, k), by the timing of that number."""
        parts = values.take(self.which[:, timing], axis=0) * self.much[:, timing, :, None]
        found: Doubles = parts[0]
        for part in parts[1:]:  # slot by slot: a frame's sum has one order, alone or among many
            found += part
        return found


def shares_of(line: Line, times: Doubles, timings: Sequence[Timing], gates: Gates) -> Shares:
    """times: (frames,) rising seconds, at least one. gates: those of the timings."""
    which, much = _vowel_tier(line, times, timings)
    if not gates.sound.size:
        return Shares(which, much)
    newest = _newest(gates.on, times)
    back = newest - np.arange(1, _CONSONANTS + 1)[:, None, None]
    gate = _flat(np.maximum(back, 0), gates.on.shape[1])
    on, off, weight = gates.on.take(gate), gates.off.take(gate), gates.weight.take(gate)
    rising, falling = 1 / (gates.full - gates.on), 1 / (gates.gone - gates.off)
    risen, fallen = step((times - on) * rising.take(gate)), step((times - off) * falling.take(gate))
    shown = risen * (1 - fallen) * weight * (back >= 0)
    left, total = 1 - shown[0], shown[0] + 1e-9
    for each in shown[1:]:
        left *= 1 - each
        total += each
    return Shares(
        np.concatenate([which, gates.sound.take(gate)]), np.concatenate([much * left, shown * ((1 - left) / total)])
    )


def _newest(begins: Doubles, times: Doubles) -> Numbers:
    """(timings, frames) how many of the things that begin then, (timings, n) rising seconds, have begun at each time."""
    return np.array([row.searchsorted(times, side="right") for row in begins])


def _flat(number: Numbers, count: int) -> Numbers:
    """Numbers (…, timings, frames) below a count as those of rows that lie one behind the other."""
    found: Numbers = number + (count * np.arange(number.shape[-2]))[:, None]
    return found


def _vowel_tier(line: Line, times: Doubles, timings: Sequence[Timing]) -> tuple[Numbers, Doubles]:
    lead, rise = (np.array(column)[:, None] for column in zip(*(timing.vowels for timing in timings), strict=True))
    tier = np.flatnonzero((line.kind == VOWEL) | line.rests)
    before, after = tier[:-1], tier[1:]
    to_rest, from_rest = line.rests[after], line.rests[before]
    first_sound = line.start[np.minimum(before + 1, len(line.start) - 1)]
    on = np.where(from_rest, first_sound - _OPENING, np.where(to_rest, line.start[after], line.end[before] - lead))
    takes = np.where(to_rest, _CLOSING, rise)
    first = np.ones((len(timings), 1))
    begins = np.concatenate([_LONG_AGO * first, np.maximum.accumulate(on, axis=1)], axis=1)
    slope = 1 / np.concatenate([first, takes], axis=1)
    back = _newest(begins, times) - np.arange(1, _VOWELS + 1)[:, None, None]
    number = np.maximum(back, 0)
    flat = _flat(number[:-1], begins.shape[1])
    reached = np.ones(back.shape)
    reached[:-1] = step((times - begins.take(flat)) * slope.take(flat))
    reached[back < 0] = 1
    np.maximum.accumulate(reached, axis=0, out=reached)  # the newest first; an older one never shows before it
    reached[1:] -= reached[:-1].copy()
    return tier.take(number), reached


@dataclass(frozen=True, eq=False)
class Gates:
    """When each consonant begins to show, is there in full, begins to go, and is gone: (timings, consonants) seconds, in the
    order in which they begin to. sound: its number in the line. weight: how far it hides the vowels."""

    sound: Numbers
    on: Doubles
    full: Doubles
    off: Doubles
    gone: Doubles
    weight: Doubles


@lru_cache(maxsize=8)
def _by_kind(timings: tuple[Timing, ...]) -> tuple[Doubles, Doubles, Doubles, Doubles, Doubles, Doubles]:
    """Of each timing for each kind of sound, (timings, kinds): lead, rise, lag and fall in seconds; how far it hides the
    vowels; and (timings, 1) the share of a voiceless one that is its burst."""
    at_lips = np.arange(len(KINDS)) <= BITE
    lips, plain = (np.array([getattr(t, name) for t in timings]).T[:, :, None] for name in ("lips", "consonants"))
    lead, rise, lag, fall = np.where(at_lips, lips, plain)
    return lead, rise, lag, fall, np.array([t.hides for t in timings]), np.array([[t.burst] for t in timings])


def gates_of(line: Line, timings: Sequence[Timing]) -> Gates:
    """Of every consonant. A gate's rise always ends before it falls, so that it reaches all that it is to."""
    interpolation, rises, lags, falls, hides, burst = _by_kind(tuple(timings))
    sound = np.flatnonzero(line.kind >= LIPS)
    # lips may begin before what is said before them
    order = np.argsort(line.start[sound] - interpolation[:, line.kind[sound]], axis=1, kind="stable")
    sound = sound[order]
    start, end = line.start[sound], line.end[sound]
    of = _flat(line.kind[sound], len(KINDS))
    on = start - interpolation.take(of)
    full = on + rises.take(of)
    off = end - lags.take(of) - line.voiceless[sound] * burst * (end - start)
    gone = off + falls.take(of)
    middle = np.minimum(np.maximum((full + off) / 2, on + _LEAST_RISE), gone - _LEAST_RISE)
    short = full > off
    return Gates(sound, on, np.where(short, middle, full), np.where(short, middle, off), gone, hides.take(of))
