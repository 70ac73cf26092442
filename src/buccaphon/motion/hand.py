"""Curves drawn by hand over what the machine makes: points, and how the curve goes on from each. They win over every step."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from buccaphon.arrays import Bools, Doubles, Floats
from buccaphon.choice import Choice
from buccaphon.errors import ChannelError
from buccaphon.motion.keys import kept_frames
from buccaphon.motion.record import frame_middles
from buccaphon.setting import setting
from buccaphon.texts import N_, _
from buccaphon.timing import FrameRate, Span

MOST_POINTS = 100_000  # of a curve: half an hour drawn at 60 fps
LARGEST = 100_000.0  # of a value
LONGEST_FADE = 2.0  # seconds
DEFAULT_FADE = 0.08  # seconds: two frames at 24
NEAR = 1e-4  # seconds in which two points are the same one


class Interpolation(Choice):
    """From one point of a curve to the next. FREE leaves the automatic curve as it is."""

    SMOOTH = "smooth", N_("smooth")
    LINEAR = "linear", N_("straight")
    HELD = "held", N_("held")
    FREE = "automatic", N_("automatic")


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """seconds: of the recording. value: of the channel, or what is added to it. into, out: slopes by hand at its left and
    right, in values a second, where the curve is smooth there; None is automatic."""

    seconds: float
    value: float = setting(
        0.0,
        N_("Point value"),
        N_("Value of the selected point"),
        least=-LARGEST,
        most=LARGEST,
        step=0.05,
        decimals=3,
        words=N_("key keyframe"),
    )
    interpolation: Interpolation = setting(
        Interpolation.SMOOTH,
        N_("Interpolation"),
        N_("From the selected point to the next"),
        choices=Interpolation,
        words=N_("tangent linear stepped ease bezier"),
    )
    into: float | None = None
    out: float | None = None


@dataclass(frozen=True, slots=True)
class HandCurve:
    """channel: its id. points: rising. adds: whether it is added to the machine's curve or replaces it. fade: seconds over
    which it comes and goes beside its rims."""

    channel: str
    points: tuple[CurvePoint, ...]
    adds: bool = setting(
        False,
        N_("Drawn curve"),
        N_("Whether your drawing replaces the automatic curve or is added to it"),
        choices=((False, N_("Replaces")), (True, N_("Adds"))),
        words=N_("replace add override offset"),
    )
    fade: float = setting(
        DEFAULT_FADE,
        N_("Fade"),
        N_("How long the drawn part fades in and out at its edges"),
        least=0.0,
        most=LONGEST_FADE,
        scale=1000,
        unit="ms",
        step=10,
        words=N_("blend ease transition"),
    )

    @property
    def span(self) -> Span:
        """From where it is felt to where it no longer is."""
        if not self.points:
            return Span(0.0, 0.0)
        return Span(self.points[0].seconds - self.fade, self.points[-1].seconds + self.fade)

    def at(self, seconds: float) -> float:
        """What it says, or what its rim says beside it."""
        return float(_drawn(self.points, np.array([seconds]))[0])

    def point_near(self, seconds: float, within: float) -> int | None:
        """The number of the nearest point."""
        if not self.points:
            return None
        number = min(range(len(self.points)), key=lambda n: abs(self.points[n].seconds - seconds))
        return number if abs(self.points[number].seconds - seconds) <= within else None


def require_valid_curve(curve: HandCurve) -> None:
    """Raises ChannelError for what cannot be."""
    numbers = [value for p in curve.points for value in (p.value, p.into or 0.0, p.out or 0.0)]
    problem = ""
    if not all(abs(value) <= LARGEST for value in numbers):
        problem = f"a value is beyond {LARGEST:g}"
    elif not 0 <= curve.fade <= LONGEST_FADE:
        problem = f"it fades over more than {LONGEST_FADE:g} s"
    elif len(curve.points) > MOST_POINTS:
        problem = f"it has more than {MOST_POINTS} points"
    elif not all(a.seconds < b.seconds for a, b in pairwise(curve.points)):
        problem = "its points are not in order"
    if problem:
        raise ChannelError(curve.channel, problem, _("Draw it again"))


# --- changing one -----------------------------------------------------------------------------------------------------------


def with_point(curve: HandCurve, point: CurvePoint) -> HandCurve:
    """With a point, in the place of one that is there."""
    others = tuple(p for p in curve.points if abs(p.seconds - point.seconds) > NEAR)
    at = bisect_left(others, point.seconds, key=lambda p: p.seconds)
    return replace(curve, points=(*others[:at], point, *others[at:]))


def without(curve: HandCurve, span: Span) -> HandCurve:
    """Without the points of a stretch; there the machine's curve shows again."""
    first = bisect_left(curve.points, span.start - NEAR, key=lambda p: p.seconds)
    end = bisect_right(curve.points, span.end + NEAR, key=lambda p: p.seconds)
    before, after = curve.points[:first], curve.points[end:]
    if before and (first < end or after):  # also where no point lies between the two that the curve goes along
        before = (*before[:-1], replace(before[-1], interpolation=Interpolation.FREE))
    return replace(curve, points=(*before, *after))


def drawn_over(curve: HandCurve, points: Sequence[CurvePoint]) -> HandCurve:
    """With a line drawn over it: its points take the place of those in their stretch; on both sides the curve goes on as it
    was."""
    if not points:
        return curve
    start, end = points[0].seconds, points[-1].seconds
    before = [p for p in curve.points if p.seconds < start - NEAR]
    after = [p for p in curve.points if p.seconds > end + NEAR]
    inside = [p for p in curve.points if start - NEAR <= p.seconds <= end + NEAR]
    was_led = bool(before) and before[-1].interpolation is not Interpolation.FREE and bool(inside or after)
    led_on = (inside or before)[-1].interpolation if (inside or before) and after else Interpolation.FREE
    last = replace(points[-1], interpolation=led_on)
    if before and not was_led:
        before[-1] = replace(before[-1], interpolation=Interpolation.FREE)
    return replace(curve, points=(*before, *points[:-1], last, *after))


def moved(curve: HandCurve, span: Span, by: float = 0.0, times: float = 1.0, about: float = 0.0) -> HandCurve:
    """The points of a stretch raised, and scaled about a value."""

    def move(point: CurvePoint) -> CurvePoint:
        if not span.start - NEAR <= point.seconds <= span.end + NEAR:
            return point
        slopes = (
            None if slope is None else min(max(slope * times, -LARGEST), LARGEST) for slope in (point.into, point.out)
        )
        into, out = slopes
        value = min(max(about + (point.value - about) * times + by, -LARGEST), LARGEST)
        return replace(point, value=value, into=into, out=out)

    return replace(curve, points=tuple(move(p) for p in curve.points))


def pencilled(
    seconds: Sequence[float], values: Sequence[float], rate: FrameRate, error: float
) -> tuple[CurvePoint, ...]:
    """Points, on the middles of frames, of a line that a hand drew: as few as stay within an error of it."""
    order = np.argsort(seconds, kind="stable")
    x, y = np.asarray(seconds, np.float64)[order], np.asarray(values, np.float64)[order]
    if not len(x):
        return ()
    first, end = rate.containing(float(x[0])), rate.containing(float(x[-1])) + 1
    middles = frame_middles(first, end, rate)
    line = np.interp(middles, x, y)
    keys = kept_frames(line, error)
    return tuple(
        CurvePoint(at, value, Interpolation.LINEAR)
        for at, value in zip(middles[keys].tolist(), line[keys].tolist(), strict=True)
    )


# --- what comes of it -------------------------------------------------------------------------------------------------------


def lay_over(curve: HandCurve, values: Floats, first: int, rate: FrameRate) -> Floats:
    """(n,) of the frames from `first` on, with what is drawn by hand: the same in whatever range it is asked for."""
    if not curve.points or not len(values):
        return values
    t = frame_middles(first, first + len(values), rate)
    near = _near(curve, float(t[0]), float(t[-1]))
    at = np.array([p.seconds for p in near.points])
    drawn, share = _drawn(near.points, t), _share(near, at, t)
    made = values.astype(np.float64)
    if curve.adds:
        return (made + share * drawn).astype(np.float32)
    return np.where(share >= 1, drawn, made + share * (drawn - made)).astype(np.float32)


def _near(curve: HandCurve, start: float, end: float) -> HandCurve:
    """The points that count in a stretch of time, with the neighbours that their slopes look at."""
    first = bisect_right(curve.points, start, key=lambda p: p.seconds) - 1
    last = bisect_left(curve.points, end, key=lambda p: p.seconds)
    return replace(curve, points=curve.points[max(first - 2, 0) : last + 3])


def _share(curve: HandCurve, at: Doubles, t: Doubles) -> Doubles:
    """How much of what is drawn counts: 1 from point to point, less beside rims."""
    number = np.searchsorted(at, t, side="right") - 1
    before, after = np.maximum(number, 0), np.minimum(number + 1, len(at) - 1)
    free = np.array([p.interpolation is Interpolation.FREE for p in curve.points])
    led = (number >= 0) & (number < len(at) - 1) & ~free[before]
    away = np.minimum(np.where(number >= 0, t - at[before], np.inf), np.where(t <= at[-1], at[after] - t, np.inf))
    near = np.clip(1 - np.maximum(away, 0) / max(curve.fade, 1e-9), 0, 1)
    eased: Doubles = near * near * (3 - 2 * near)
    return np.where(led | (away <= NEAR), 1.0, eased)


def _drawn(points: Sequence[CurvePoint], t: Doubles) -> Doubles:
    """What the curve says at each moment; beside its rims, and where it is free, what the nearer point says."""
    at, value = np.array([p.seconds for p in points]), np.array([p.value for p in points])
    if len(at) == 1:
        return np.full(len(t), value[0])
    into, out = _slopes(points, at, value)
    left = np.clip(np.searchsorted(at, t, side="right") - 1, 0, len(at) - 2)
    right, length = left + 1, at[left + 1] - at[left]
    x = np.clip((t - at[left]) / length, 0, 1)
    straight = value[left] + (value[right] - value[left]) * x
    x2, x3 = x * x, x * x * x
    smooth = (  # the cubic of Hermite
        (2 * x3 - 3 * x2 + 1) * value[left]
        + (x3 - 2 * x2 + x) * length * out[left]
        + (3 * x2 - 2 * x3) * value[right]
        + (x3 - x2) * length * into[right]
    )
    kinds = np.array([list(Interpolation).index(p.interpolation) for p in points])[left]
    held = np.where(x < 1, value[left], value[right])
    free = np.where(x < 0.5, value[left], value[right])
    found: Doubles = np.choose(kinds, [smooth, straight, held, free])
    return found


def _slopes(points: Sequence[CurvePoint], at: Doubles, value: Doubles) -> tuple[Doubles, Doubles]:
    """At the left and the right of each point: by hand, or such that the curve turns only at points (Fritsch and Butland
    1984)."""
    steps = np.diff(value) / np.diff(at)
    lengths = np.diff(at)
    found = np.zeros(len(at))
    a, b = steps[:-1], steps[1:]
    w1, w2 = 2 * lengths[1:] + lengths[:-1], lengths[1:] + 2 * lengths[:-1]
    with np.errstate(divide="ignore", invalid="ignore"):
        mean = (w1 + w2) / (w1 / a + w2 / b)
    found[1:-1] = np.where(a * b > 0, mean, 0.0)
    into = np.array([s if p.into is None else p.into for p, s in zip(points, found.tolist(), strict=True)])
    out = np.array([s if p.out is None else p.out for p, s in zip(points, found.tolist(), strict=True)])
    return into, out


def where_drawn(curve: HandCurve, frames: int, rate: FrameRate) -> Bools:
    """(frames,) where what is drawn counts at all."""
    if not curve.points:
        return np.zeros(frames, np.bool_)
    at = np.array([p.seconds for p in curve.points])
    found: Bools = _share(curve, at, frame_middles(0, frames, rate)) > 0
    return found


def frames_of_difference(one: HandCurve | None, other: HandCurve | None, rate: FrameRate) -> tuple[int, int] | None:
    """The frames, from a first up to an end, in which two states of a curve can differ."""
    if one == other:
        return None
    a, b = one.points if one else (), other.points if other else ()
    fade = max((c.fade for c in (one, other) if c), default=0.0)
    if one and other and (one.adds, one.fade) == (other.adds, other.fade):
        least = min(len(a), len(b))
        same = next((n for n in range(least) if a[n] != b[n]), least)
        room = least - same
        tail = next((n for n in range(room) if a[-1 - n] != b[-1 - n]), room)
        # slopes by themselves look at both neighbours, and the next segment hangs on them
        spans = [c[max(same - 2, 0) : len(c) - max(tail - 2, 0)] for c in (a, b)]
    else:
        spans = [a, b]
    moments = [p.seconds for c in spans for p in c]
    if not moments:
        return None
    return max(rate.containing(max(min(moments) - fade, 0.0)) - 1, 0), rate.covering(max(moments) + fade) + 1
