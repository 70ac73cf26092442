"""Time: seconds for sound, whole frames for animation, and the only place that converts between them.

Sound lives in seconds (float). Animation lives in frames at an exact rational rate. A moment becomes a frame once, at
the bake, by one rule: **the nearest frame boundary, halves upwards** (`FrameRate.nearest`).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction

from buccaphon.errors import RateError

# Decimals that everybody writes for rates that are really n * 1000/1001 (SMPTE ST 12-1).
_NTSC = {
    "23.976": Fraction(24000, 1001),
    "23.98": Fraction(24000, 1001),
    "29.97": Fraction(30000, 1001),
    "47.952": Fraction(48000, 1001),
    "47.95": Fraction(48000, 1001),
    "59.94": Fraction(60000, 1001),
    "119.88": Fraction(120000, 1001),
}
SLOWEST, FASTEST = Fraction(1), Fraction(240)


@dataclass(frozen=True, slots=True)
class FrameRate:
    """Frames per second as an exact fraction, 1 to 240."""

    value: Fraction

    def __post_init__(self) -> None:
        if not SLOWEST <= self.value <= FASTEST:
            raise RateError(f"frame rate {self.value}", "it is not between 1 and 240 frames a second", "Try 24")

    @classmethod
    def parse(cls, text: str) -> FrameRate:
        """Read '24', '23.976', '24000/1001' or '29.97 fps'. A common decimal means its NTSC fraction."""
        plain = text.strip().lower().removesuffix("fps").strip()
        if plain in _NTSC:
            return cls(_NTSC[plain])
        try:
            value = Fraction(plain)
        except (ValueError, ZeroDivisionError):
            raise RateError(
                f"frame rate “{text}”", "it is not a number of frames a second", "Try 24, 25, 29.97 or 24000/1001"
            ) from None
        return cls(value)

    @property
    def label(self) -> str:
        """How people write it: 24, 23.976, 29.97, 12.5."""
        for text, value in _NTSC.items():
            if value == self.value:
                return text
        return str(self.value) if self.value.denominator == 1 else f"{float(self.value):g}"

    def seconds(self, frame: float) -> float:
        """When frame boundary `frame` (counted from 0) lies, in seconds."""
        return float(frame * self.value.denominator / self.value.numerator)

    def frames(self, seconds: float) -> float:
        """The exact, unrounded position of a moment in frames, counted from 0."""
        return seconds * self.value.numerator / self.value.denominator

    def nearest(self, seconds: float) -> int:
        """The frame boundary nearest to a moment; halves go up. This is the one snapping rule."""
        return math.floor(self.frames(seconds) + 0.5)

    def containing(self, seconds: float) -> int:
        """The frame that is on show at a moment. A hair before a boundary counts as on it, so that stepping never sticks."""
        return math.floor(self.frames(seconds) + 1e-6)

    def covering(self, seconds: float) -> int:
        """How many frames are needed to show all of a duration."""
        return math.ceil(self.frames(seconds) - 1e-6)


@dataclass(frozen=True, slots=True, order=True)
class Span:
    """A stretch of time from `start` to `end`, in seconds; `start <= end`."""

    start: float
    end: float

    def __post_init__(self) -> None:
        if not self.start <= self.end:
            raise ValueError(f"a span cannot end ({self.end}) before it starts ({self.start})")

    @property
    def length(self) -> float:
        return self.end - self.start

    def overlap(self, other: Span) -> float:
        """Seconds shared with another span."""
        return max(0.0, min(self.end, other.end) - max(self.start, other.start))

    def clamp(self, seconds: float) -> float:
        return min(max(seconds, self.start), self.end)


def union(spans: Iterable[Span]) -> Span:
    """The shortest span that holds all of them; there must be at least one."""
    found = list(spans)
    return Span(min(s.start for s in found), max(s.end for s in found))


def clock(seconds: float) -> str:
    """Minutes, seconds and thousandths: 1:02.345."""
    thousandths = round(max(seconds, 0.0) * 1000)
    return f"{thousandths // 60000}:{thousandths // 1000 % 60:02d}.{thousandths % 1000:03d}"
