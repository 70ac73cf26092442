"""The scene as a whole: where its lines lie, its sound, and for each role the bake of all that it says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from buccaphon.audio.mixing import Part, mixed
from buccaphon.audio.peaks import Peaks, build_peaks
from buccaphon.audio.recording import Recording
from buccaphon.files import whole_text
from buccaphon.formats.delivery import Clip, Source
from buccaphon.kits.casting import goes_over_in
from buccaphon.motion.joining import Placed, joined
from buccaphon.motion.plan import BakeSettings, Plan
from buccaphon.motion.record import Bake
from buccaphon.motion.remaking import remake
from buccaphon.mouths.settings import SettingsTrack
from buccaphon.project.derived import Derived
from buccaphon.project.speakers import speaking
from buccaphon.project.state import State, chart_of
from buccaphon.score.records import Note, Score
from buccaphon.timing import Span

Sounds = Mapping[int, Derived]
"""What follows from the sound of each line that has one, by the line's key."""
Lasts = Mapping[int, float]
"""Seconds of the recording of each line that has one, by the line's key."""


@dataclass(frozen=True, slots=True)
class Place:
    """Where a line lies. number: of the line. first: the scene's number of its first used frame. frames: that are used."""

    number: int
    first: int
    frames: int

    @property
    def end(self) -> int:
        return self.first + self.frames


def place_of(state: State, number: int, duration: float) -> Place:
    """duration: of the recording of the line's shown take, in seconds."""
    here = state.at_line(number)
    take, rate = here.take, state.rate
    used = take.used(duration) if take is not None else Span(0.0, duration)
    first, end = rate.nearest(used.start), min(rate.covering(used.end), rate.covering(duration))
    return Place(number, here.first_number + first, max(end - first, 0))


def places_in(state: State, lasts: Lasts) -> tuple[Place, ...]:
    """Of all lines whose sound is known, in the order in which they begin."""
    known = ((number, lasts.get(line.key)) for number, line in enumerate(state.lines) if line.takes)
    found = (place_of(state, number, seconds) for number, seconds in known if seconds is not None)
    return tuple(sorted(found, key=lambda place: (place.first, place.number)))


def frames_of(state: State, lasts: Lasts) -> range:
    """The numbers of the scene's frames. One line alone is as long as its sound; several begin on the scene's first frame, or
    before it where one of them does. Where the scene has a length, that counts."""
    places = places_in(state, lasts)
    if not places:
        return range(state.start_frame, state.start_frame)
    start = min(place.first for place in places)
    if len(state.lines) > 1:
        start = min(start, state.start_frame)
    end = max(place.end for place in places)
    if state.length is not None:
        end = max(state.start_frame + state.length, start + 1)
    return range(start, end)


@dataclass(eq=False)
class Ensemble:
    """A state with the sound of its lines, and what is made of them: a bake for each line and role, each made once."""

    state: State
    sounds: Sounds
    _apart: dict[tuple[int, str], Derived] = field(default_factory=dict)

    @property
    def lasts(self) -> Lasts:
        return {key: derived.recording.duration for key, derived in self.sounds.items()}

    @property
    def places(self) -> tuple[Place, ...]:
        """Where the lines lie, in the order in which they begin."""
        return places_in(self.state, self.lasts)

    @property
    def numbers(self) -> range:
        """The numbers of the scene's frames."""
        return frames_of(self.state, self.lasts)

    def of(self, state: State, sounds: Sounds) -> Ensemble:
        """The same of another state: what is not touched by the change is not made over."""
        return Ensemble(state, sounds, self._apart)

    def apart(self) -> Ensemble:
        """Another that knows the same, for another thread."""
        return Ensemble(self.state, {key: each.apart() for key, each in self.sounds.items()})

    def derived(self, key: int, role: str) -> Derived:
        """What a line's sound makes of a role: its own, so that bakes of several do not take turns."""
        found = self.sounds[key]
        known = self._apart.get((key, role))
        if known is None or known.recording is not found.recording:
            known = self._apart[key, role] = found.apart()
        return known

    def roles(self) -> tuple[str, ...]:
        """The names of the roles that speak in the scene, in its order; the first where nobody does."""
        names = {name for number in self._talking() for name in speaking(self.state.at_line(number))}
        found = tuple(role.name for role in self.state.roles if role.name in names)
        return found or (self.state.roles[0].name,)

    def shown_by(self, role: str) -> State:
        """The scene with a line open that the role speaks in, and its mouth on show."""
        numbers = [number for number in self._talking() if role in speaking(self.state.at_line(number))]
        here = self.state.open_line
        return self.state.at_line(here if here in numbers or not numbers else numbers[0], role)

    def in_character(self, name: str) -> Ensemble:
        """The same with another character in the mirror, '' being none."""
        kit = name if any(kit.name == name for kit in self.state.kits) else ""
        return Ensemble(self.state.with_role(kit=kit), self.sounds, self._apart)

    def lines(self) -> tuple[Clip, ...]:
        """The lines of a scene that has several, on its frames; none of a scene of one."""
        if len(self.state.lines) < 2:
            return ()
        start, found = self.numbers.start, list[Clip]()
        for place in self.places:
            here = self.state.at_line(place.number)
            line, take = here.line, here.take
            if take is None:
                continue
            recording = self.sounds[line.key].recording
            length, rate, seconds = len(recording.samples), float(recording.rate), recording.duration
            source = Source(take.path, whole_text(take.title), take.offset)
            role = "" if line.heard_only else here.role_named(line.role).name
            first = here.rate.nearest(take.used(seconds).start)
            heard = not (line.muted or take.muted)
            found.append(
                Clip(
                    whole_text(line.title),
                    source,
                    role,
                    place.first - start,
                    place.frames,
                    first,
                    length,
                    rate,
                    heard,
                )
            )
        return tuple(found)

    def of_line(self, number: int, role: str) -> Bake:
        """The used part of a line as a role says it."""
        here = self.state.at_line(number, role)
        return self.derived(here.line.key, role).sounding_part(here)

    def bake(self, role: str) -> Bake:
        """All that a role says, on the frames of the scene."""
        numbers = self.numbers
        parts = []
        for place in self.places:
            here = self.state.at_line(place.number, role)
            if place.number in self._talking() and role in speaking(here):
                parts.append(Placed(place.first - numbers.start, self.of_line(place.number, role)))
        return joined(bake_at_rest(self.state, role, numbers), parts)

    def notes(self) -> tuple[Note, ...]:
        """Those of all lines, in seconds of the scene from its first frame on."""
        start, rate, found = self.numbers.start, self.state.rate, list[Note]()
        for place in self.places:
            here = self.state.at_line(place.number)
            by = rate.seconds(here.first_number - start)
            if here.take is not None:
                found += [
                    replace(note, span=Span(note.span.start + by, note.span.end + by)) for note in here.take.notes
                ]
        return tuple(sorted(found, key=lambda note: note.span))

    def peaks(self) -> Peaks:
        """Of what is heard in the scene."""
        if len(self.state.lines) == 1 and self.state.line.key in self.sounds:
            return self.sounds[self.state.line.key].peaks
        return build_peaks(self.sound())

    def sound(self) -> Recording:
        """The lines that are not muted heard together, from the first frame of the scene to its last."""
        numbers, rate, clips = self.numbers, self.state.rate, list[Part]()
        for place in self.places:
            here, derived = self.state.at_line(place.number), self.sounds[self.state.lines[place.number].key]
            if here.take is None or here.line.muted or here.take.muted:
                continue
            used = here.take.used(derived.recording.duration)
            by = rate.seconds(here.first_number - numbers.start)  # frames and sound move together
            clips.append(Part(derived.recording, used, used.start + by))
        return mixed(clips, rate.seconds(len(numbers)), "the scene")

    def _talking(self) -> tuple[int, ...]:
        """The numbers of the lines that move a mouth."""
        return tuple(
            number
            for number, line in enumerate(self.state.lines)
            if line.takes and not line.heard_only and line.key in self.sounds
        )


def bake_at_rest(state: State, role: str, numbers: range) -> Bake:
    """A role that says nothing, on some frames, of which there is one at least."""
    here = state.role_named(role)
    rate, frames = state.rate, max(len(numbers), 1)
    chart = chart_of(here.chart, state.charts)
    kit = next((kit for kit in state.kits if kit.name == here.kit), None)
    settings = BakeSettings(
        rate=rate,
        start_frame=numbers.start,
        mouth_settings=SettingsTrack(here.mouth_settings),
        over=goes_over_in(kit, chart),
        mixes=here.mixes,
        followers=here.followers,
        steps=here.steps,
    )
    silence = Score((), max(rate.seconds(frames), rate.seconds(1)))
    loud = np.zeros(frames, np.float32)
    return remake(None, Plan(silence, chart, loud, settings, said=silence)).bake
