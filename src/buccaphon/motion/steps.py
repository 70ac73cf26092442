"""Clean-up: what is done to finished curves, one step after another. Each step is of one kind, for some channels or for all,
and can be switched off; none of them moves a curve in time."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, ClassVar

import msgspec
import numpy as np

from buccaphon.arrays import Bools, Doubles, Floats, Same, held
from buccaphon.errors import ChannelError
from buccaphon.motion.channels import Channel
from buccaphon.motion.curve import Curve
from buccaphon.motion.keys import BLOCK, Frames, keys_in_blocks
from buccaphon.setting import Setting
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate

MOST_STEPS = 40  # a bound for files, not for people
_BELL = 3.0  # widths of the bell that smooths
_FOR_ALL = 128  # frames of which is found together what is the same for all channels


@dataclass(frozen=True, eq=False)
class Around:
    """What steps look at besides the curves. quiet: (frames,) where nothing is said. used: the first frame that is used and
    the one after the last. low, width, rest: (curves, 1) of each curve's channel."""

    rate: FrameRate
    quiet: Bools
    used: tuple[int, int]
    low: Doubles
    width: Doubles
    rest: Doubles

    @classmethod
    def of(cls, channels: Sequence[Channel], rate: FrameRate, quiet: Bools, used: tuple[int, int]) -> Around:
        """Around the curves of some channels, in their order."""
        ends = np.array([(channel.low, channel.high, channel.rest) for channel in channels], np.float64)
        low, high, rest = ends.T[:, :, None]
        return cls(rate, quiet, used, low, np.maximum(high - low, 1e-9), rest)

    @property
    def frames(self) -> int:
        return len(self.quiet)


def _number(label: str, least: float, most: float, unit: str, whole: bool = True) -> Setting:
    step, decimals = (1.0, 0) if whole else (0.1, 1)
    return Setting(label=label, least=least, most=most, unit=unit, step=step, decimals=decimals)


class Step(msgspec.Struct, frozen=True, tag_field="step", kw_only=True):
    """channels: ids; none means all of them. on: whether it is done.

    Each kind has its numbers as fields, declared in SETTINGS; TITLE and SAYS are for people.
    """

    TITLE: ClassVar[str] = ""
    SAYS: ClassVar[str] = ""
    SETTINGS: ClassVar[dict[str, Setting]] = {}

    channels: tuple[str, ...] = ()
    on: bool = True

    @classmethod
    def title(cls) -> str:
        """What it is called, in the language in use."""
        return _(cls.TITLE)

    @classmethod
    def says(cls) -> str:
        """What it does, in the language in use."""
        return _(cls.SAYS)

    def reach(self, _rate: FrameRate) -> int:
        """Frames to either side on which a value depends."""
        raise NotImplementedError

    def touched(self, first: int, end: int, rate: FrameRate) -> tuple[int, int]:
        """The frames whose values hang on those of a range."""
        reach = self.reach(rate)
        return first - reach, end + reach

    def hangs_on(self, first: int, end: int, rate: FrameRate) -> tuple[int, int]:
        """The frames that the values of a range hang on."""
        return self.touched(first, end, rate)

    def run(self, values: Doubles, _first: int, _around: Around) -> Doubles:
        """(curves, n) of the frames from a first on; right where what it hangs on lies within them."""
        raise NotImplementedError

    def is_for(self, channel: str) -> bool:
        return self.on and (not self.channels or channel in self.channels)

    @property
    def numbers(self) -> dict[str, float]:
        return {name: getattr(self, name) for name in self.SETTINGS}


class CloseSilences(Step, frozen=True, tag="close_silences"):
    """Where nothing is said for long enough, the curve comes to rest and leaves it again."""

    TITLE = N_("Close silences")
    SAYS = N_("goes to rest in silences longer than this, easing in and out over the given frames")
    SETTINGS = {
        "longer": _number(N_("Silences longer than"), 1, 240, N_("frames")),
        "into": _number(N_("Ease in over"), 0, 48, N_("frames")),
        "out": _number(N_("Ease out over"), 0, 48, N_("frames")),
    }

    longer: int = 6
    into: int = 3
    out: int = 2

    def reach(self, _rate: FrameRate) -> int:
        return self.longer + self.into + self.out + 2

    def run(self, values: Doubles, first: int, around: Around) -> Doubles:
        end = first + values.shape[1]
        low, high = first // _FOR_ALL * _FOR_ALL, min(-(-end // _FOR_ALL) * _FOR_ALL, around.frames)
        return _towards_rest(values, _open(self, Same(around.quiet), low, high)[first - low : end - low], around)


@lru_cache(maxsize=8)
def _open(step: CloseSilences, quiet: Same, first: int, end: int) -> Doubles:
    """(end - first,) how far from rest a curve stays, 0..1; for one level of channels after another it is the same."""
    frames = len(quiet.array)
    begins, ends, of = _runs(quiet.array, first, end, step.longer)
    at = np.arange(first, end)
    begin, until = begins[of], ends[of]
    # the ends of the recording stay at rest: nothing is said beyond them
    falls = np.where(begin > 0, _eased((at - begin + 1) / (step.into + 1)), 1.0)
    rises = np.where(until < frames, _eased((until - at) / (step.out + 1)), 1.0)
    closes = (of >= 0) & (until - begin >= step.longer)
    found: Doubles = np.where(closes, 1 - np.minimum(falls, rises), 1.0)
    return found


class TrimEnds(Step, frozen=True, tag="trim_ends"):
    """At rest before the first and after the last sound, but for some frames."""

    TITLE = N_("Trim the ends")
    SAYS = N_("goes to rest before the first and after the last sound, except for this many frames")
    SETTINGS = {
        "before": _number(N_("Keep before"), 0, 240, N_("frames")),
        "after": _number(N_("Keep after"), 0, 240, N_("frames")),
    }

    before: int = 4
    after: int = 6

    def reach(self, _rate: FrameRate) -> int:
        return self.before + self.after + 2

    def run(self, values: Doubles, first: int, around: Around) -> Doubles:
        said = np.flatnonzero(~around.quiet)
        if not len(said):
            return np.broadcast_to(around.rest, values.shape)
        at = np.arange(first, first + values.shape[1])
        rises = _eased((at - said[0] + self.before + 1) / (self.before + 1))
        falls = _eased((said[-1] + self.after + 1 - at) / (self.after + 1))
        return _towards_rest(values, np.minimum(rises, falls), around)


class Smooth(Step, frozen=True, tag="smooth"):
    """A bell over the frames around, without lag."""

    TITLE = N_("Smooth")
    SAYS = N_("smooths each frame with its neighbours, without delay")
    SETTINGS = {"frames": _number(N_("Smooth over"), 0.2, 24, N_("frames"), whole=False)}

    frames: float = 1.0

    def reach(self, _rate: FrameRate) -> int:
        return math.ceil(_BELL * self.frames)

    def run(self, values: Doubles, _first: int, _around: Around) -> Doubles:
        many = math.ceil(_BELL * self.frames)
        count = values.shape[1]
        padded = values[:, np.arange(-many, count + many).clip(0, count - 1)]
        found, total = np.zeros(values.shape), 0.0
        for tap in range(-many, many + 1):  # one by one: the same sum however many frames there are
            weight = math.exp(-0.5 * (tap / self.frames) ** 2)
            found += weight * padded[:, many + tap : many + tap + count]
            total += weight
        return found / total


class EveryFrames(Step, frozen=True, tag="every_frames"):
    """A key on every so many frames, straight lines between."""

    TITLE = N_("Key every few frames")
    SAYS = N_("a key on every second, third … frame, straight lines between")
    SETTINGS = {"frames": _number(N_("A key every"), 2, 48, N_("frames"))}

    frames: int = 2

    def reach(self, _rate: FrameRate) -> int:
        return self.frames

    def run(self, values: Doubles, first: int, _around: Around) -> Doubles:
        last = first + values.shape[1] - 1
        at = np.arange(first, last + 1)
        before = np.maximum(at // self.frames * self.frames, first)
        after = np.minimum(before - before % self.frames + self.frames, last)
        share = (at - before) / np.maximum(after - before, 1)
        low, high = values[:, before - first], values[:, after - first]
        found: Doubles = low + share * (high - low)
        return found


class FewerKeys(Step, frozen=True, tag="fewer_keys"):
    """As few keys as keep to the curve within an error."""

    TITLE = N_("Reduce keys")
    SAYS = N_("the fewest keys, joined by straight lines, that stay within this error")
    SETTINGS = {"error": _number(N_("Largest error"), 0.1, 25, N_("% of the range"), whole=False)}

    error: float = 2.0

    def reach(self, _rate: FrameRate) -> int:
        return BLOCK

    def touched(self, first: int, end: int, _rate: FrameRate) -> tuple[int, int]:
        """All of the blocks that it lies in; the frame where two meet is a key of both."""
        return (first - 1) // BLOCK * BLOCK, -(-end // BLOCK) * BLOCK + 1

    def hangs_on(self, first: int, end: int, _rate: FrameRate) -> tuple[int, int]:
        """A key hangs on nothing else, so that of two blocks that meet there one is enough."""
        return first // BLOCK * BLOCK, -((1 - end) // BLOCK) * BLOCK + 1

    def run(self, values: Doubles, _first: int, around: Around) -> Doubles:
        curves, count = values.shape
        whole = values / around.width
        line, keys = whole.ravel(), np.flatnonzero(keys_in_blocks(whole, self.error / 100))
        return np.interp(np.arange(curves * count), keys, line[keys]).reshape(curves, count) * around.width


class LimitSpeed(Step, frozen=True, tag="limit_speed"):
    """No faster than so much of its range a second: rises and falls that would be are spread to both sides."""

    TITLE = N_("Limit the speed")
    SAYS = N_("limits how fast the curve may change; steeper parts are spread to both sides")
    SETTINGS = {"ranges": _number(N_("Fastest change"), 0.5, 60, N_("ranges per second"), whole=False)}

    ranges: float = 10.0

    def reach(self, rate: FrameRate) -> int:
        return math.ceil(float(rate.value) / self.ranges) + 2

    def run(self, values: Doubles, first: int, around: Around) -> Doubles:
        most = self.ranges * around.width / float(around.rate.value)
        slope = most * np.arange(first, first + values.shape[1])
        rising, falling = values + slope, values - slope
        under = np.minimum.accumulate(falling, axis=1) + slope
        under = np.minimum(under, np.minimum.accumulate(rising[:, ::-1], axis=1)[:, ::-1] - slope)
        over = np.maximum.accumulate(rising, axis=1) - slope
        over = np.maximum(over, np.maximum.accumulate(falling[:, ::-1], axis=1)[:, ::-1] + slope)
        found: Doubles = (under + over) / 2
        return found


class WholeSteps(Step, frozen=True, tag="whole_steps"):
    """Only so many values of the range."""

    TITLE = N_("Quantise")
    SAYS = N_("rounds to this many equal steps across the range")
    SETTINGS = {"steps": _number(N_("Steps"), 1, 1000, "")}

    steps: int = 4

    def reach(self, _rate: FrameRate) -> int:
        return 0

    def run(self, values: Doubles, _first: int, around: Around) -> Doubles:
        low, width = around.low, around.width
        found: Doubles = low + np.round((values - low) / width * self.steps) / self.steps * width
        return found


class CloseLoop(Step, frozen=True, tag="close_the_loop"):
    """First and last frame at rest, so that it can be played round and round."""

    TITLE = N_("Make it loop")
    SAYS = N_("puts the first and last frame at rest, so that it can play as a loop")
    SETTINGS = {"over": _number(N_("Ease over"), 0, 48, N_("frames"))}

    over: int = 3

    def reach(self, _rate: FrameRate) -> int:
        return 0

    def run(self, values: Doubles, first: int, around: Around) -> Doubles:
        at = np.arange(first, first + values.shape[1])
        begin, end = around.used
        share = np.minimum(_eased((at - begin) / (self.over + 1)), _eased((end - 1 - at) / (self.over + 1)))
        return _towards_rest(values, share, around)


AnyStep = CloseSilences | TrimEnds | Smooth | LimitSpeed | EveryFrames | FewerKeys | WholeSteps | CloseLoop
KINDS: tuple[type[AnyStep], ...] = (
    CloseSilences, TrimEnds, Smooth, LimitSpeed, EveryFrames, FewerKeys, WholeSteps, CloseLoop,
)  # fmt: skip


def require_valid_step(step: Step) -> None:
    """Raises ChannelError for a number out of its range."""
    for name, each in step.SETTINGS.items():
        try:
            each.require(name, getattr(step, name))
        except ValueError:
            remedy = _("Use {least:g} to {most:g} {unit}", least=each.least, most=each.most, unit=_(each.unit)).strip()
            raise ChannelError(step.title(), _("“{label}” is out of its range", label=each.name), remedy) from None


def with_number(step: AnyStep, name: str, value: float) -> AnyStep:
    """A step with one of its numbers changed, held to its range."""
    kept: Any = type(getattr(step, name))(step.SETTINGS[name].within(value))
    return msgspec.structs.replace(step, **{name: kept})


def touched_by(steps: Sequence[Step], first: int, end: int, rate: FrameRate, frames: int) -> tuple[int, int]:
    """The frames, of so many, in which a range is felt after all of the steps."""
    for step in steps:
        first, end = step.touched(first, end, rate)
    return max(first, 0), min(end, frames)


def clean(steps: Sequence[Step], curves: Sequence[Curve | Floats], first: int, end: int, around: Around) -> Floats:
    """(curves, end - first) of curves (frames,) after the steps, one after another. The same values whatever range they are
    asked for in, and with whatever others."""
    needed = [(first, end)]
    for step in steps[::-1]:
        begin, until = step.hangs_on(*needed[0], around.rate)
        needed.insert(0, (max(begin, 0), min(until, around.frames)))
    begin, until = needed[0]
    needed_of_all = np.concatenate([curve[begin:until] for curve in curves])
    found = needed_of_all.reshape(len(curves), -1).astype(np.float64)
    for step, (later, until) in zip(steps, needed[1:], strict=True):
        found = step.run(found, begin, around)[:, later - begin : until - begin]
        begin = later
    return found.astype(np.float32)


def _eased(x: Doubles) -> Doubles:
    x = held(x)
    found: Doubles = x * x * (3 - 2 * x)
    return found


def _towards_rest(values: Doubles, share: Doubles, around: Around) -> Doubles:
    found: Doubles = around.rest + (values - around.rest) * share
    return found


def _runs(there: Bools, first: int, end: int, longer: int) -> tuple[Frames, Frames, Frames]:
    """The runs of frames in and beside a range, as far as it takes to tell how long they are: where they begin, where they
    end, and (end - first,) in which of them each frame is, -1 in none."""
    begin, until = max(first - longer - 1, 0), min(end + longer + 1, len(there))
    within = np.zeros(until - begin + 2, np.int8)
    within[1:-1] = there[begin:until]
    change = within[1:] - within[:-1]
    begins, ends = (np.append(begin + (change == turn).nonzero()[0], 0) for turn in (1, -1))
    number = (change[: until - begin] > 0).cumsum() - 1
    return begins, ends, np.where(there[first:end], number[first - begin : end - begin], -1)


def kept_error(before: Floats, after: Floats) -> float:
    """The largest difference that the steps make."""
    return float(np.abs(after - before).max(initial=0.0))


def named(step: Step) -> str:
    """The kind and its numbers, for a list."""
    settings = step.SETTINGS
    told = ", ".join(f"{settings[name].name.lower()} {settings[name].text(v)}" for name, v in step.numbers.items())
    return f"{step.title()}: {told}"
