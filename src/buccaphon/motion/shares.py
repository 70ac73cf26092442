"""How much of which sound the mouth shows at any moment: vowels on a tier of their own, consonants as gates over it.

After S. Öhman, "Numerical model of coarticulation" (1967): the vowels go on under the consonants, which is where
anticipation comes from. Moves are minimum-jerk steps (Flash and Hogan 1985), which reach their ends exactly: silence is
exactly closed. For every moment the shares sum to 1, so whatever is blended by them never overshoots.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Bools, Doubles
from buccaphon.motion.targets import BITE, JAW, LIPS, PARTS, REST, VOWEL, Timing, pieces_of
from buccaphon.score.records import Phone
from buccaphon.speech.phones import PAUSE

LONG_PAUSE = 0.22  # seconds; in a shorter one the mouth goes on to the next vowel
REACH = 1.2  # seconds: no sound is felt further away than this
_CLOSING, _OPENING = 0.14, 0.14  # seconds that the way to rest takes, and that opening begins before the first sound
_LEAST_RISE = 0.02  # seconds
_NO_VOWELS = ("w", "ɹ")  # consonants on the tier of the vowels
_VOWELS, _CONSONANTS = 3, 5  # the newest that can be at work at once
_LONG_AGO = -1e9  # seconds: before anything

Numbers = npt.NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Line:
    """Sounds in order, glides parted, with the pauses between them. target: (n, 6). rests: (n,) whether the mouth goes to
    rest in it. stress: (n,) 1 of stressed vowels, -1 of weak ones, else 0."""

    start: Doubles
    end: Doubles
    kind: Numbers
    target: Doubles
    voiceless: Bools
    rests: Bools
    stress: Doubles

    def is_kind(self, kind: int) -> Doubles:
        """(n,) 1 where a sound is of a kind, else 0."""
        found: Doubles = np.equal(self.kind, kind).astype(np.float64)
        return found


def line_of(phones: Sequence[Phone], before: float, after: float) -> Line:
    """phones: in order, pauses left out. before, after: seconds where silence begins before the first of them and ends after
    the last."""
    starts, ends, kinds, targets, voiceless, stresses = [], [], list[int](), [], [], list[float]()

    def add(symbol: str, start: float, end: float, stress: int = 0) -> None:
        at = start
        for piece in pieces_of(symbol):
            until = at + piece.share * (end - start)
            starts.append(at)
            ends.append(until)
            kinds.append(piece.kind)
            targets.append(piece.target)
            voiceless.append(piece.voiceless)
            stresses.append(0.0 if piece.kind != VOWEL or symbol in _NO_VOWELS else 1.0 if stress else -1.0)
            at = until

    said = before
    for phone in phones:
        if phone.start > said:
            add(PAUSE, said, phone.start)
        add(phone.symbol, phone.start, phone.end, phone.stress)
        said = phone.end
    add(PAUSE, said, max(after, said + LONG_PAUSE))
    start, end, kind = np.array(starts), np.array(ends), np.array(kinds)
    target = np.array(targets)
    hides = np.array(JAW.hides)
    target[:, PARTS.index("tongue")] /= hides[kind]  # the tongue goes all the way where the jaw goes half of it
    rests = (kind == REST) & (end - start >= LONG_PAUSE)
    rests[[0, -1]] |= kind[[0, -1]] == REST
    return Line(start, end, kind, target, np.array(voiceless), rests, np.array(stresses))


def step(x: Doubles) -> Doubles:
    """The minimum-jerk step: 0 up to 0, 1 from 1 on."""
    held = np.clip(x, 0, 1)
    found: Doubles = held * held * held * (10 + held * (6 * held - 15))
    return found


@dataclass(frozen=True, eq=False)
class Shares:
    """which: (slots, frames) numbers of sounds. much: (slots, frames) how much of each there is; a moment's sum to 1."""

    which: Numbers
    much: Doubles

    def blend(self, values: Doubles) -> Doubles:
        """(frames,) of values that the sounds (n,) have."""
        found = np.zeros(self.much.shape[1])
        for much, which in zip(
            self.much, self.which, strict=True
        ):  # slot by slot: a frame's sum has one order, alone or among many
            found += much * values[which]
        return found


def shares_of(line: Line, times: Doubles, timing: Timing) -> Shares:
    """times: (frames,) rising seconds."""
    if not len(times):
        return Shares(np.zeros((1, 0), np.int64), np.zeros((1, 0)))
    t = times  # in double precision: a moment has the same shares in whatever stretch it is asked for
    which, much = _vowel_tier(line, t, timing)
    gates = gates_of(line, timing)
    if not len(gates.sound):
        return Shares(np.stack(which), np.stack(much))
    on, off, weight = gates.on, gates.off, gates.weight
    rising, falling = 1 / (gates.full - gates.on), 1 / (gates.gone - gates.off)
    newest = np.searchsorted(on, t, side="right")
    left, total = np.ones(len(t)), np.full(len(t), 1e-9)
    shown = []
    for back in range(1, _CONSONANTS + 1):
        gate = newest - back
        there = gate >= 0
        gate = np.maximum(gate, 0)
        risen, fallen = step((t - on[gate]) * rising[gate]), step((t - off[gate]) * falling[gate])
        open_ = risen * (1 - fallen) * weight[gate] * there
        left *= 1 - open_
        total += open_
        shown.append(open_)
        which.append(gates.sound[gate])
    of_consonants = (1 - left) / total
    return Shares(np.stack(which), np.stack([row * left for row in much] + [row * of_consonants for row in shown]))


def _vowel_tier(line: Line, t: Doubles, timing: Timing) -> tuple[list[Numbers], list[Doubles]]:
    lead, rise = timing.vowels
    tier = np.flatnonzero((line.kind == VOWEL) | line.rests)
    before, after = tier[:-1], tier[1:]
    to_rest, from_rest = line.rests[after], line.rests[before]
    first_sound = line.start[np.minimum(before + 1, len(line.start) - 1)]
    on = np.where(from_rest, first_sound - _OPENING, np.where(to_rest, line.start[after], line.end[before] - lead))
    takes = np.where(to_rest, _CLOSING, rise)
    begins = np.concatenate([[_LONG_AGO], np.maximum.accumulate(on)])
    slope = 1 / np.concatenate([[1.0], takes])
    newest = np.searchsorted(begins, t, side="right") - 1
    which, much = list[Numbers](), list[Doubles]()
    newer: Doubles | None = None
    for back in range(_VOWELS):  # the newest first; an older one never shows before it
        number = np.maximum(newest - back, 0)
        reached = step((t - begins[number]) * slope[number]) if back < _VOWELS - 1 else np.ones_like(t)
        reached[newest - back < 0] = 1
        reached = reached if newer is None else np.maximum(reached, newer)
        much.append(reached if newer is None else reached - newer)
        which.append(tier[number])
        newer = reached
    return which, much


@dataclass(frozen=True, eq=False)
class Gates:
    """When each consonant begins to show, is there in full, begins to go, and is gone; seconds, in the order in which they
    begin to. sound: its number in the line. weight: how far it hides the vowels."""

    sound: Numbers
    on: Doubles
    full: Doubles
    off: Doubles
    gone: Doubles
    weight: Doubles


def gates_of(line: Line, timing: Timing) -> Gates:
    """Of every consonant. A gate's rise always ends before it falls, so that it reaches all that it is to."""
    sound = np.flatnonzero(line.kind >= LIPS)
    leads = np.where(line.kind[sound] <= BITE, timing.lips[0], timing.consonants[0])
    sound = sound[
        np.argsort(line.start[sound] - leads, kind="stable")
    ]  # lips may begin before what is said before them
    at_lips = line.kind[sound] <= BITE
    lead, rise, lag, fall = (
        np.where(at_lips, lips, plain) for plain, lips in zip(timing.consonants, timing.lips, strict=True)
    )
    start, end = line.start[sound], line.end[sound]
    on = start - lead
    full = on + rise
    off = end - lag - line.voiceless[sound] * timing.burst * (end - start)
    gone = off + fall
    middle = np.clip((full + off) / 2, on + _LEAST_RISE, gone - _LEAST_RISE)
    short = full > off
    weight = np.array(timing.hides)[line.kind[sound]]
    return Gates(sound, on, np.where(short, middle, full), np.where(short, middle, off), gone, weight)
