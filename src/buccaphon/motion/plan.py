"""All that a bake is made from, as one record: two equal plans give the same bake."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from buccaphon.alignment.speaking import HEARD
from buccaphon.arrays import Bools, Doubles, Floats
from buccaphon.audio.loudness import loudness
from buccaphon.audio.peaks import Peaks
from buccaphon.audio.steering import DrivenLevels
from buccaphon.motion.followers import Follower
from buccaphon.motion.hand import HandCurve
from buccaphon.motion.mixes import Mix
from buccaphon.motion.record import frame_middles
from buccaphon.motion.steps import AnyStep
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.grid import Grid
from buccaphon.mouths.laying import Blank, Laid, Painted, laid_out
from buccaphon.mouths.settings import DEFAULT_LEAD, DEFAULT_TRACK, SettingsTrack
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate, Span

_LEAST_SPOKEN = 0.1  # of the frames with sound, for only speech to count


@dataclass(frozen=True, slots=True)
class BakeSettings:
    """rate: the scene's. start_frame: the number of the first frame. mouth_settings: how mouths are chosen. painted: set by
    hand. blanks: stretches with nothing chosen. over: seconds in which each mouth goes over to the next, each being there in
    full; None where weights are blended from the pose. mixes: channels of one's own. followers: channels that follow others.
    steps: the clean-up, in its order. curves: what is drawn by hand, one a channel. quiet: where nothing that is said
    counts. used: the part of the recording that is used; None for all of it."""

    rate: FrameRate
    start_frame: int = 0
    mouth_settings: SettingsTrack = DEFAULT_TRACK
    painted: tuple[Painted, ...] = ()
    blanks: tuple[Blank, ...] = ()
    over: float | None = None
    mixes: tuple[Mix, ...] = ()
    followers: tuple[Follower, ...] = ()
    steps: tuple[AnyStep, ...] = ()
    curves: tuple[HandCurve, ...] = ()
    quiet: tuple[Span, ...] = ()
    used: Span | None = None


@dataclass(frozen=True, eq=False)
class Plan:
    """score: the words of the recording; None while there are none, and everything follows its loudness. loud: (frames,)
    0..1 as from `frame_loudness` at the settings' rate, 0 where nothing counts. driven: loudness as it is asked for, which
    drives all where there are no words, and what follows loudness; None where it is `loud`. has_threshold: whether the mouth
    opens just where that is above a threshold that somebody set. said: the words that are heard, also where they drive
    nothing."""

    score: Score | None
    chart: Chart
    loud: Floats
    settings: BakeSettings
    driven: DrivenLevels | None = None
    has_threshold: bool = False
    said: Score | None = None
    frames: int = field(init=False)

    def __post_init__(self) -> None:
        covering = self.settings.rate.covering(self.score.duration) if self.score else len(self.loud)
        object.__setattr__(self, "frames", min(covering, len(self.loud)))

    @cached_property
    def grid(self) -> Grid:
        return self.settings.mouth_settings.grid(self.frames, self.settings.rate)

    @property
    def driving(self) -> Floats:
        """(frames,) 0..1 the loudness that drives."""
        return self.loud if self.driven is None else self.driven.gated

    @property
    def driven_jaw(self) -> Floats:
        """(frames,) 0..1, how far that opens a jaw."""
        return self.loud if self.driven is None else self.driven.jaw

    @cached_property
    def silent(self) -> Bools:
        """(frames,) where nothing is said."""
        if self.score is None:
            return self.driving[: self.frames] <= 0
        rate = float(self.settings.rate.value)
        starts, ends = (np.clip(rims * rate, 0, self.frames) for rims in self.score.rims)
        # every frame that a word is in at all
        change = np.zeros(self.frames + 1, np.int64)
        np.add.at(change, np.floor(starts).astype(np.intp), 1)
        np.add.at(change, np.ceil(ends).astype(np.intp), -1)
        found: Bools = np.cumsum(change)[: self.frames] <= 0
        return found

    @property
    def lead(self) -> float:
        """Seconds by which the pose comes before its own time. What is usual for drawings is 0 here: lips and jaw have leads
        of their own."""
        return self.settings.mouth_settings.everywhere.lead - DEFAULT_LEAD

    @cached_property
    def laid(self) -> tuple[Laid, ...]:
        """What a hand put over the machine's mouths, frame by frame."""
        settings = self.settings
        return laid_out(settings.painted, settings.blanks, self.chart, settings.rate, self.frames)


def frame_loudness(peaks: Peaks, rate: FrameRate) -> Floats:
    """(frames,) 0..1."""
    return loudness(peaks, frame_middles(0, rate.covering(peaks.duration), rate))


def hush(loud: Floats, rate: FrameRate, silent: Sequence[Span]) -> Floats:
    """Loudness (frames,) with nothing heard in some stretches."""
    quiet = loud.copy()
    for span in silent:
        quiet[max(rate.nearest(span.start), 0) : max(rate.nearest(span.end), 0)] = 0.0
    return quiet


def where_spoken(loud: Floats, spoken: Bools, moments: Doubles) -> Bools:
    """(n,) whether what is heard at each moment counts: somebody speaks there. loud: (n,) 0..1. spoken: as from `spoken_in`.
    moments: (n,) seconds.

    Where hardly any of what is loud is speech, all of it counts: a growl, a laugh or a song is to move the mouth too.
    """
    if not len(spoken):
        return np.ones(len(loud), np.bool_)
    found: Bools = spoken[np.minimum((moments / HEARD).astype(np.intp), len(spoken) - 1)]
    heard = np.count_nonzero(loud)
    return found if np.count_nonzero(loud[found]) >= _LEAST_SPOKEN * heard else np.ones(len(loud), np.bool_)
