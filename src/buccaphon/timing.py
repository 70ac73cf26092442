"""Time: seconds for sound, whole frames for animation, and the only place that converts between them.

Sound lives in seconds (float). Animation lives in frames at an exact rational rate. A moment becomes a frame once, at
the bake, by one rule: **the nearest frame boundary, halves upwards** (`FrameRate.nearest`).
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction

from buccaphon.choice import Choice
from buccaphon.errors import RateError
from buccaphon.texts import N_, _

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
_RATE = re.compile(r"[0-9]{1,9}(\.[0-9]{1,9})?(/[0-9]{1,9})?")  # without exponents, which can be of any size
FURTHEST = 43_200.0  # seconds from the start of a recording, or of the scene, that anything may lie
SLOWEST, FASTEST = Fraction(1), Fraction(240)


@dataclass(frozen=True, slots=True)
class FrameRate:
    """Frames per second as an exact fraction, 1 to 240."""

    value: Fraction

    def __post_init__(self) -> None:
        if not SLOWEST <= self.value <= FASTEST:
            raise RateError(_("frame rate {rate}", rate=self.value), _("it is not between 1 and 240 fps"), _("Try 24"))

    @classmethod
    def parse(cls, text: str) -> FrameRate:
        """Read '24', '23.976', '24000/1001' or '29.97 fps'. A common decimal means its NTSC fraction."""
        plain = text.strip().lower().removesuffix("fps").strip()
        if plain in _NTSC:
            return cls(_NTSC[plain])
        try:
            if not _RATE.fullmatch(plain):
                raise ValueError(plain)
            value = Fraction(plain)
        except (ValueError, ZeroDivisionError):
            raise RateError(
                _("frame rate “{text}”", text=text[:40]),
                _("it is not a frame rate"),
                _("Try 24, 25, 29.97 or 24000/1001"),
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

    def meets(self, other: Span) -> bool:
        """Whether it is the same stretch, or shares more than half of the shorter one."""
        return self == other or self.overlap(other) > min(self.length, other.length) / 2

    def outside(self, hole: Span) -> list[Span]:
        """What of the span lies outside another: itself, or up to two pieces."""
        if self.overlap(hole) <= 0:
            return [self]
        left = [Span(self.start, hole.start)] if self.start < hole.start else []
        return left + ([Span(hole.end, self.end)] if self.end > hole.end else [])

    def clamp(self, seconds: float) -> float:
        return min(max(seconds, self.start), self.end)


class TimeDisplay(Choice):
    """The ways to say where a frame lies."""

    FRAMES = "frames", N_("frames")
    TIMECODE = "timecode", N_("timecode")
    FEET_35 = "feet_35", N_("feet and frames, 35 mm")
    FEET_16 = "feet_16", N_("feet and frames, 16 mm")
    SECONDS = "seconds", N_("seconds")


_FRAMES_A_FOOT = {TimeDisplay.FEET_35: 16, TimeDisplay.FEET_16: 40}


def read_out(frame: int, rate: FrameRate, reading: TimeDisplay) -> str:
    """A frame's number said in one of the ways: 'f 31', '00:00:01:07', '1+15', '1.292 s'."""
    if reading is TimeDisplay.TIMECODE:
        return timecode(frame, rate)
    if reading in _FRAMES_A_FOOT:
        feet, rest = divmod(abs(frame), _FRAMES_A_FOOT[reading])
        return f"{'-' if frame < 0 else ''}{feet}+{rest:02d}"
    if reading is TimeDisplay.SECONDS:
        return f"{rate.seconds(frame):.3f} s"
    return f"f {frame}"


def timecode(frame: int, rate: FrameRate) -> str:
    """Hours, minutes, seconds and frames, after SMPTE ST 12-1; at 29.97 and 59.94 frames a second with dropped numbers,
    told by a semicolon."""
    count = max(round(rate.value), 1)
    drops = count // 15 if rate.value.denominator == 1001 and count % 30 == 0 else 0
    sign, frame = ("-" if frame < 0 else ""), abs(frame)
    if drops:  # the first `drops` numbers of every minute but each tenth are left out
        in_ten, in_one = 600 * count - 9 * drops, 60 * count - drops
        tens, rest = divmod(frame, in_ten)
        frame += drops * 9 * tens + drops * max((rest - drops) // in_one, 0)
    seconds, frames = divmod(frame, count)
    last = ";" if drops else ":"
    return f"{sign}{seconds // 3600:02d}:{seconds // 60 % 60:02d}:{seconds % 60:02d}{last}{frames:02d}"


def frame_of_timecode(text: str, rate: FrameRate) -> int:
    """The frame that `timecode` writes so; numbers that are dropped count as the frame they would stand before.

    text: hours, minutes, seconds and frames, with ':' or ';' between them. Raises ValueError when it is not that.
    """
    hours, minutes, seconds, frames = (int(part) for part in re.split("[:;]", text))
    count = max(round(rate.value), 1)
    minutes += 60 * hours
    frame = (60 * minutes + seconds) * count + frames
    drops = count // 15 if rate.value.denominator == 1001 and count % 30 == 0 else 0
    return frame - drops * (minutes - minutes // 10)


def seconds_of(text: str, rate: FrameRate, start_frame: int = 0) -> float:
    """A place in a scene, from its first frame on: seconds ("1.5"), a frame by its number ("f101") or timecode
    ("00:00:04:12"). start_frame: the number of the first frame. Raises ValueError when it is none of these."""
    text = text.strip().lower().replace(",", ".")
    if text.startswith("f"):
        return rate.seconds(int(text[1:]) - start_frame)
    if ":" in text or ";" in text:
        return rate.seconds(frame_of_timecode(text, rate) - start_frame)
    found = float(text)
    if not abs(found) <= FURTHEST:
        raise ValueError(text)
    return found


def clock(seconds: float) -> str:
    """Minutes, seconds and thousandths: 1:02.345."""
    thousandths = round(max(seconds, 0.0) * 1000)
    return f"{thousandths // 60000}:{thousandths // 1000 % 60:02d}.{thousandths % 1000:03d}"
