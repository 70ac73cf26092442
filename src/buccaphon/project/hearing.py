"""A scene without a window: its recordings read, what is not aligned yet aligned, and all that its mouths need heard."""

from __future__ import annotations

from dataclasses import replace

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.progress import Progress, no_progress
from buccaphon.project.derived import Derived
from buccaphon.project.scene import Ensemble
from buccaphon.project.state import State
from buccaphon.speech.script import script_words


def hear_scene(state: State, progress: Progress = no_progress) -> Ensemble:
    """The scene with the sound of each line. Raises RecordingError where one cannot be read, AlignmentError where words
    cannot be found, Cancelled."""
    sounds: dict[int, Derived] = {}
    count = sum(1 for line in state.lines if line.takes)
    for number, line in enumerate(state.lines):
        if line.take is None:
            continue
        done = len(sounds) / max(count, 1)

        def told(share: float, what: str, done: float = done) -> bool:
            return progress(done + share / max(count, 1), what)

        heard = read_recording(line.take.path, progress=told).listened_to(line.take.channel)
        derived = Derived(heard, build_peaks(heard))
        if not line.heard_only:
            here = aligned(state.at_line(number), derived, told)
            state, derived = here.at_line(state.open_line), derived.knowing_all(here, told)
        sounds[line.key] = derived
    return Ensemble(state, sounds)


def completed(ensemble: Ensemble, progress: Progress = no_progress) -> Ensemble:
    """The same with all heard that its mouths are made by, and with the recordings that were not read yet. Raises
    RecordingError, Cancelled."""
    state, sounds = ensemble.state, dict(ensemble.sounds)
    for number, line in enumerate(state.lines):
        if line.take is None:
            continue
        if line.key not in sounds:
            heard = read_recording(line.take.path, progress=progress).listened_to(line.take.channel)
            sounds[line.key] = Derived(heard, build_peaks(heard))
        if not line.heard_only:
            sounds[line.key] = sounds[line.key].knowing_all(state.at_line(number), progress)
    return Ensemble(state, sounds)


def aligned(state: State, derived: Derived, progress: Progress = no_progress) -> State:
    """The words of the shown take of the open line, aligned where that was not done yet."""
    take, words = state.take, script_words(state.script)
    if take is None or take.score is not None or not words:
        return state
    used = take.used(derived.recording.duration)
    request = AlignmentRequest(derived.recording, words, used, take.not_speech, state.language, state.lexicon)
    return state.with_take(replace(take, score=align(request, progress), aligned_script=state.script))
