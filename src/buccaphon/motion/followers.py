"""Followers: a channel that another one drives, for a chin, a cheek, a lantern or a head, in the units of the host."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from buccaphon.arrays import Bools, Doubles, Floats
from buccaphon.choice import Choice
from buccaphon.errors import ChannelError
from buccaphon.motion.curve import Curve
from buccaphon.setting import Setting, setting
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate

LOUDNESS = "loudness"  # what can be followed besides channels: how loud it is, 0..1
MOST_FOLLOWERS = 200  # a bound for files, not for people
LARGEST = 100_000.0  # of a value
LONGEST_LAG, LONGEST_SMOOTHING = 2.0, 1.0  # seconds
MOST_POINTS = 64  # of a response
_SHORTEST = 1e-4  # seconds of smoothing: what is less is none
_REACH = 3.0  # widths of the bell that smooths
_LOOKED_AT = 256  # frames that are looked at together for when a switch goes
_NOISE = 4096  # values after which the shaking repeats
_TRY = N_("Write it like this: 0.1 to 0.7 becomes 0 to 12 px")
_NUMBER = r"([+-]?(?:\d+(?:\.\d*)?|\.\d+))"
_BECOMES = re.compile(rf"\s*{_NUMBER}\s*to\s*{_NUMBER}\s*becomes\s*{_NUMBER}\s*to\s*{_NUMBER}\s*(\S.*?)?\s*", re.I)


class Unit(Choice):
    """What a host measures a channel in. The label stands behind a number, as `read_range` reads it."""

    SHARE = "share", N_("0 to 1")
    PERCENT = "percent", "%"
    DEGREES = "degrees", "degrees"
    PIXELS = "pixels", "px"
    SCENE = "units", "units"

    @property
    def written(self) -> str:
        """Behind a number."""
        return "" if self is Unit.SHARE else self._text


_UNITS = {**{unit.written: unit for unit in Unit}, "0 to 1": Unit.SHARE, "°": Unit.DEGREES, "deg": Unit.DEGREES,
          "pixels": Unit.PIXELS, "percent": Unit.PERCENT}  # fmt: skip
Pair = tuple[float, float]
MOST_SEED = 2**31 - 1  # of what shakes at random


_LEVEL: dict[str, Any] = {"least": -1.0, "most": 1.0, "step": 0.05, "decimals": 2, "words": "threshold"}
_ANY: dict[str, Any] = {"least": -LARGEST, "most": LARGEST, "step": 1.0, "decimals": 2}
BY_RANGE = {  # what the range says, in other numbers
    "gain": Setting(
        label=N_("Gain"), hint=N_("How much the output changes when the input goes from 0 to 1; may be negative"),
        words=N_("multiply scale amount strength exaggerate"), **_ANY,
    ),
    "offset": Setting(label=N_("Offset"), hint=N_("Output when the input is 0"), words=N_("add shift base"), **_ANY),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Switch:
    """On/off switch: it goes on where what is followed rises to `on`, and off where that falls to `off`, which is lower."""

    on: float = setting(0.5, N_("On above"), N_("Switches on above this"), **_LEVEL)
    off: float = setting(0.4, N_("Off below"), N_("Switches off below this"), **_LEVEL)


@dataclass(frozen=True, slots=True)
class Shake:
    """Smooth noise that is added, as large as what is followed is. size: at most, in the channel's unit. speed: changes of
    direction a second, about. seed: the same one shakes the same way."""

    size: float = setting(
        0.0,
        N_("Shake amount"),
        N_("Smooth noise in proportion to the input; 0 for none"),
        least=0.0,
        most=LARGEST,
        step=0.1,
        decimals=2,
        words=N_("wiggle shake noise random jitter"),
    )
    speed: float = setting(
        6.0,
        N_("Shake speed"),
        N_("How often the noise changes direction"),
        least=0.1,
        most=30.0,
        unit=N_("per s"),
        step=0.5,
        decimals=1,
        words=N_("wiggle frequency"),
    )
    seed: int = setting(
        1,
        N_("Random seed"),
        N_("The same number always gives the same shake"),
        least=0,
        most=MOST_SEED,
        words=N_("wiggle random variation"),
    )


@dataclass(frozen=True, slots=True)
class Follower:
    """name: of the channel in the host. follows: a channel's id, or LOUDNESS. takes, gives: a range of what is followed, and
    what it becomes in the unit. holds: whether it stays within that range where what is followed goes further. lag: seconds
    that it comes later (earlier when negative). smoothing: seconds, the width of a bell, without lag. least, most: limits.
    curve: points 0..1 of how it goes from one end of the range to the other; none is a straight line."""

    name: str
    follows: str
    takes: Pair = (0.0, 1.0)
    gives: Pair = (0.0, 1.0)
    unit: Unit = Unit.SHARE
    holds: bool = setting(True, N_("Keep within that range"), words=N_("clamp limit"))
    lag: float = setting(
        0.0,
        N_("Lag"),
        N_("Delay; negative values come earlier"),
        least=-LONGEST_LAG,
        most=LONGEST_LAG,
        scale=1000,
        unit="ms",
        step=10,
        words=N_("delay late drag follow through overlap"),
    )
    smoothing: float = setting(
        0.0,
        N_("Smoothing"),
        N_("Smooths without delay"),
        least=0.0,
        most=LONGEST_SMOOTHING,
        scale=1000,
        unit="ms",
        step=10,
        words="smooth",
    )
    least: float | None = setting(
        None, N_("Minimum"), N_("Never below this"), none=N_("none"), words=N_("limit clamp"), **_ANY
    )
    most: float | None = setting(
        None, N_("Maximum"), N_("Never above this"), none=N_("none"), words=N_("limit clamp"), **_ANY
    )
    curve: tuple[Pair, ...] = ()
    switch: Switch | None = None
    shake: Shake | None = None

    @property
    def gain(self) -> float:
        """How much it changes when what is followed changes by 1; negative when it goes the other way."""
        return (self.gives[1] - self.gives[0]) / (self.takes[1] - self.takes[0])

    @property
    def offset(self) -> float:
        """What it is where what is followed is 0."""
        return self.gives[0] - self.gain * self.takes[0]

    @property
    def says(self) -> str:
        """The range to range, as people say it; `read_range` reads it again."""
        numbers = [np.format_float_positional(value, trim="-") for value in (*self.takes, *self.gives)]
        return f"{numbers[0]} to {numbers[1]} becomes {numbers[2]} to {numbers[3]} {self.unit.written}".rstrip()

    def at(self, value: float) -> float:
        """What it is, without shaking, while what is followed keeps one value."""
        switched = self.switch is not None and value >= self.switch.on
        x = np.array([(self.takes[1] if switched else self.takes[0]) if self.switch else value])
        return float(_limited(self, _mapped(self, x))[0])

    def ends(self, low: float, high: float) -> Pair:
        """The least and the most that it can be while what is followed goes from `low` to `high`."""
        found = [self.at(value) for value in (low, high, *self.takes)]
        found += [self.gives[0] + (self.gives[1] - self.gives[0]) * y for _, y in self.curve]
        more = self.shake.size if self.shake else 0.0
        least, most = min(found) - more, max(found) + more
        return _limit(self, least), _limit(self, most)

    def reach(self, rate: FrameRate) -> int:
        """Frames to either side on which a value depends."""
        seconds = abs(self.lag) + _REACH * self.smoothing
        return math.ceil(seconds * float(rate.value)) + 1 if seconds else 0


def require_valid_follower(follower: Follower) -> None:
    """Raises ChannelError for what cannot be."""
    (low, high), numbers = follower.takes, [*follower.takes, *follower.gives, follower.lag, follower.smoothing]
    numbers += [value for value in (follower.least, follower.most) if value is not None]
    numbers += [value for point in follower.curve for value in point]
    if follower.switch:
        numbers += [follower.switch.on, follower.switch.off]
    if follower.shake:
        numbers += [follower.shake.size, follower.shake.speed]
    problem, remedy = "", ""
    if not all(abs(value) <= LARGEST for value in numbers):  # what is no number is not below it either
        problem, remedy = _("a number is too large"), _("Use numbers up to {largest:g}", largest=LARGEST)
    elif abs(high - low) < 1e-6:
        problem, remedy = _("its input range is empty"), _TRY
    elif abs(follower.lag) > LONGEST_LAG or not 0 <= follower.smoothing <= LONGEST_SMOOTHING:
        problem, remedy = (
            _("its lag or smoothing is too long"),
            _(
                "Use up to {lag:g} s of lag, {smoothing:g} s of smoothing",
                lag=LONGEST_LAG,
                smoothing=LONGEST_SMOOTHING,
            ),
        )
    elif follower.least is not None and follower.most is not None and follower.least > follower.most:
        problem, remedy = _("its lower limit is above the upper one"), _("Swap them")
    elif follower.switch and follower.switch.off > follower.switch.on:
        problem, remedy = _("“Off below” is above “On above”"), _("Lower “Off below”")
    elif len(follower.curve) > MOST_POINTS or [x for x, _ in follower.curve] != sorted(x for x, _ in follower.curve):
        problem, remedy = (
            _("its response runs backwards"),
            _("Use up to {most} points from left to right", most=MOST_POINTS),
        )
    elif follower.shake and not 0 <= follower.shake.seed <= MOST_SEED:
        problem, remedy = _("the seed of its shaking is no whole number from 0"), _("Use 1")
    elif follower.shake and not (follower.shake.size >= 0 and 0.1 <= follower.shake.speed <= 30):
        problem, remedy = _("its shake speed is out of range"), _("Use 0.1 to 30 changes per second")
    if problem:
        raise ChannelError(follower.name or _("the follower"), problem, remedy)


def read_range(text: str) -> tuple[Pair, Pair, Unit]:
    """`0.1 to 0.7 becomes 0 to 12 px`: what it takes, what it gives, in which unit. Raises ChannelError."""
    found = _BECOMES.fullmatch(text)
    if found is None:
        raise ChannelError(text.strip() or _("the range"), _("it is not understood"), _TRY)
    a, b, c, d = (float(found[n]) for n in range(1, 5))
    unit = _UNITS.get((found[5] or "").strip().lower())
    if unit is None:
        raise ChannelError(
            text.strip(), _("there is no unit “{found}”", found=found[5]), _("Use %, degrees, px, units, or none")
        )
    if a == b:
        raise ChannelError(text.strip(), _("its input range is empty"), _TRY)
    return (a, b), (c, d), unit


# --- who drives whom ------------------------------------------------------------------------------------------------------


def goes_in(follower: Follower, values: Floats) -> tuple[Pair, bool]:
    """The least and the most of what is followed, and whether any of it lies within the range that is taken. values: (n,)."""
    if not len(values):
        return (0.0, 0.0), True
    low, high = float(values.min()), float(values.max())
    first, last = sorted(follower.takes)
    return (low, high), high > first and low < last


def in_order(followers: Sequence[Follower]) -> tuple[Follower, ...]:
    """Each after the one that it follows. Raises ChannelError, with the way round, where they go in a circle."""
    by_name = {follower.name: follower for follower in followers}
    found: dict[str, Follower] = {}
    for follower in followers:
        way: list[Follower] = []
        at: Follower | None = follower
        while at is not None and at.name not in found:
            if at in way:
                names = [each.name for each in (*way[way.index(at) :], at)]
                reason = _("it would follow itself ({names})", names=" follows ".join(names))
                raise ChannelError(follower.name, reason, _("Let one of them follow another channel"))
            way.append(at)
            at = by_name.get(at.follows)
        found.update((each.name, each) for each in reversed(way))
    return tuple(found.values())


# --- what they are ---------------------------------------------------------------------------------------------------------


def follow(follower: Follower, driver: Curve | Floats, rate: FrameRate, first: int, end: int) -> Floats:
    """(end - first,) of a follower. driver: (frames,) of all frames of what it follows; beyond the ends it stays as it is
    there. The same values whatever range they are asked for in."""
    x = _delayed(follower, driver, float(rate.value), first, end)
    if follower.switch is not None:
        is_on = _switched(follower.switch, follower, driver, x, float(rate.value), first)
        x = np.where(is_on, follower.takes[1], follower.takes[0])
    found = _mapped(follower, x)
    if follower.shake is not None and follower.shake.size:
        low, high = follower.takes
        size = np.clip((x - low) / (high - low), 0, 1)
        found = found + follower.shake.size * size * _noise(follower.shake, first, end, float(rate.value))
    return _limited(follower, found).astype(np.float32)


def _delayed(follower: Follower, driver: Curve | Floats, rate: float, first: int, end: int) -> Doubles:
    """What is followed, later and smoother; between two frames on the line between them."""
    width = follower.smoothing * rate if follower.smoothing > _SHORTEST else 0.0
    many = math.ceil(_REACH * width)
    if not many and not follower.lag:
        return driver[first:end].astype(np.float64)
    late = _on(driver, np.arange(first - many, end + many, dtype=np.float64) - follower.lag * rate)
    if not width:
        return late
    found, total = np.zeros(end - first), 0.0
    for tap in range(-many, many + 1):  # one by one: the same sum however many frames there are
        weight = math.exp(-0.5 * (tap / width) ** 2)
        found += weight * late[many + tap : many + tap + end - first]
        total += weight
    return found / total


def _on(driver: Curve | Floats, places: Doubles) -> Doubles:
    """places: frames in order, whole or not; beyond the ends it stays as it is there."""
    last = len(driver) - 1
    held = np.clip(places, 0, last)
    whole = np.floor(held)
    at = whole.astype(np.intp)
    first = int(at[0]) if len(at) else 0
    near = driver[first : int(at[-1]) + 2 if len(at) else 0].astype(np.float64)
    before, after = near[at - first], near[np.minimum(at + 1, last) - first]
    found: Doubles = before + (held - whole) * (after - before)
    return found


def _switched(switch: Switch, follower: Follower, driver: Curve | Floats, x: Doubles, rate: float, first: int) -> Bools:
    """(frames,) whether it is on. What was on or off before the first of them is looked for further back."""
    said = np.where(x >= switch.on, 1, np.where(x <= switch.off, 0, -1))
    if len(said) and said[0] < 0:
        said[0] = 0
        before = first
        while before > 0:
            begin = max(before - _LOOKED_AT, 0)
            back = _delayed(follower, driver, rate, begin, before)
            decided = np.flatnonzero((back >= switch.on) | (back <= switch.off))
            if len(decided):
                said[0] = int(back[decided[-1]] >= switch.on)
                break
            before = begin
    known = np.maximum.accumulate(np.where(said >= 0, np.arange(len(said)), 0))
    found: Bools = said[known] == 1
    return found


def next_decision(follower: Follower, driver: Curve | Floats, rate: FrameRate, frame: int) -> int:
    """The first frame from one on, or the end, in which what is followed says by itself whether the follower is on."""
    switch, begin = follower.switch, frame
    while switch is not None and begin < len(driver):
        end = min(begin + _LOOKED_AT, len(driver))
        x = _delayed(follower, driver, float(rate.value), begin, end)
        decided = np.flatnonzero((x >= switch.on) | (x <= switch.off))
        if len(decided):
            return begin + int(decided[0])
        begin = end
    return len(driver)


def _mapped(follower: Follower, x: Doubles) -> Doubles:
    (low, high), (start, stop) = follower.takes, follower.gives
    share = (x - low) / (high - low)
    if follower.holds:
        share = np.clip(share, 0, 1)
    if follower.curve:
        xs, ys = zip(*follower.curve, strict=True)
        inside = np.interp(np.clip(share, 0, 1), xs, ys)
        share = inside + (share - np.clip(share, 0, 1))  # beyond the ends it goes on as straight as without
    found: Doubles = start + (stop - start) * share
    return found


def _limited(follower: Follower, values: Doubles) -> Doubles:
    if follower.least is not None:
        values = np.maximum(values, follower.least)
    if follower.most is not None:
        values = np.minimum(values, follower.most)
    return values


def _limit(follower: Follower, value: float) -> float:
    return float(_limited(follower, np.array([value]))[0])


def _noise(shake: Shake, first: int, end: int, rate: float) -> Doubles:
    """(end - first,) about -1..1: values of chance, some a second, with smooth steps between."""
    chance = _chance(shake.seed)
    at = np.arange(first, end) * (shake.speed / rate)
    whole = np.floor(at)
    share = at - whole
    number = whole.astype(np.int64)
    before, after = chance[number % _NOISE], chance[(number + 1) % _NOISE]
    found: Doubles = before + (after - before) * (share * share * (3 - 2 * share))
    return found


@lru_cache(maxsize=64)
def _chance(seed: int) -> Doubles:
    return np.random.default_rng(seed).uniform(-1, 1, _NOISE)
