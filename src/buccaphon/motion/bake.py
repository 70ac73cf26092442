"""The bake: everything brought to whole frames at the scene's rate, ready to be written."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import chain

import numpy as np
import numpy.typing as npt

from buccaphon.audio.loudness import loudness
from buccaphon.audio.peaks import Peaks
from buccaphon.errors import RateError
from buccaphon.motion.jaw import jaw_from_loudness, jaw_from_sounds
from buccaphon.motion.weights import mouth_weights
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.choosing import (
    ChoiceSettings,
    Painted,
    Passage,
    choose_mouths,
    loudness_exposures,
    painted_cells,
    passages,
)
from buccaphon.mouths.exposures import Exposure, runs
from buccaphon.score.records import Score, Word
from buccaphon.timing import FrameRate, Span

Array = npt.NDArray[np.float32]

LONGEST_HOLD = 12  # frames


@dataclass(frozen=True, slots=True)
class BakeSettings:
    """rate: the scene's. start_frame: the number of the first frame. hold: frames every drawing stays at least.
    lead: seconds that mouths come before the sound. painted: mouths set by hand."""

    rate: FrameRate
    start_frame: int = 0
    hold: int = 1
    lead: float = 1 / 24
    painted: tuple[Painted, ...] = ()

    def __post_init__(self) -> None:
        if not 1 <= self.hold <= LONGEST_HOLD:
            raise RateError(
                f"hold of {self.hold}", f"a drawing is held for 1 to {LONGEST_HOLD} frames", "Try 1, 2 or 3"
            )


@dataclass(frozen=True, eq=False)
class Bake:
    """What every frame shows. Frames count from 0 here; `start_frame` is added where they are read out.

    first: how many frames of the recording come before frame 0. phones, words: what is heard in the middle of each frame,
    '' in pauses. jaw: (frames,) 0..1. weights: (frames, mouths) 0..1.
    """

    rate: FrameRate
    start_frame: int
    chart: Chart
    exposures: tuple[Exposure, ...]
    phones: tuple[str, ...]
    words: tuple[str, ...]
    jaw: Array
    weights: Array
    first: int = 0

    @property
    def frames(self) -> int:
        return len(self.jaw)


def trimmed(bake: Bake, first: int, end: int) -> Bake:
    """The frames from `first` up to `end` alone, with their numbers and seconds unchanged."""
    shown = [replace(e, start=max(e.start, first) - first, end=min(e.end, end) - first) for e in bake.exposures]
    part = slice(first, end)
    return replace(
        bake,
        start_frame=bake.start_frame + first,
        exposures=tuple(e for e in shown if e.end > e.start),
        phones=bake.phones[part],
        words=bake.words[part],
        jaw=bake.jaw[part],
        weights=bake.weights[part],
        first=bake.first + first,
    )


def frame_middles(duration: float, rate: FrameRate) -> npt.NDArray[np.float64]:
    """(frames,) seconds of the middle of each frame that is needed to cover a duration."""
    return frame_middles_from(0, rate.covering(duration), rate)


def frame_middles_from(first: int, end: int, rate: FrameRate) -> npt.NDArray[np.float64]:
    """(end - first,) seconds of the middles of the frames from `first` up to `end`."""
    return (np.arange(first, end) + 0.5) * rate.value.denominator / rate.value.numerator


def frame_loudness(peaks: Peaks, rate: FrameRate) -> Array:
    """(frames,) 0..1."""
    return loudness(peaks, frame_middles(peaks.duration, rate))


def hushed(loud: Array, rate: FrameRate, silent: Sequence[Span]) -> Array:
    """Loudness (frames,) with nothing heard in some stretches."""
    quiet = loud.copy()
    for span in silent:
        quiet[max(rate.nearest(span.start), 0) : max(rate.nearest(span.end), 0)] = 0.0
    return quiet


def bake(score: Score, chart: Chart, loud: Array, settings: BakeSettings) -> Bake:
    """Bake an aligned recording. loud: (frames,) 0..1 as from `frame_loudness` at the same rate.

    Passages between long pauses are baked on their own and kept, so that an edit bakes only the one it is in.
    """
    rate, frames = settings.rate, settings.rate.covering(score.duration)
    choice = ChoiceSettings(settings.hold, settings.lead, settings.painted)
    painted = painted_cells(chart, rate, choice)
    parts = []
    for passage in passages(score, rate, choice):
        inside = tuple((c, m) for c, m in painted.items() if passage.first <= c < passage.end) if painted else ()
        key = (id(chart), id(loud), rate, settings.hold, settings.lead, inside, frames, *_identity(passage))
        kept = _BAKED.get(key)
        if kept is None:
            kept = _bake_passage(passage, chart, loud[:frames], choice, rate, dict(inside))
            _BAKED[key] = kept
            while len(_BAKED) > _MOST_BAKED:
                _BAKED.pop(next(iter(_BAKED)))
        parts.append(kept)
    return Bake(
        rate,
        settings.start_frame,
        chart,
        _joined([part.exposures for part in parts]),
        tuple(chain.from_iterable(part.phones for part in parts)),
        tuple(chain.from_iterable(part.words for part in parts)),
        np.concatenate([part.jaw for part in parts]),
        np.concatenate([part.weights for part in parts]),
    )


@dataclass(frozen=True, eq=False)
class _Part:
    """A passage's share of a bake; exposures with their frames in the whole. source: what it was made of, kept alive because
    it is known by its identity."""

    exposures: tuple[Exposure, ...]
    phones: tuple[str, ...]
    words: tuple[str, ...]
    jaw: Array
    weights: Array
    source: tuple[object, ...]


_BAKED: dict[tuple[object, ...], _Part] = {}
_MOST_BAKED = 4000


def _identity(passage: Passage) -> tuple[object, ...]:
    return passage.first, passage.end, passage.begin, passage.until, *map(id, passage.words)


def _bake_passage(
    passage: Passage, chart: Chart, loud: Array, choice: ChoiceSettings, rate: FrameRate, painted: dict[int, int]
) -> _Part:
    hold = choice.hold
    mouths = choose_mouths(passage, chart, rate, choice, painted)
    first, end = passage.first * hold, min(passage.end * hold, len(loud))
    names = [chart.names[mouth] for mouth in mouths for _ in range(hold)][: end - first]
    exposures = runs(names)
    middles = frame_middles_from(first, end, rate)
    phones = [phone for word in passage.words for phone in word.phones]
    jaw = jaw_from_sounds(phones, chart, exposures, loud[first:end], middles, choice.lead)
    heard, said = _heard(passage.words, middles)
    weights = mouth_weights(exposures, chart, end - first)
    placed = tuple(Exposure(e.mouth, e.start + first, e.end + first) for e in exposures)
    return _Part(placed, heard, said, jaw, weights, (passage, chart, loud))


def _joined(parts: Sequence[tuple[Exposure, ...]]) -> tuple[Exposure, ...]:
    """The exposures of all passages; those of the same mouth that meet where two passages do, made one."""
    joined: list[Exposure] = []
    for part in parts:
        if joined and part and joined[-1].mouth == part[0].mouth:
            joined[-1] = replace(joined[-1], end=part[0].end)
            joined += part[1:]
        else:
            joined += part
    return tuple(joined)


def bake_loudness(chart: Chart, loud: Array, settings: BakeSettings) -> Bake:
    """Bake a recording without words: jaw and mouths follow its loudness."""
    rate, frames = settings.rate, len(loud)
    painted = [(rate.nearest(p.span.start), rate.nearest(p.span.end), p.mouth) for p in settings.painted]
    jaw = jaw_from_loudness(loud)
    exposures = loudness_exposures(jaw, chart, settings.hold, painted)
    weights = mouth_weights(exposures, chart, frames)
    nothing = ("",) * frames
    return Bake(rate, settings.start_frame, chart, exposures, nothing, nothing, jaw, weights)


def _heard(words: Sequence[Word], middles: npt.NDArray[np.float64]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The phone and the word at each moment, '' in pauses."""
    phones = [(phone.start, phone.end, phone.symbol, word.text) for word in words for phone in word.phones]
    at = np.searchsorted([start for start, *_ in phones], middles, side="right") - 1
    heard = [
        phones[index][2:] if index >= 0 and middle < phones[index][1] else ("", "")
        for index, middle in zip(at.tolist(), middles.tolist(), strict=True)
    ]
    return tuple(symbol for symbol, _ in heard), tuple(text for _, text in heard)
