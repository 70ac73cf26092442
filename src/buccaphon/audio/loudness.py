"""How loud the recording is at each animation frame, as 0 (the room) to 1 (full voice)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Bools, Floats
from buccaphon.audio.loudness_settings import LEVELS, LoudnessSettings, Scale
from buccaphon.audio.peaks import Peaks, PeaksBuilder
from buccaphon.audio.recording import Recording, mix_down
from buccaphon.numerics import scipy_part

_WINDOW, _SHORT_WINDOW = 0.040, 0.030  # seconds; some periods of the deepest voices
STEP = 0.010  # seconds from one level to the next
_LEAST_DB = LEVELS[0]
_LEAST_CEILING = -50.0  # dB: what is quieter than that throughout is noise of the recorder
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


def levels(peaks: Peaks, times: npt.NDArray[np.float64], window: float = _WINDOW) -> Floats:
    """RMS level in dB of full scale around each moment. times: (n,) seconds. window: seconds that count. Returns (n,)
    float32, -90 or more."""
    power = peaks.mean_squares(times - window / 2, times + window / 2)
    return np.asarray(np.maximum(10 * np.log10(np.maximum(power, 1e-12)), _LEAST_DB), np.float32)


def automatic_range(found: Floats, least: float = _LEAST_DB) -> Range:
    """Floor and ceiling from the histogram of levels: the room plus 6 dB, and the level that 5 % exceed. least: dB, of the
    ceiling."""
    ceiling = max(float(np.percentile(found, _CEILING_PERCENTILE)), least)
    room = float(np.percentile(found, _FLOOR_PERCENTILE))
    least, most = _SPREAD
    return Range(float(np.clip(room + _ABOVE_ROOM, ceiling - most, ceiling - least)), ceiling)


def levels_in_steps(peaks: Peaks) -> Floats:
    """(n,) of a whole recording, one each `STEP` seconds; each of so short a time that a stop between vowels can be heard."""
    return levels(peaks, np.arange(STEP / 2, peaks.duration, STEP), _SHORT_WINDOW)


def limits_of(found: Floats, scale: Scale) -> Range:
    """Floor and ceiling that are automatic on a scale. found: (n,) levels of the recording."""
    if scale is Scale.EAR:
        return automatic_range(found, _LEAST_CEILING)
    return Range(LEVELS[0], float(found.max(initial=_LEAST_CEILING)) if scale is Scale.LOUDEST else LEVELS[1])


def range_of(limits: Range, loudness_settings: LoudnessSettings) -> Range:
    """Floor and ceiling as they are said, or the automatic ones."""
    floor = limits.floor if loudness_settings.floor is None else loudness_settings.floor
    ceiling = limits.ceiling if loudness_settings.ceiling is None else loudness_settings.ceiling
    return Range(floor, max(ceiling, floor + 1.0))


def peaks_of(recording: Recording, edges: tuple[float, float]) -> Peaks:
    """The pyramid of a part of a recording's sound: Butterworth filters of the 4th order, block by block. edges: Hz; 0 is as
    far as the recording goes."""
    signal = scipy_part("signal")
    low, high = edges
    half = recording.rate / 2
    low = min(low, 0.9 * half)
    kind, critical = ("highpass", low) if not high or high >= 0.95 * half else ("bandpass", (low, high))
    filter_ = signal.butter(4, critical, kind, fs=recording.rate, output="sos")
    builder, state = PeaksBuilder(), np.zeros((len(filter_), 2))
    for block in recording.blocks():
        found, state = signal.sosfilt(filter_, mix_down(block), zi=state)
        builder.add(found.astype(np.float32)[:, None])
    return builder.finish(recording.rate)


def openness(found: Floats, limits: Range) -> Floats:
    """Levels mapped to 0..1 with a gate: (n,) dB to (n,) float32. What is at or below the floor is exactly 0."""
    share = np.clip((found - limits.floor) / max(limits.ceiling - limits.floor, 1e-6), 0.0, 1.0)
    return np.asarray(np.where(gate(share, 2 * _CLOSES_AT, _CLOSES_AT), share, 0.0), np.float32)


def gate(share: Floats, opens: float, closes: float) -> Bools:
    """Schmitt trigger: (n,) whether it is open, from where a share rises above one level to where it falls below another."""
    state = np.where(share > opens, 1, np.where(share < closes, 0, -1))
    known = np.maximum.accumulate(np.where(state >= 0, np.arange(len(state)), 0))
    return state[known] == 1 if len(state) else np.zeros(0, np.bool_)


def loudness(peaks: Peaks, times: npt.NDArray[np.float64]) -> Floats:
    """0..1 at each moment with automatic floor and ceiling; all 0 for a silent recording."""
    if peaks.loudest() < _SILENT:
        return np.zeros(len(times), np.float32)
    everywhere = levels(peaks, np.arange(0.0, peaks.duration, 0.02))
    return openness(levels(peaks, times), automatic_range(everywhere))
