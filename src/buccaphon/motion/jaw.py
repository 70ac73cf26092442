"""How far the jaw is open on every frame: form from the sounds, size from the loudness."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from buccaphon.arrays import Bools, Doubles, Floats
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.score.records import Phone
from buccaphon.speech.phones import is_vowel

_VOWEL_REACH, _CONSONANT_REACH = 0.075, 0.045  # seconds in which a sound's pull falls to 1/e on either side
_VOWEL_PULL, _CONSONANT_PULL = 1.0, 0.6
_STRESS_GAIN, _WEAK_GAIN = 1.0, 0.82
_LOUDNESS_SHARE = 0.6
NEIGHBOURS = 5  # sounds on either side that still pull


def jaw_from_sounds(
    phones: Sequence[Phone], chart: Chart, exposures: Sequence[Exposure], loudness: Floats, times: Doubles, lead: float
) -> Floats:
    """Jaw opening 0..1 at each frame.

    phones: all that are said, in order. times: (frames,) seconds of the frames' middles. loudness: (frames,) 0..1, 0 in
    silence. lead: seconds that the jaw comes before the sound. Targets are blended by dominance functions (Cohen and
    Massaro, "Modeling coarticulation in synthetic visual speech", 1993). Exactly 0 in silence, in pauses and while lips or
    teeth touch.
    """
    if not phones:
        return np.zeros(len(times), np.float32)
    opening = _blend(phones, chart, times + lead)
    opening *= 1 - _LOUDNESS_SHARE + _LOUDNESS_SHARE * np.sqrt(loudness)
    opening[loudness == 0] = 0.0
    opening[~_is_said(phones, times)] = 0.0
    shut = {mouth.name for mouth in chart.mouths if mouth.contact and mouth.pose.jaw == 0} | {chart.rest.name}
    for exposure in exposures:
        if exposure.mouth in shut:
            opening[exposure.start : exposure.end] = 0.0
    return np.clip(opening, 0, 1).astype(np.float32)


def jaw_from_loudness(loudness: Floats) -> Floats:
    """Jaw opening 0..1 from loudness alone, with no lag; 0 stays 0."""
    smooth = np.convolve(np.pad(loudness, 1, mode="edge"), (0.25, 0.5, 0.25), mode="valid")
    return np.where(loudness > 0, smooth, 0.0).astype(np.float32)


def _blend(phones: Sequence[Phone], chart: Chart, times: Doubles) -> Doubles:
    middles = np.array([(phone.start + phone.end) / 2 for phone in phones])
    halves = np.array([(phone.end - phone.start) / 2 for phone in phones])
    vowel = np.array([is_vowel(phone.symbol) for phone in phones])
    targets = np.array([chart.mouths[chart.answer(phone.symbol)].pose.jaw for phone in phones])
    stress = np.array([phone.stress for phone in phones])
    targets = np.where(vowel, targets * np.where(stress > 0, _STRESS_GAIN, _WEAK_GAIN), targets)
    reach = np.where(vowel, _VOWEL_REACH, _CONSONANT_REACH)
    pull = np.where(vowel, _VOWEL_PULL, _CONSONANT_PULL)
    nearest = np.searchsorted(middles, times)
    around = np.clip(nearest[:, None] + np.arange(-NEIGHBOURS, NEIGHBOURS), 0, len(phones) - 1)
    distance = np.maximum(np.abs(times[:, None] - middles[around]) - halves[around], 0)
    dominance = pull[around] * np.exp(-distance / reach[around]) + 1e-12
    blended: Doubles = (dominance * targets[around]).sum(1) / dominance.sum(1)
    return blended


def _is_said(phones: Sequence[Phone], times: Doubles) -> Bools:
    """Whether a word is being said at each moment."""
    starts = np.array([phone.start for phone in phones])
    ends = np.array([phone.end for phone in phones])
    at = np.searchsorted(starts, times, side="right") - 1
    voiced: Bools = (at >= 0) & (times < ends[np.maximum(at, 0)])
    return voiced
