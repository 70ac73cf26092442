"""What follows from a project's state and its recording: loudness, peaks and the bake, each computed once and kept."""

from __future__ import annotations

from functools import cached_property, lru_cache

import numpy as np
import numpy.typing as npt

from buccaphon.audio.pauses import find_pauses
from buccaphon.audio.peaks import Peaks
from buccaphon.audio.recording import Recording
from buccaphon.motion.bake import Bake, Baker, BakeSettings, bake_loudness, frame_loudness, hushed, trimmed
from buccaphon.mouths.chart import find_chart
from buccaphon.project.state import State, Take
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate, Span


class Derived:
    """For one take's recording. `bake` is asked again and again and answers from memory while nothing it depends on
    changed."""

    def __init__(self, recording: Recording, peaks: Peaks) -> None:
        self.recording, self.peaks = recording, peaks
        self.lufs: float | None = None  # measured later, for it takes a while
        self._loudness = lru_cache(maxsize=4)(self._measure)
        self._heard = lru_cache(maxsize=4)(self._hush)  # the same array again, by which the bake knows it
        self._baker = Baker()
        self._bake = lru_cache(maxsize=8)(self._make)

    def bake(self, state: State) -> Bake:
        """The bake of the whole file: from its words when there are any, from loudness alone before that."""
        take = state.take
        settings = BakeSettings(state.rate, state.first_number, state.hold, state.lead, state.painted)
        silent = _unused(take, self.recording.duration) if take else ()
        return self._bake(_Identity(state), state.chart, settings, silent)

    def delivery(self, state: State) -> Bake:
        """The bake of the part that is used, for export."""
        whole, take = self.bake(state), state.take
        used = take.used(self.recording.duration) if take else Span(0.0, self.recording.duration)
        return trimmed(whole, state.rate.nearest(used.start), min(state.rate.covering(used.end), whole.frames))

    def loudness(self, rate: FrameRate) -> npt.NDArray[np.float32]:
        """(frames,) 0..1 at a frame rate."""
        return self._loudness(rate)

    @cached_property
    def pauses(self) -> tuple[Span, ...]:
        """The pauses in the sound alone."""
        return find_pauses(self.peaks)

    def _measure(self, rate: FrameRate) -> npt.NDArray[np.float32]:
        return frame_loudness(self.peaks, rate)

    def _hush(self, rate: FrameRate, silent: tuple[Span, ...]) -> npt.NDArray[np.float32]:
        return hushed(self.loudness(rate), rate, silent)

    def _make(self, of: _Identity, chart: str, settings: BakeSettings, silent: tuple[Span, ...]) -> Bake:
        loud = self._heard(settings.rate, silent)
        if of.score is None:
            return bake_loudness(find_chart(chart), loud, settings)
        score = fitting(of.score, self.recording.duration)
        return self._baker.bake(score, find_chart(chart), loud, settings)


def fitting(score: Score, duration: float) -> Score:
    """A score as far as a recording goes: its file may have been replaced by another, shorter or longer one."""
    if score.duration == duration:
        return score
    return Score(tuple(word for word in score.words if word.end <= duration), duration)


def _unused(take: Take, duration: float) -> tuple[Span, ...]:
    """Where nothing is said that counts: outside the trims, and what is marked as not speech."""
    used = take.used(duration)
    return (Span(0.0, used.start), Span(used.end, duration + 1.0), *take.not_speech)


class _Identity:
    """A score as a cache key: the same object, not the same numbers, so that looking up costs nothing."""

    def __init__(self, state: State) -> None:
        self.score = state.score

    def __hash__(self) -> int:
        return id(self.score)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Identity) and self.score is other.score
