"""The bake: everything brought to whole frames at the scene's rate, ready to be written."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import accumulate, compress, count
from operator import is_not

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
    parted,
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

    @property
    def choice(self) -> ChoiceSettings:
        """What of this the choosing of mouths asks for."""
        return ChoiceSettings(self.hold, self.lead, self.painted)


@dataclass(frozen=True, eq=False)
class Bake:
    """What every frame shows. Frames count from 0 here; `start_frame` is added where they are read out.

    first: how many frames of the recording come before frame 0. jaw: (frames,) 0..1. weights: (frames, mouths) 0..1. said:
    the words of the recording.
    """

    rate: FrameRate
    start_frame: int
    chart: Chart
    exposures: tuple[Exposure, ...]
    jaw: Array
    weights: Array
    said: tuple[Word, ...] = ()
    first: int = 0

    @property
    def frames(self) -> int:
        return len(self.jaw)

    @property
    def phones(self) -> tuple[str, ...]:
        """(frames,) the sound in the middle of each frame in IPA, '' in pauses."""
        return self._heard[0]

    @property
    def words(self) -> tuple[str, ...]:
        """(frames,) the word in the middle of each frame, '' in pauses."""
        return self._heard[1]

    @cached_property
    def _heard(self) -> tuple[tuple[str, ...], tuple[str, ...]]:
        return _heard(self.said, frame_middles_from(self.first, self.first + self.frames, self.rate))


def trimmed(bake: Bake, first: int, end: int) -> Bake:
    """The frames from `first` up to `end` alone, with their numbers and seconds unchanged."""
    shown = [replace(e, start=max(e.start, first) - first, end=min(e.end, end) - first) for e in bake.exposures]
    part = slice(first, end)
    return replace(
        bake,
        start_frame=bake.start_frame + first,
        exposures=tuple(e for e in shown if e.end > e.start),
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
    """Bake an aligned recording. loud: (frames,) 0..1 as from `frame_loudness` at the same rate."""
    return Baker().bake(score, chart, loud, settings)


class Baker:
    """Bakes passage by passage and keeps the last bake: after an edit only the passages that it touched are made anew, and
    put in the place of the old ones. The result is the same as that of `bake`."""

    def __init__(self) -> None:
        self._kept: _Kept | None = None

    def bake(self, score: Score, chart: Chart, loud: Array, settings: BakeSettings) -> Bake:
        kept = self._kept
        painted = painted_cells(chart, settings.rate, settings.choice, score.duration)
        if kept is not None and kept.differs_in_words_alone(score, chart, loud, settings):
            made = _made_over(kept, score, painted)
        else:
            parts = passages(score, settings.rate, settings.choice)
            heard = loud[: settings.rate.covering(score.duration)]
            made = _Kept(score, loud, settings, painted, parts, _baked(parts, chart, heard, settings, painted))
        self._kept = replace(
            made, settings=settings, bake=replace(made.bake, start_frame=settings.start_frame, said=score.words)
        )
        return self._kept.bake


@dataclass(frozen=True, eq=False)
class _Kept:
    """A bake, what it was made of, and the passages it was made in. painted: the mouth of each cell painted by hand."""

    score: Score
    loud: Array
    settings: BakeSettings
    painted: dict[int, int]
    passages: list[Passage]
    bake: Bake

    def differs_in_words_alone(self, score: Score, chart: Chart, loud: Array, settings: BakeSettings) -> bool:
        """Or in what is painted."""
        others = replace(settings, painted=self.settings.painted, start_frame=self.settings.start_frame)
        same = self.bake.chart is chart and self.loud is loud and self.settings == others
        lengths = len(score.words) == len(self.score.words) and score.duration == self.score.duration
        return same and lengths


def _baked(
    parts: Sequence[Passage], chart: Chart, loud: Array, settings: BakeSettings, painted: dict[int, int]
) -> Bake:
    """Some passages in a row as a bake of their frames; the exposures' frames are those of the whole."""
    baked = [_bake_passage(part, chart, loud, settings, painted) for part in parts]
    return Bake(
        settings.rate,
        settings.start_frame,
        chart,
        _joined([part.exposures for part in baked]),
        np.concatenate([part.jaw for part in baked]),
        np.concatenate([part.weights for part in baked]),
    )


def _made_over(kept: _Kept, score: Score, painted: dict[int, int]) -> _Kept:
    """What is kept, with the passages made anew whose words or painted mouths are others now."""
    settings, there, made = kept.settings, list(kept.passages), kept.bake
    counts = list(accumulate((len(passage.words) for passage in there), initial=0))
    for first, last in reversed(_touched(kept, score, painted, counts)):
        words = score.words[counts[first] : counts[last + 1]]
        whole = replace(there[first], end=there[last].end, words=words, until=there[last].until)
        parts = parted(whole, settings.rate, settings.choice)
        part = _baked(parts, made.chart, kept.loud[: made.frames], settings, painted)
        made = _with_part(made, part, whole.first * settings.hold)
        there[first : last + 1] = parts
    return _Kept(score, kept.loud, settings, painted, there, made)


def _touched(kept: _Kept, score: Score, painted: dict[int, int], counts: list[int]) -> list[tuple[int, int]]:
    """Which passages have to be made anew, as runs from a first to a last one."""
    changed = list(compress(count(), map(is_not, kept.score.words, score.words)))
    # the gap beside a changed word may part passages now, or no longer
    beside = {min(max(number + by, 0), len(score.words) - 1) for number in changed for by in (-1, 0, 1)}
    found = {bisect_right(counts, number) - 1 for number in beside}
    if painted != kept.painted:
        ends = [passage.end for passage in kept.passages]
        cells = {cell for cell, _ in kept.painted.items() ^ painted.items()}
        found |= {bisect_right(ends, cell) for cell in cells if cell < ends[-1]}
    runs_: list[tuple[int, int]] = []
    for number in sorted(found):
        if runs_ and number <= runs_[-1][1] + 1:
            runs_[-1] = (runs_[-1][0], number)
        else:
            runs_.append((number, number))
    return runs_


def _with_part(whole: Bake, part: Bake, first: int) -> Bake:
    """A bake with the frames from `first` on replaced by those of a part."""
    end = first + part.frames
    jaw, weights = whole.jaw.copy(), whole.weights.copy()
    jaw[first:end], weights[first:end] = part.jaw, part.weights
    exposures = whole.exposures
    before = exposures[: bisect_left(exposures, first, key=lambda each: each.start)]
    after = exposures[bisect_right(exposures, end, key=lambda each: each.end) :]
    if before and before[-1].end > first:
        before = (*before[:-1], replace(before[-1], end=first))
    if after and after[0].start < end:
        after = (replace(after[0], start=end), *after[1:])
    return replace(
        whole,
        exposures=_joined([before, part.exposures, after]),
        jaw=jaw,
        weights=weights,
    )


@dataclass(frozen=True, eq=False)
class _Part:
    """A passage's share of a bake; exposures with their frames in the whole."""

    exposures: tuple[Exposure, ...]
    jaw: Array
    weights: Array


def _bake_passage(
    passage: Passage, chart: Chart, loud: Array, settings: BakeSettings, painted: dict[int, int]
) -> _Part:
    rate, choice, hold = settings.rate, settings.choice, settings.hold
    inside = {cell: mouth for cell, mouth in painted.items() if passage.first <= cell < passage.end}
    mouths = choose_mouths(passage, chart, rate, choice, inside)
    first, end = passage.first * hold, min(passage.end * hold, len(loud))
    names = [chart.names[mouth] for mouth in mouths for _ in range(hold)][: end - first]
    exposures = runs(names)  # counted from the passage's first frame
    middles = frame_middles_from(first, end, rate)
    phones = [phone for word in passage.words for phone in word.phones]
    jaw = jaw_from_sounds(phones, chart, exposures, loud[first:end], middles, choice.lead)
    weights = mouth_weights(exposures, chart, end - first)
    placed = tuple(Exposure(e.mouth, e.start + first, e.end + first) for e in exposures)
    return _Part(placed, jaw, weights)


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
    painted = [
        (
            max(rate.nearest(p.span.start), 0),
            min(rate.nearest(p.span.end), frames),
            chart.names[chart.standing_for(p.mouth, p.pose, p.contact)],
        )
        for p in settings.painted
    ]
    jaw = jaw_from_loudness(loud)
    exposures = loudness_exposures(jaw, chart, settings.hold, painted)
    weights = mouth_weights(exposures, chart, frames)
    return Bake(rate, settings.start_frame, chart, exposures, jaw, weights)


def _heard(words: Sequence[Word], middles: npt.NDArray[np.float64]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The phone and the word at each moment, '' in pauses."""
    phones = [(phone.start, phone.end, phone.symbol, word.text) for word in words for phone in word.phones]
    at = np.searchsorted([start for start, *_ in phones], middles, side="right") - 1
    heard = [
        phones[index][2:] if index >= 0 and middle < phones[index][1] else ("", "")
        for index, middle in zip(at.tolist(), middles.tolist(), strict=True)
    ]
    return tuple(symbol for symbol, _ in heard), tuple(text for _, text in heard)
