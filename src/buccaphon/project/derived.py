"""What follows from a project's state and its recording: loudness, peaks and the bake, each computed once and kept."""

from __future__ import annotations

from functools import cached_property, lru_cache

import numpy as np
import numpy.typing as npt

from buccaphon.audio.peaks import Peaks, build_peaks
from buccaphon.audio.recording import Recording
from buccaphon.motion.bake import Bake, BakeSettings, bake, bake_loudness, frame_loudness
from buccaphon.mouths.chart import find_chart
from buccaphon.project.state import State
from buccaphon.timing import FrameRate


class Derived:
    """For one recording. `bake` is asked again and again and answers from memory while nothing it depends on changed."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self._loudness = lru_cache(maxsize=4)(self._measure)
        self._bake = lru_cache(maxsize=8)(self._make)

    @cached_property
    def peaks(self) -> Peaks:
        return build_peaks(self.recording)

    def loudness(self, rate: FrameRate) -> npt.NDArray[np.float32]:
        """(frames,) 0..1 at a frame rate."""
        return self._loudness(rate)

    def bake(self, state: State) -> Bake:
        """The bake of a state: from its words when there are any, from loudness alone before that."""
        settings = BakeSettings(state.rate, state.start_frame, state.hold, state.lead, state.painted)
        return self._bake(_Identity(state), state.chart, settings)

    def _measure(self, rate: FrameRate) -> npt.NDArray[np.float32]:
        return frame_loudness(self.peaks, rate)

    def _make(self, of: _Identity, chart: str, settings: BakeSettings) -> Bake:
        loud = self.loudness(settings.rate)
        if of.score is None:
            return bake_loudness(find_chart(chart), loud, settings)
        return bake(of.score, find_chart(chart), loud, settings)


class _Identity:
    """A score as a cache key: the same object, not the same numbers, so that looking up costs nothing."""

    def __init__(self, state: State) -> None:
        self.score = state.score

    def __hash__(self) -> int:
        return id(self.score)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Identity) and self.score is other.score
