"""What is computed from a project's state and its recording: loudness, peaks and the bake, each computed once and kept."""

from __future__ import annotations

from copy import copy
from dataclasses import replace
from functools import cached_property
from pathlib import Path

import numpy as np

from buccaphon.alignment.speaking import spoken_in
from buccaphon.arrays import Bools, Doubles, Floats, Same
from buccaphon.audio.loudness import STEP, Range, levels_in_steps, limits_of, peaks_of, range_of
from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS, LoudnessSettings
from buccaphon.audio.pauses import find_pauses
from buccaphon.audio.peaks import Peaks, build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Channel, Recording
from buccaphon.audio.steering import DrivenLevels, Frames, Mapped, driven, mapped
from buccaphon.kits.casting import goes_over_in
from buccaphon.motion.curve import Curve
from buccaphon.motion.plan import BakeSettings, Plan, frame_loudness, hush, where_spoken
from buccaphon.motion.record import Bake, frame_middles, lasting, trim
from buccaphon.motion.remaking import Made, remake, why_shown
from buccaphon.mouths.exposures import Exposure
from buccaphon.progress import Progress, no_progress
from buccaphon.project.speakers import of_others, own_words
from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.score.records import Score
from buccaphon.texts import _
from buccaphon.timing import FrameRate, Span


class Derived:
    """For one take's recording. `bake` is asked again and again and answers from memory while the state is the same; for
    another state it makes the last bake over."""

    def __init__(self, recording: Recording, peaks: Peaks) -> None:
        self.recording, self.peaks = recording, peaks
        self.lufs: float | None = None  # measured later, for it takes a while
        self.spoken: Bools | None = None  # where somebody speaks; None until it was listened to
        self.parts: dict[Part, Peaks] = {}  # of channels and parts of the sound that were asked for
        self._levels: tuple[Peaks, Floats] | None = None
        self._range: tuple[object, Range] | None = None
        self._mapped: tuple[object, Mapped] | None = None
        self._steered: tuple[object, DrivenLevels] | None = None
        self._state: State | None = None
        self._made: Made | None = None
        self._made_over: Bake | None = None
        self._loudness: tuple[FrameRate, Floats] | None = None
        self._heard: tuple[tuple[FrameRate, tuple[Span, ...], bool], Floats] | None = None

    def bake(self, state: State) -> Bake:
        """The bake of the whole file: from its words when there are any, from loudness alone before that."""
        if self._made is None or self._state is not state:
            before, self._made_over = self._made, self._made.bake if self._made is not None else None
            self._made, self._state = remake(before, self._plan(state)), state
        return self._made.bake

    def apart(self) -> Derived:
        """Another that knows the same, for another thread."""
        found = copy(self)
        found.parts = dict(self.parts)
        return found

    def anew_since(self, bake: Bake) -> Span | None:
        """The seconds in which the last bake differs from this, if it was made over this; None where that is not known."""
        if self._made is None or self._made_over is not bake:
            return None
        return Span(*map(bake.rate.seconds, self._made.anew))

    def would_be(self, state: State) -> Bake:
        """The bake of a state that is only looked at, and not gone over to."""
        return remake(self._made, self._plan(state)).bake

    def before_clean_up(self, channel: str) -> Curve | None:
        """A channel of the last bake, as it was before the clean-up and what was drawn over it; None where it has neither."""
        return self._made.motion.made.get(channel) if self._made is not None else None

    def chosen(self, state: State) -> tuple[Exposure, ...]:
        """The held mouths that the machine chose, before what a hand put there is laid over them."""
        self.bake(state)
        return self._made.machine if self._made is not None else ()

    def why(self, state: State, exposure: Exposure) -> str:
        """Why a mouth is on show, in a sentence or two."""
        self.bake(state)
        reason = why_shown(self._made, exposure) if self._made else None
        return reason.says(exposure.mouth) if reason else _("{mouth}: by loudness alone.", mouth=exposure.mouth)

    def used_part(self, state: State) -> Bake:
        """The bake of the part that is used, as long as the scene, for export."""
        part = self.sounding_part(state)
        if state.length is None:
            return part
        return lasting(part, max(state.start_frame + state.length - part.start_frame, 1))

    def sounding_part(self, state: State) -> Bake:
        """The bake of the part that is used, as long as its sound."""
        whole, take = self.bake(state), state.take
        used = take.used(self.recording.duration) if take else Span(0.0, self.recording.duration)
        return trim(whole, state.rate.nearest(used.start), min(state.rate.covering(used.end), whole.frames))

    def loudness(self, rate: FrameRate) -> Floats:
        """(frames,) 0..1 at a frame rate."""
        if self._loudness is None or self._loudness[0] != rate:
            self._loudness = rate, frame_loudness(self.peaks, rate)
        return self._loudness[1]

    # --- loudness as it is steered ---------------------------------------------------------------------------------------

    def take_peaks(self, part: Part, peaks: Peaks) -> None:
        """The loudness of a channel or of a part of the sound is known: what is steered by it follows it from now on."""
        self.parts[part] = peaks
        while len(self.parts) > _MOST_PARTS:
            self.parts.pop(next(iter(self.parts)))
        self._state = None  # made over when it is next asked for

    def peaks_for(self, loudness_settings: LoudnessSettings) -> Peaks:
        """Of the part of the sound that is listened to; of what is heard otherwise, as long as that is not known."""
        return self.parts.get(part_of(loudness_settings), self.peaks)

    def levels(self, loudness_settings: LoudnessSettings) -> Floats:
        """(n,) dB of full scale, every 10 ms."""
        peaks = self.peaks_for(loudness_settings)
        if self._levels is None or self._levels[0] is not peaks:
            self._levels = peaks, levels_in_steps(peaks)
        return self._levels[1]

    def range(self, loudness_settings: LoudnessSettings) -> Range:
        """Floor and ceiling in dB of full scale, as they are said or automatic."""
        found = self.levels(loudness_settings)
        key = (Same(found), loudness_settings.scale)
        if self._range is None or self._range[0] != key:
            self._range = key, limits_of(found, loudness_settings.scale)
        return range_of(self._range[1], loudness_settings)

    def steered(self, state: State) -> DrivenLevels:
        """Loudness raw, mapped and gated, and the jaw by it, at the state's rate, as the shown take's settings make it."""
        take, rate = state.take, state.rate
        loudness_settings = replace(take.loudness_settings if take else DEFAULT_LOUDNESS, loudness_only=False)
        alone = state.score is None or (take is not None and take.loudness_settings.loudness_only)
        quiet = self._quiet(state)
        spoken = self.spoken if alone else None
        found = self.levels(loudness_settings)
        key = (Same(found), rate, loudness_settings, quiet, Same(spoken) if spoken is not None else None)
        if self._steered is None or self._steered[0] != key:
            counts = self._counts(rate, quiet, spoken, len(found))
            made = driven(self._mapped_for(found, loudness_settings, rate), counts, loudness_settings)
            gated, jaw = (hush(curve, rate, quiet) for curve in (made.gated, made.jaw))
            self._steered = key, replace(made, gated=gated, jaw=jaw)
        return self._steered[1]

    def _mapped_for(self, found: Floats, loudness_settings: LoudnessSettings, rate: FrameRate) -> Mapped:
        """Loudness up to its threshold: the same while only that is dragged."""
        wanted = replace(loudness_settings, threshold=None, closes_below=None, peak=None)
        key = (Same(found), rate, wanted)
        if self._mapped is None or self._mapped[0] != key:
            frames = Frames(rate.covering(self.peaks.duration), float(rate.value))
            self._mapped = key, mapped(found, self.range(loudness_settings), loudness_settings, frames)
        return self._mapped[1]

    def _counts(self, rate: FrameRate, quiet: tuple[Span, ...], spoken: Bools | None, steps: int) -> Bools:
        """(steps,) where what is heard may open a mouth. spoken: None where words say that."""
        moments: Doubles = ((np.arange(steps) + 0.5) * STEP).astype(np.float64)
        found = np.ones(steps, np.bool_)
        if spoken is not None:
            frames = np.minimum(moments * float(rate.value), rate.covering(self.peaks.duration) - 1).astype(np.intp)
            found = where_spoken(self.loudness(rate)[frames], spoken, moments)
        for span in quiet:
            found = found & ~((moments >= span.start) & (moments < span.end))
        return found

    def knows_all(self, state: State) -> bool:
        """Whether all is known that a state's mouths and channels are made by, also what takes long to hear."""
        take = state.take
        if take is None:
            return True
        alone = state.score is None or take.loudness_settings.loudness_only
        part = part_of(take.loudness_settings)
        return (self.spoken is not None or not alone) and (part == ALL_OF_IT or part in self.parts)

    def knowing_all(self, state: State, progress: Progress = no_progress) -> Derived:
        """The same, or another that has heard what is missing, whatever that takes: as it will be once all was listened to.
        Raises Cancelled."""
        if self.knows_all(state):
            return self
        take = state.take
        assert take is not None
        found = Derived(self.recording, self.peaks)
        found.parts, found.spoken = dict(self.parts), self.spoken
        if found.spoken is None and (state.score is None or take.loudness_settings.loudness_only):
            found.spoken = spoken_in(self.recording, progress)
        part = part_of(take.loudness_settings)
        if part != ALL_OF_IT and part not in found.parts:
            found.parts[part] = listened_part(self.recording, take.path, part)
        return found

    def take_spoken(self, spoken: Bools) -> None:
        """Where somebody speaks, as from `spoken_in`: what is made by loudness alone follows only that from now on."""
        self.spoken = spoken
        self._heard, self._made = None, None

    @cached_property
    def pauses(self) -> tuple[Span, ...]:
        """The pauses in the sound alone."""
        return find_pauses(self.peaks)

    def _plan(self, state: State) -> Plan:
        take, quiet = state.take, self._quiet(state)
        settings = BakeSettings(
            rate=state.rate,
            start_frame=state.first_number,
            mouth_settings=state.settings_track,
            painted=state.painted,
            blanks=state.blanks,
            over=goes_over_in(state.kit_in_use, state.chart_in_use),
            mixes=state.mixes,
            followers=state.followers,
            steps=state.steps,
            curves=take.curves if take else (),
            quiet=quiet,
            used=take.used(self.recording.duration) if take else None,
        )
        said = own_words(state, fitting(state.score, self.recording.duration)) if state.score else None
        score = None if take is not None and take.loudness_settings.loudness_only else said
        loud = self._what_counts(state.rate, quiet, score is None)
        has_threshold = take is not None and take.loudness_settings.threshold is not None
        return Plan(score, state.chart_in_use, loud, settings, self.steered(state), has_threshold, said)

    def _quiet(self, state: State) -> tuple[Span, ...]:
        """Where nothing is said that counts for the role on show."""
        take, duration = state.take, self.recording.duration
        return (*_unused(take, duration), *of_others(state, duration)) if take else ()

    def _what_counts(self, rate: FrameRate, quiet: tuple[Span, ...], alone: bool) -> Floats:
        """Loudness with silence where nothing is said that counts; the same array while that is the same. alone: there are
        no words to tell where somebody speaks."""
        if self._heard is None or self._heard[0] != (rate, quiet, alone):
            self._heard = (rate, quiet, alone), self._as_it_counts(self.loudness(rate), rate, quiet, alone)
        return self._heard[1]

    def _as_it_counts(self, loud: Floats, rate: FrameRate, quiet: tuple[Span, ...], alone: bool) -> Floats:
        if alone and self.spoken is not None:
            counts = where_spoken(loud, self.spoken, frame_middles(0, len(loud), rate))
            loud = np.where(counts, loud, np.float32(0))
        return hush(loud, rate, quiet)


_MOST_PARTS = 6  # of the sound that are kept
Part = tuple[Channel | None, tuple[float, float]]  # a channel, and frequencies in Hz from the lowest to the highest
ALL_OF_IT: Part = (None, DEFAULT_LOUDNESS.edges)


def listened_part(recording: Recording, path: Path, part: Part) -> Peaks:
    """The loudness of a channel or of a part of the sound, of a recording that lies in a file."""
    side, edges = part
    if side is not None:
        recording = read_recording(path).listened_to(side)
    return peaks_of(recording, edges) if any(edges) else build_peaks(recording)


def part_of(loudness_settings: LoudnessSettings) -> Part:
    """The channel and the part of the sound that is listened to."""
    return loudness_settings.channel, loudness_settings.edges


def fitting(score: Score, duration: float) -> Score:
    """A score as far as a recording goes: its file may have been replaced by another, shorter or longer one."""
    if score.duration == duration:
        return score
    return Score(tuple(word for word in score.words if word.end <= duration), duration)


def _unused(take: Take, duration: float) -> tuple[Span, ...]:
    """Where nothing is said that counts: outside the trims, and what is marked as not speech."""
    used = take.used(duration)
    return (Span(0.0, used.start), Span(used.end, duration + 1.0), *take.not_speech)
