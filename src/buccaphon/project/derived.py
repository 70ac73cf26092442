"""What follows from a project's state and its recording: loudness, peaks and the bake, each computed once and kept."""

from __future__ import annotations

from functools import cached_property

from buccaphon.arrays import Bools, Floats
from buccaphon.audio.pauses import find_pauses
from buccaphon.audio.peaks import Peaks
from buccaphon.audio.recording import Recording
from buccaphon.motion.plan import BakeSettings, Plan, frame_loudness, hush, where_spoken
from buccaphon.motion.record import Bake, trim
from buccaphon.motion.remaking import Made, remake, why_shown
from buccaphon.mouths.exposures import Exposure
from buccaphon.project.state import State, Take
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate, Span


class Derived:
    """For one take's recording. `bake` is asked again and again and answers from memory while the state is the same; for
    another state it makes the last bake over."""

    def __init__(self, recording: Recording, peaks: Peaks) -> None:
        self.recording, self.peaks = recording, peaks
        self.lufs: float | None = None  # measured later, for it takes a while
        self.spoken: Bools | None = None  # where somebody speaks; None until it was listened to
        self._state: State | None = None
        self._made: Made | None = None
        self._loudness: tuple[FrameRate, Floats] | None = None
        self._heard: tuple[tuple[FrameRate, tuple[Span, ...], bool], Floats] | None = None

    def bake(self, state: State) -> Bake:
        """The bake of the whole file: from its words when there are any, from loudness alone before that."""
        if self._made is None or self._state is not state:
            self._made, self._state = remake(self._made, self._plan(state)), state
        return self._made.bake

    def would_be(self, state: State) -> Bake:
        """The bake of a state that is only looked at, and not gone over to."""
        return remake(self._made, self._plan(state)).bake

    def why(self, state: State, exposure: Exposure) -> str:
        """Why a mouth is on show, in a sentence or two."""
        self.bake(state)
        reason = why_shown(self._made, exposure) if self._made else None
        return reason.says(exposure.mouth) if reason else f"{exposure.mouth}: by loudness alone."

    def used_part(self, state: State) -> Bake:
        """The bake of the part that is used, for export."""
        whole, take = self.bake(state), state.take
        used = take.used(self.recording.duration) if take else Span(0.0, self.recording.duration)
        return trim(whole, state.rate.nearest(used.start), min(state.rate.covering(used.end), whole.frames))

    def loudness(self, rate: FrameRate) -> Floats:
        """(frames,) 0..1 at a frame rate."""
        if self._loudness is None or self._loudness[0] != rate:
            self._loudness = rate, frame_loudness(self.peaks, rate)
        return self._loudness[1]

    def take_spoken(self, spoken: Bools) -> None:
        """Where somebody speaks, as from `spoken_in`: what is made by loudness alone follows only that from now on."""
        self.spoken = spoken
        self._heard, self._made = None, None

    @cached_property
    def pauses(self) -> tuple[Span, ...]:
        """The pauses in the sound alone."""
        return find_pauses(self.peaks)

    def _plan(self, state: State) -> Plan:
        quiet = _unused(state.take, self.recording.duration) if state.take else ()
        settings = BakeSettings(state.rate, state.first_number, state.manners, state.painted, state.mixes, quiet)
        score = fitting(state.score, self.recording.duration) if state.score else None
        return Plan(score, state.chart_in_use, self._what_counts(state.rate, quiet, score is None), settings)

    def _what_counts(self, rate: FrameRate, quiet: tuple[Span, ...], alone: bool) -> Floats:
        """Loudness with silence where nothing is said that counts; the same array while that is the same. alone: there are
        no words to tell where somebody speaks."""
        if self._heard is None or self._heard[0] != (rate, quiet, alone):
            loud = self.loudness(rate)
            if alone and self.spoken is not None:
                loud = where_spoken(loud, self.spoken, rate)
            self._heard = (rate, quiet, alone), hush(loud, rate, quiet)
        return self._heard[1]


def fitting(score: Score, duration: float) -> Score:
    """A score as far as a recording goes: its file may have been replaced by another, shorter or longer one."""
    if score.duration == duration:
        return score
    return Score(tuple(word for word in score.words if word.end <= duration), duration)


def _unused(take: Take, duration: float) -> tuple[Span, ...]:
    """Where nothing is said that counts: outside the trims, and what is marked as not speech."""
    used = take.used(duration)
    return (Span(0.0, used.start), Span(used.end, duration + 1.0), *take.not_speech)
