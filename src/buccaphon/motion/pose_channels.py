"""The pose of the mouth on every frame, from the sounds and how loud they are: form by the shares, size vowel by vowel.

Contacts are set at frames, not scaled: lips that touch do so on a frame, whatever its rate. Silence is exactly 0.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Bools, Doubles, Floats, held
from buccaphon.motion.shares import REACH, Gates, Line, Shares, gates_of, line_of, shares_of, step
from buccaphon.motion.targets import APERTURE, BITE, JAW, LIPS, ROUND, TARGET_PARTS, VOWEL
from buccaphon.score.records import Phone

POSE_CHANNELS = ("jaw", "aperture", "spread", "round", "press", "bite", "tongue", "teeth")
TIMINGS = (APERTURE, JAW, ROUND)
BY_APERTURE, _BY_JAW, _BY_ROUND = range(3)  # their numbers
_GAP = TARGET_PARTS.index("aperture")
_OF_JAW, _OF_LIPS = (
    [TARGET_PARTS.index(part) for part in parts] for parts in (("jaw", "tongue", "teeth"), ("round", "spread"))
)
_BITTEN_GAP = (0.06, 0.2)  # of the lips while the teeth are on the lower one
_PRESSED, _BITTEN = (0.6, 0.4), (0.45, 0.3)  # from which share of a contact on, and over how much of it, it is seen
_ROUNDING = 1e-9  # frames

PER_DB, MOST_PER_DB = 0.02, 0.04  # size a dB: as it is usually set, and where loudness counts whole
_SMOOTH, _NEIGHBOURS = 0.2, 5  # seconds of the average over vowels, and how many to either side
_TO_USUAL = 0.02  # of a vowel's pull that goes to the usual size
_LOUDEST, _QUIETEST = 9.0, -12.0  # dB against the usual vowel that still count
_MIDDLE = 0.3  # of a vowel to either side of its middle is listened to
_DB_OF_ALL = 35.0  # between the floor and the ceiling of loudness, about
_FOREVER = 1e6  # seconds of silence before the first sound and after the last: it has no end within reach
_USUAL = 65.0  # percentile of what is heard at all: about the usual vowel


@dataclass(frozen=True, eq=False)
class Loud:
    """How loud it is: level (frames,) 0..1 of the whole recording, frames a second. total: (frames + 1,) of all before each
    frame. usual: the level of its vowels."""

    level: Floats
    rate: float
    total: Doubles
    usual: float


def loud_of(level: Floats, rate: float) -> Loud:
    """level: (frames,) 0..1, exactly 0 where nothing is heard."""
    heard = level > 0
    usual = float(np.percentile(level[heard], _USUAL)) if heard.any() else 0.0
    total = np.concatenate([[0.0], np.cumsum(level, dtype=np.float64)]) / rate
    return Loud(level, rate, total, usual)


@dataclass(frozen=True, eq=False)
class Posed:
    """values: (frames, 8) in the order of POSE_CHANNELS, 0..1. What they were made of: the line of sounds, the shares, the
    frames on which lips and teeth touch, the size (frames,)."""

    values: Floats
    line: Line
    shares: Shares
    touching: tuple[Bools, Bools]
    size: Doubles


def pose_channels(
    phones: Sequence[Phone],
    times: Doubles,
    loud: Loud,
    opening: Doubles | float = 1.0,
    per_db: Doubles | float = PER_DB,
    by_stress: Doubles | float = 0.0,
) -> Posed | None:
    """The pose at some times; None where nothing is said at all. phones: at least all within twice REACH of the times. times:
    (frames,) evenly spaced seconds, which may lie outside the recording. opening: times the usual size, of all or of each
    frame. per_db: size for each dB above the usual level. by_stress: how much larger stressed vowels are, and weak ones
    smaller; of all or of each likewise."""
    if not len(times) or not phones:
        return None
    begins = phones[0].start
    line = line_of(phones, begins - _FOREVER if begins > 0 else begins, phones[-1].end + _FOREVER)
    gates = gates_of(line, TIMINGS)
    shares = shares_of(line, times, TIMINGS, gates)
    lips_and_more = np.empty((len(line.kind), 4))
    for n, column in enumerate((line.target[:, _GAP], line.stress, line.kind == LIPS, line.kind == BITE)):
        lips_and_more[:, n] = column
    aperture, stress, lips, bite = shares.blend(BY_APERTURE, lips_and_more).T
    jaw, tongue, teeth = shares.blend(_BY_JAW, line.target.take(_OF_JAW, axis=1)).T
    rounding, spread = shares.blend(_BY_ROUND, line.target.take(_OF_LIPS, axis=1)).T
    size = opening * (1 + per_db * louder(line, loud, times)) * (1 + by_stress * stress)
    rounded = held(rounding)
    found = {
        "jaw": held(jaw * size),
        "aperture": held(aperture * size),
        "spread": held(spread) * (1 - rounded) * _is_said(line, times),
        "round": rounded,
        "press": step((lips - _PRESSED[0]) / _PRESSED[1]),
        "bite": step((bite - _BITTEN[0]) / _BITTEN[1]),
        "tongue": held(tongue),
        "teeth": held(teeth),
    }
    touching = contact_frames(line, times, gates)
    _touch(found, *touching)
    values = np.stack([found[name] for name in POSE_CHANNELS], axis=1).astype(np.float32)
    return Posed(values, line, shares, touching, size)


def _is_said(line: Line, times: Doubles) -> Doubles:
    """(frames,) 0 in long silence, where even the resting smile is none, and 1 while something is said."""
    quiet = np.zeros(len(times), np.bool_)
    for number in np.flatnonzero(line.rests).tolist():
        quiet |= (times >= line.start[number]) & (times <= line.end[number])
    return np.where(quiet, 0.0, 1.0)


# --- contacts ---------------------------------------------------------------------------------------------------------


def _touch(found: dict[str, Doubles], lips: Bools, bite: Bools) -> None:
    found["aperture"][lips], found["press"][lips], found["bite"][lips] = 0.0, 1.0, 0.0
    found["aperture"][bite] = np.clip(found["aperture"][bite], *_BITTEN_GAP)
    found["press"][bite], found["bite"][bite] = 0.0, 1.0


def contact_frames(line: Line, times: Doubles, gates: Gates) -> tuple[Bools, Bools]:
    """(frames,) on which the lips must be seen shut, and (frames,) the teeth on the lip: all whose middle lies in the held
    part of the sound, else the nearest one; two unlike contacts never share one. gates: of all timings."""
    count = len(times)
    touched = {LIPS: np.zeros(count, np.bool_), BITE: np.zeros(count, np.bool_)}
    if count < 2:
        return touched[LIPS], touched[BITE]
    kinds, full, off = line.kind[gates.sound[BY_APERTURE]], gates.full[BY_APERTURE], gates.off[BY_APERTURE]
    apart = float(times[1] - times[0])
    near = (kinds <= BITE) & (off > times[0] - REACH) & (full < times[-1] + REACH)
    begins, ends = ((edge[near] - times[0]) / apart for edge in (full, off))
    last_taken, last_kind = -(10**9), LIPS
    for kind, begin, end in zip(kinds[near].tolist(), begins.tolist(), ends.tolist(), strict=True):
        first, last = math.ceil(begin - _ROUNDING), math.floor(end + _ROUNDING)
        if last < first:
            first = last = math.floor((begin + end) / 2 + 0.5)
        if kind != last_kind and first <= last_taken:
            first, last = last_taken + 1, max(last, last_taken + 1)
        touched[kind][max(first, 0) : max(last + 1, 0)] = True
        last_taken, last_kind = max(last_taken, last), kind
    return touched[LIPS], touched[BITE]


# --- size -------------------------------------------------------------------------------------------------------------


def louder(line: Line, loud: Loud, times: Doubles) -> Doubles:
    """(frames,) dB by which the vowels around are louder than usual; far from any it is 0."""
    vowels = ((line.kind == VOWEL) & (line.end > line.start)).nonzero()[0]
    if not len(vowels) or not len(loud.level):
        return np.zeros(len(times))
    middle, half = (line.start[vowels] + line.end[vowels]) / 2, _MIDDLE * (line.end[vowels] - line.start[vowels])
    until, since = _heard_until(loud, np.stack([middle + half, middle - half]))
    heard = (until - since) / (2 * half)
    against = np.clip(_DB_OF_ALL * (heard - loud.usual), _QUIETEST, _LOUDEST)
    nearest = np.searchsorted(middle, times)[:, None] + np.arange(-_NEIGHBOURS, _NEIGHBOURS)
    there = (nearest >= 0) & (nearest < len(vowels))
    nearest = np.minimum(np.maximum(nearest, 0), len(vowels) - 1)
    away = middle[nearest] - times[:, None]
    pull = np.exp(-0.5 * (away / _SMOOTH) ** 2) * there * (np.abs(away) < REACH)
    found: Doubles = (pull * against[nearest]).sum(axis=1) / (pull.sum(axis=1) + _TO_USUAL)
    return found


def _heard_until(loud: Loud, times: Doubles) -> Doubles:
    """(…) how much is heard before each moment: level times seconds."""
    frame = np.minimum(np.maximum(times * loud.rate, 0.0), float(len(loud.level)))
    whole = np.minimum(frame.astype(np.int64), len(loud.level) - 1)
    found: Doubles = loud.total[whole] + (frame - whole) * loud.level[whole] / loud.rate
    return found
