"""How loud the recording is at each animation frame, as 0 (the room) to 1 (full voice)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from buccaphon.audio.peaks import Peaks, PeaksBuilder
from buccaphon.audio.recording import Channel, Recording, mix_down
from buccaphon.choice import Choice
from buccaphon.errors import ChannelError
from buccaphon.numerics import scipy_part
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_, _

Array = npt.NDArray[np.float32]

_WINDOW = 0.040  # seconds; a little over one period of the deepest voices
_LEAST_DB = -90.0  # below anything that a recorder hears
_SILENT = 1e-5  # peak, about -100 dBFS
_CEILING_PERCENTILE, _FLOOR_PERCENTILE = 95.0, 10.0  # of what is heard: loud vowels, and the room
_ABOVE_ROOM = 6.0  # dB between the room and the floor
_SPREAD = (25.0, 45.0)  # dB that the floor lies below the ceiling, at least and at most
_CLOSES_AT = 0.06  # of the range: once open, the gate shuts below this and opens again above twice that


@dataclass(frozen=True, slots=True)
class Range:
    """floor, ceiling: levels in dB of full scale that become 0 and 1."""

    floor: float
    ceiling: float


class Band(Choice):
    """Which frequencies of the sound are used."""

    WHOLE = "all", N_("full range")
    VOICE = "voice", N_("voice")
    UPPER = "high", N_("high frequencies")


LONGEST_RISE = 2.0  # seconds of attack, release, smoothing
_RISE: dict[str, Any] = {"least": 0.0, "most": LONGEST_RISE, "scale": 1000, "unit": "ms", "step": 10}
_SHARE: dict[str, Any] = {"least": 0.0, "most": 1.0, "scale": 100, "unit": "%"}


@dataclass(frozen=True, slots=True)
class LoudnessSettings:
    """How loudness is made into 0..1. channel: of the recording; None is the one that the words are heard on. attack,
    release: seconds in which it rises and falls. smoothing: seconds, the width of a bell. floor, ceiling: dB of full scale
    that become 0 and 1; None is found from the recording. gate_opens, gate_closes: 0..1. response: a power: below 1 soft
    sounds count for more. peak: what the loudest becomes; None leaves it. loudness_only: it drives the mouth also where there
    are words."""

    band: Band = setting(
        Band.WHOLE,
        N_("Frequencies"),
        N_("Which frequencies are used: “voice” ignores rumble and hiss"),
        choices=Band,
        words=N_("band bass treble voice filter equaliser eq rumble"),
    )
    channel: Channel | None = setting(
        None,
        N_("Channel"),
        N_("Which channel of the recording is used"),
        choices=((None, N_("As played")),),
        words=N_("channel stereo left right mono mix side"),
    )
    attack: float = setting(0.0, N_("Attack"), N_("Longer values open more gently"), words="rise", **_RISE)
    release: float = setting(0.0, N_("Release"), N_("Longer values close more slowly"), words=N_("fall decay"), **_RISE)
    smoothing: float = setting(0.0, N_("Smoothing"), N_("Smooths without delay"), words="smooth", **_RISE)
    gate_opens: float = setting(
        2 * _CLOSES_AT,
        N_("Gate opens above"),
        N_("The gate opens above this"),
        words=N_("threshold gate noise gate floor"),
        **_SHARE,
    )
    gate_closes: float = setting(
        _CLOSES_AT,
        N_("Gate closes below"),
        N_("The gate closes below this; keep it lower than “Gate opens above” to avoid flutter"),
        words=N_("threshold gate hysteresis noise gate"),
        **_SHARE,
    )
    response: float = setting(
        1.0,
        N_("Response"),
        N_("Below 1 soft sounds open more, above 1 only loud ones do"),
        least=0.2,
        most=5.0,
        step=0.1,
        decimals=2,
        words=N_("gamma curve gain contrast bend"),
    )
    peak: float | None = setting(
        None,
        N_("Peak value"),
        N_("Value reached by the loudest syllable"),
        none=N_("unchanged"),
        words=N_("normalise normalize maximum peak ceiling"),
        **_SHARE,
    )
    floor: float | None = None
    ceiling: float | None = None
    loudness_only: bool = setting(
        False,
        N_("Loudness only"),
        N_("Mouths and jaw follow loudness even where there are words; the words are kept"),
        words=N_("amplitude flap without words audio driven"),
    )


DEFAULT_LOUDNESS = LoudnessSettings()
_NARROW = 1e-3  # frames: a bell that smooths nothing
_MOST_CHANNELS = 8  # as reading allows
LEVELS = (_LEAST_DB, 0.0)  # dB


@dataclass(frozen=True, eq=False)
class DrivenLevels:
    """(frames,) 0..1 each. raw: between floor and ceiling. mapped: after attack, release, smoothing, bend and reach. gated:
    that, with silence exactly 0."""

    raw: Array
    mapped: Array
    gated: Array


def require_valid_loudness(loudness_settings: LoudnessSettings) -> None:
    """Raises ChannelError for what cannot be."""
    problem = ""
    try:
        require_valid_settings(loudness_settings)
    except ValueError as out_of_range:
        problem = str(out_of_range)
    ends = (loudness_settings.floor, loudness_settings.ceiling)
    if isinstance(loudness_settings.channel, int) and not 0 <= loudness_settings.channel < _MOST_CHANNELS:
        problem = f"there is no channel {loudness_settings.channel + 1}"
    elif not all(level is None or LEVELS[0] <= level <= LEVELS[1] for level in ends):
        problem = f"floor and ceiling must be between {LEVELS[0]:g} and {LEVELS[1]:g} dB"
    elif not loudness_settings.gate_closes <= loudness_settings.gate_opens:
        problem = "the gate must close at or below the level where it opens"
    if problem:
        raise ChannelError("loudness", problem, _("Choose a value within"))


def levels(peaks: Peaks, times: npt.NDArray[np.float64]) -> Array:
    """RMS level in dB of full scale around each moment. times: (n,) seconds. Returns (n,) float32, -90 or more."""
    power = peaks.mean_squares(times - _WINDOW / 2, times + _WINDOW / 2)
    return np.asarray(np.maximum(10 * np.log10(np.maximum(power, 1e-12)), _LEAST_DB), np.float32)


def automatic_range(found: Array) -> Range:
    """Floor and ceiling from the histogram of levels: the room plus 6 dB, and the level that 5 % exceed."""
    ceiling = float(np.percentile(found, _CEILING_PERCENTILE))
    room = float(np.percentile(found, _FLOOR_PERCENTILE))
    least, most = _SPREAD
    return Range(float(np.clip(room + _ABOVE_ROOM, ceiling - most, ceiling - least)), ceiling)


def range_of(limits: Range, loudness_settings: LoudnessSettings) -> Range:
    """Floor and ceiling as they are said, or as they were found by themselves."""
    floor = limits.floor if loudness_settings.floor is None else loudness_settings.floor
    ceiling = limits.ceiling if loudness_settings.ceiling is None else loudness_settings.ceiling
    return Range(floor, max(ceiling, floor + 1.0))


def steer(found: Array, limits: Range, loudness_settings: LoudnessSettings, rate: float) -> DrivenLevels:
    """Levels (frames,) in dB, `rate` a second, as they are asked for."""
    raw = np.clip((found - limits.floor) / max(limits.ceiling - limits.floor, 1e-6), 0.0, 1.0).astype(np.float32)
    share = _smooth(_rise_and_fall(raw, loudness_settings, rate), loudness_settings.smoothing * rate)
    open_ = _gate(share, loudness_settings.gate_opens, loudness_settings.gate_closes)
    mapped = share if loudness_settings.response == 1 else share**loudness_settings.response
    if loudness_settings.peak is not None and (loudest := float(mapped.max(initial=0.0))) > 0:
        mapped = mapped * (loudness_settings.peak / loudest)
    mapped = np.clip(mapped, 0, 1).astype(np.float32)
    return DrivenLevels(raw, mapped, np.where(open_, mapped, 0.0).astype(np.float32))


def _rise_and_fall(share: Array, loudness_settings: LoudnessSettings, rate: float) -> Array:
    """Each frame goes part of the way to the next value: one part where it rises, another where it falls."""
    if not loudness_settings.attack and not loudness_settings.release:
        return share
    up, down = (
        1 - math.exp(-1 / (time * rate)) if time * rate > _NARROW else 1.0
        for time in (loudness_settings.attack, loudness_settings.release)
    )
    found, at = [], 0.0
    for value in share.tolist():
        at += (value - at) * (up if value > at else down)
        found.append(at)
    return np.array(found, np.float32)


def _smooth(share: Array, width: float) -> Array:
    if width < _NARROW or not len(share):
        return share
    many = math.ceil(3 * width)
    bell = np.exp(-0.5 * (np.arange(-many, many + 1) / width) ** 2)
    return np.convolve(np.pad(share, many, mode="edge"), bell / bell.sum(), mode="valid").astype(np.float32)


_EDGES = {Band.VOICE: (120.0, 3500.0), Band.UPPER: (3000.0, 0.0)}  # Hz; 0 is as far up as the recording goes


def peaks_of(recording: Recording, band: Band) -> Peaks:
    """The pyramid of a part of a recording's sound: Butterworth filters of the 4th order, block by block."""
    signal = scipy_part("signal")
    low, high = _EDGES[band]
    half = recording.rate / 2
    low = min(low, 0.45 * recording.rate)
    kind, edges = ("highpass", low) if not high or high >= 0.95 * half else ("bandpass", (low, high))
    filter_ = signal.butter(4, edges, kind, fs=recording.rate, output="sos")
    builder, state = PeaksBuilder(), np.zeros((len(filter_), 2))
    for block in recording.blocks():
        found, state = signal.sosfilt(filter_, mix_down(block), zi=state)
        builder.add(found.astype(np.float32)[:, None])
    return builder.finish(recording.rate)


def openness(found: Array, limits: Range) -> Array:
    """Levels mapped to 0..1 with a gate: (n,) dB to (n,) float32. What is at or below the floor is exactly 0."""
    share = np.clip((found - limits.floor) / max(limits.ceiling - limits.floor, 1e-6), 0.0, 1.0)
    return np.asarray(np.where(_gate(share, 2 * _CLOSES_AT, _CLOSES_AT), share, 0.0), np.float32)


def _gate(share: Array, opens: float, shuts: float) -> npt.NDArray[np.bool_]:
    """Schmitt trigger."""
    state = np.where(share > opens, 1, np.where(share < shuts, 0, -1))
    known = np.maximum.accumulate(np.where(state >= 0, np.arange(len(state)), 0))
    return state[known] == 1 if len(state) else np.zeros(0, np.bool_)


def loudness(peaks: Peaks, times: npt.NDArray[np.float64]) -> Array:
    """0..1 at each moment with automatic floor and ceiling; all 0 for a silent recording."""
    if peaks.loudest() < _SILENT:
        return np.zeros(len(times), np.float32)
    everywhere = levels(peaks, np.arange(0.0, peaks.duration, 0.02))
    return openness(levels(peaks, times), automatic_range(everywhere))
