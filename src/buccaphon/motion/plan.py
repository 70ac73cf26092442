"""All that a bake is made from, as one record: two equal plans give the same bake."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

from buccaphon.arrays import Floats
from buccaphon.audio.loudness import loudness
from buccaphon.audio.peaks import Peaks
from buccaphon.errors import RateError
from buccaphon.motion.record import frame_middles
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.choosing import Painted, painted_cells
from buccaphon.mouths.grid import Grid, HeldRange
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate, Span

LONGEST_HOLD = 12  # frames


@dataclass(frozen=True, slots=True)
class BakeSettings:
    """rate: the scene's. start_frame: the number of the first frame. hold: frames every drawing stays at least; held: others
    in some ranges. lead: seconds that mouths come before the sound. painted: mouths set by hand."""

    rate: FrameRate
    start_frame: int = 0
    hold: int = 1
    lead: float = 1 / 24
    painted: tuple[Painted, ...] = ()
    held: tuple[HeldRange, ...] = ()

    def __post_init__(self) -> None:
        for hold in (self.hold, *(part.hold for part in self.held)):
            if not 1 <= hold <= LONGEST_HOLD:
                raise RateError(f"hold of {hold}", f"a drawing is held for 1 to {LONGEST_HOLD} frames", "Try 1, 2 or 3")


@dataclass(frozen=True, eq=False)
class Plan:
    """score: the words of the recording; None while there are none, and everything follows its loudness. loud: (frames,)
    0..1 as from `frame_loudness` at the settings' rate, 0 where nothing counts."""

    score: Score | None
    chart: Chart
    loud: Floats
    settings: BakeSettings
    frames: int = field(init=False)

    def __post_init__(self) -> None:
        covering = self.settings.rate.covering(self.score.duration) if self.score else len(self.loud)
        object.__setattr__(self, "frames", min(covering, len(self.loud)))

    @cached_property
    def grid(self) -> Grid:
        return Grid.of(self.frames, self.settings.hold, self.settings.held)

    @cached_property
    def painted(self) -> dict[int, int]:
        """The mouth of each cell that is painted by hand."""
        return painted_cells(self.settings.painted, self.chart, self.settings.rate, self.grid)


def frame_loudness(peaks: Peaks, rate: FrameRate) -> Floats:
    """(frames,) 0..1."""
    return loudness(peaks, frame_middles(0, rate.covering(peaks.duration), rate))


def hush(loud: Floats, rate: FrameRate, silent: Sequence[Span]) -> Floats:
    """Loudness (frames,) with nothing heard in some stretches."""
    quiet = loud.copy()
    for span in silent:
        quiet[max(rate.nearest(span.start), 0) : max(rate.nearest(span.end), 0)] = 0.0
    return quiet
