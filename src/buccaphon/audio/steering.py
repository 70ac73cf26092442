"""Loudness made into motion: levels every 10 ms become what opens a mouth, and that becomes a value for each frame.

Between two syllables the level falls by little where the consonant is voiced, and for so short a time that a frame seldom
meets it. So that a mouth still closes there, what lies below the rims of a dip is taken down further (the rims are the hull
of Mermelstein 1975, found by a morphological closing), and the frame that a turning point lies in takes its value.
`docs/motion.md` has what it is worth.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Bools, Floats
from buccaphon.audio.loudness import STEP, Range, gate
from buccaphon.audio.loudness_settings import LoudnessSettings, Scale
from buccaphon.numerics import scipy_part

_DIP = 0.3  # seconds; what falls for longer is a pause
_DEEP = 12.0  # dB below its rims, where a dip closes the mouth for good
_STROKE = 0.12  # seconds that a jaw takes at least from shut to wide open: docs/motion.md has .075 to .171
_NARROW = 1e-3  # steps: a bell that smooths nothing


@dataclass(frozen=True, slots=True)
class Frames:
    """count: of frames. rate: of them a second."""

    count: int
    rate: float


@dataclass(frozen=True, eq=False)
class FineCurve:
    """values: (n,) every `STEP` seconds."""

    values: Floats
    frames: Frames

    @cached_property
    def on_frames(self) -> Floats:
        """(frames,)"""
        return at_frames(self.values, self.frames)


@dataclass(frozen=True, eq=False)
class Mapped:
    """Loudness before its threshold. raw: between floor and ceiling. share: parted into syllables, after attack, release and
    smoothing. bent: that, after the response."""

    raw: FineCurve
    share: Floats
    bent: FineCurve


@dataclass(frozen=True, eq=False)
class DrivenLevels:
    """raw: between floor and ceiling. mapped: that, parted into syllables, after attack, release, smoothing, response and
    peak. gated: (frames,) that, 0 where it is closed. jaw: (frames,) that, no faster than a jaw can be. All are 0..1."""

    raw: FineCurve
    mapped: FineCurve
    gated: Floats
    jaw: Floats

    @property
    def raw_frames(self) -> Floats:
        """(frames,)"""
        return self.raw.on_frames

    @property
    def mapped_frames(self) -> Floats:
        """(frames,)"""
        return self.mapped.on_frames


def share_of(found: Floats, limits: Range, scale: Scale) -> Floats:
    """Levels (n,) in dB of full scale as 0..1 from floor to ceiling, on a scale in dB or of the wave itself."""
    heard, ends = found, np.array([limits.floor, limits.ceiling])
    if scale is not Scale.EAR:
        heard, ends = np.power(np.float32(10), found / 20), 10 ** (ends / 20)
    share: Floats = np.clip((heard - ends[0]) / max(ends[1] - ends[0], 1e-6), 0.0, 1.0).astype(np.float32)
    return share


def mapped(found: Floats, limits: Range, loudness_settings: LoudnessSettings, frames: Frames) -> Mapped:
    """Loudness as it is asked for, up to its threshold. found: (n,) dB of full scale, every `STEP` seconds. limits: floor and
    ceiling in dB."""
    raw = share_of(found, limits, loudness_settings.scale)
    share = _parted(raw, found, limits.floor, loudness_settings.parted)
    share = _smooth(_rise_and_fall(share, loudness_settings), loudness_settings.smoothing / STEP)
    bent = share if loudness_settings.response == 1 else share**loudness_settings.response
    return Mapped(FineCurve(raw, frames), share, FineCurve(bent, frames))


def driven(heard: Mapped, counts: Bools, loudness_settings: LoudnessSettings) -> DrivenLevels:
    """What opens a mouth. counts: (n,) where what is heard may."""
    open_ = gate(heard.share, loudness_settings.opens, loudness_settings.closes) & counts
    opening = np.where(open_, heard.bent.values, np.float32(0))
    frames, bent = heard.bent.frames, heard.bent
    gated, jaw = at_frames(opening, frames), at_frames(_as_a_jaw(opening), frames)
    if loudness_settings.peak is not None:
        bent = FineCurve(_reaching(loudness_settings.peak, bent.values, gated), frames)
        gated, jaw = (_reaching(loudness_settings.peak, curve, curve) for curve in (gated, jaw))
    return DrivenLevels(heard.raw, bent, gated, jaw)


def _reaching(peak: float, curve: Floats, most: Floats) -> Floats:
    """A curve as many times larger as makes the most of another the peak."""
    loudest = float(most.max(initial=0.0))
    reaching: Floats = np.clip(curve * np.float32(peak / loudest if loudest > 0 else 0.0), 0, 1)
    return reaching


def at_frames(curve: Floats, frames: Frames) -> Floats:
    """(count,) a curve (n,), every `STEP` seconds, as frames show it: each its middle, but where the curve turns within a
    frame the highest or lowest of it, so that no frame rate loses a peak or a dip."""
    if not len(curve):
        return np.zeros(frames.count, np.float32)
    step = frames.rate * STEP
    middles = np.interp((np.arange(frames.count) + 0.5) / step - 0.5, np.arange(len(curve)), curve)
    found: Floats = middles.astype(np.float32)
    first = np.minimum(np.ceil(np.arange(frames.count) / step - 0.5).astype(np.intp), len(curve) - 1)
    before, after = curve[np.maximum(first - 1, 0)], curve[np.append(first[1:], len(curve) - 1)]
    high, low = np.maximum.reduceat(curve, first), np.minimum.reduceat(curve, first)
    is_peak, is_dip = (high > before) & (high >= after), (low < before) & (low <= after)
    is_peak &= ~is_dip | (high - found >= found - low)
    turning: Floats = np.where(is_peak, np.maximum(high, found), np.where(is_dip, np.minimum(low, found), found))
    return turning


def _parted(share: Floats, found: Floats, floor: float, parted: float) -> Floats:
    """With dips of the level deeper than they are. parted: 0..1, how much."""
    if not parted or not len(share):
        return share
    heard = np.maximum(found, floor)
    below = scipy_part("ndimage").grey_closing(heard, round(_DIP / STEP)) - heard
    deeper: Floats = (share * np.clip(1 - below * (parted / _DEEP), 0, 1)).astype(np.float32)
    return deeper


def _rise_and_fall(share: Floats, loudness_settings: LoudnessSettings) -> Floats:
    """Each step goes part of the way to the next value: one part where it rises, another where it falls."""
    if not loudness_settings.attack and not loudness_settings.release:
        return share
    up, down = (
        1 - math.exp(-STEP / time) if time > _NARROW * STEP else 1.0
        for time in (loudness_settings.attack, loudness_settings.release)
    )
    risen, at = list[float](), 0.0
    for value in share.tolist():
        at += (value - at) * (up if value > at else down)
        risen.append(at)
    return np.array(risen, np.float32)


def _smooth(share: Floats, width: float) -> Floats:
    """width: of the bell, in steps."""
    if width < _NARROW or not len(share):
        return share
    many = math.ceil(3 * width)
    return _through(share, np.exp(-0.5 * (np.arange(-many, many + 1) / width) ** 2))


def _as_a_jaw(opening: npt.NDArray[np.floating]) -> Floats:
    """An opening (n,) as a jaw follows it, without delay: a step of it becomes the minimum-jerk movement of docs/motion.md,
    so that nothing is faster than that."""
    if not len(opening):
        return opening.astype(np.float32)
    many = round(_STROKE / STEP)
    x = np.arange(1, many) / many
    return _through(opening, (x * (1 - x)) ** 2)  # how fast 10 x³ - 15 x⁴ + 6 x⁵ goes


def _through(curve: npt.NDArray[np.floating], bell: npt.NDArray[np.float64]) -> Floats:
    """bell: (odd,) weights."""
    padded = np.pad(curve, len(bell) // 2, mode="edge")
    found: Floats = np.convolve(padded, bell / bell.sum(), mode="valid").astype(np.float32)
    return found
