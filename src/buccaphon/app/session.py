"""What the window works on: the project, what follows from it, the player, and the slow work under way.

Widgets read from here and send edits here; they do not talk to each other.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.alignment.request import Progress
from buccaphon.app.background import Background
from buccaphon.app.comparing import Comparing
from buccaphon.app.mirror.device import Device
from buccaphon.app.mirror.player import Player
from buccaphon.app.places import safe_folder
from buccaphon.app.pronouncing import Pronouncing
from buccaphon.app.rewording import Rewording
from buccaphon.app.selection import NOTHING, Selection
from buccaphon.app.take_sound import TakeSound, found_again, key_of, measure, read_take
from buccaphon.app.words import Words
from buccaphon.audio.reading import SUFFIXES, Damage
from buccaphon.audio.recording import Channel, Recording
from buccaphon.errors import BuccaphonError, DamagedRecordingError
from buccaphon.formats.words import SUFFIXES as WORDING_SUFFIXES
from buccaphon.formats.words import read_wording
from buccaphon.motion.bake import Bake
from buccaphon.mouths.chart import Chart, find_chart
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.project.derived import Derived
from buccaphon.project.edits import Edit, Kind, Together
from buccaphon.project.edits.mouths import Paint, Unpaint
from buccaphon.project.edits.takes import AddTake, ChangeTake
from buccaphon.project.file.relink import digest_of
from buccaphon.project.file.safekeeping import keep_version
from buccaphon.project.file.store import SUFFIX, open_project, save_project
from buccaphon.project.project import Changes, Project
from buccaphon.project.state import State, Take
from buccaphon.score.records import Score
from buccaphon.timing import Span

_QUICK = 64 << 20  # bytes of a file that can be gone through while the user waits
_MOST_SOUNDS = 4  # decoded takes that are kept for switching between them


class Session(QObject):
    """changed: an edit, undo or redo was done (Changes). opened: another project is here. sound_ready: its recording
    is decoded. selected: something else is selected. word_chosen: another word is chosen. said: a notice for the user.
    offered: a notice with something that can be done about it (text, label, what to call). begun: a new project has its
    first recording. measured: what takes longer to find out about the sound is known now.
    """

    changed = pyqtSignal(object)
    opened = pyqtSignal()
    sound_ready = pyqtSignal()
    selected = pyqtSignal()
    word_chosen = pyqtSignal()
    said = pyqtSignal(str)
    offered = pyqtSignal(str, str, object)
    begun = pyqtSignal()
    measured = pyqtSignal()

    def __init__(self, device: Device, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.player = Player(device, self)
        self.background, self.afterwards = Background(self), Background(self)
        self.background.failed.connect(self._report_failure)
        self.derived: Derived | None = None
        self.selection = NOTHING
        self.word: int | None = None
        self.project = Project()
        self._sounds: dict[tuple[Path, Channel], Derived] = {}
        self._loaded: tuple[Path, Channel] | None = None
        self._digests: dict[Path, str] = {}
        self._retry: Callable[[], None] = lambda: None
        self.words, self.comparing = Words(self), Comparing(self)
        self.pronouncing, self.rewording = Pronouncing(self), Rewording(self)
        self._adopt(self.project)

    # --- reading -----------------------------------------------------------------------------------------------------

    @property
    def state(self) -> State:
        return self.project.state

    @property
    def recording(self) -> Recording | None:
        return self.derived.recording if self.derived else None

    @property
    def score(self) -> Score | None:
        return self.state.score

    @property
    def chart(self) -> Chart:
        return find_chart(self.state.chart)

    def bake(self) -> Bake | None:
        return self.derived.bake(self.state) if self.derived else None

    @property
    def used(self) -> Span:
        """The part of the recording that is used."""
        if self.recording is None or self.state.take is None:
            return Span(0.0, 0.0)
        return self.state.take.used(self.recording.duration)

    @property
    def frame(self) -> int:
        """The frame at the playhead, counted from 0."""
        return self.state.rate.containing(self.player.position)

    def exposure(self) -> Exposure | None:
        """The exposure on show at the playhead."""
        bake = self.bake()
        return exposure_at(bake.exposures, min(self.frame, bake.frames - 1)) if bake else None

    @property
    def title(self) -> str:
        if self.project.path:
            return self.project.path.stem
        return self.state.take.title if self.state.take else "Untitled"

    # --- opening and saving --------------------------------------------------------------------------------------------

    def open(self, path: Path) -> None:
        """Open a project, begin one with a recording, or bring in words."""
        try:
            if path.suffix.lower() == SUFFIX:
                self._adopt(Project(open_project(path), path))
                self._meet_take()
            elif path.suffix.lower() in WORDING_SUFFIXES and path.suffix.lower() not in SUFFIXES:
                self.words.bring_in(read_wording(path))
            else:
                self.bring_in(path)
        except BuccaphonError as problem:
            self.report(problem)

    def open_prepared(self, project: Project) -> None:
        """Open a project that is already in memory, and align it if it has a script but no timings yet."""
        self._adopt(project)
        self._meet_take()

    def bring_in(self, path: Path, damage: Damage = Damage.REFUSE) -> None:
        """Decode a recording and add it as a take; the .txt beside it becomes the script of an empty one."""

        def done(sound: TakeSound) -> None:
            beside = path.with_suffix(".txt")
            script = None
            if not self.state.script.strip() and beside.is_file():
                script = beside.read_text("utf-8-sig", errors="replace").strip()
            self._sounds[key_of(sound.take)] = sound.derived
            edit = AddTake(take, script)
            if self.state.take is None:  # nothing to lose yet: the recording begins the project
                self._adopt(Project(edit.apply(self.state), self.project.path))
                self._meet_take()
                self.begun.emit()
            else:
                self.apply(edit)

        self._retry = lambda: self.bring_in(path, Damage.KEEP_READABLE)
        take = Take(path)
        state = AddTake(take).apply(self.state)
        self.background.run(f"Reading {path.name}", lambda progress: read_take(state, damage, progress), done)

    def save(self, path: Path) -> bool:
        """Write the project; False, and a notice, when that is not possible."""
        known = [replace(take, digest=self._digest(take)) for take in self.state.takes]
        keep_version(path, safe_folder())
        try:
            save_project(self.state.with_takes(*known), path)
        except BuccaphonError as problem:
            self.report(problem)
            return False
        except Exception as problem:  # whatever it is: that nothing was saved must be known
            self.said.emit(f"The project could not be saved ({type(problem).__name__}: {problem}). It is still open.")
            return False
        self.project.mark_saved(path)
        self.changed.emit(Changes(Kind(0), "Save"))
        return True

    def _digest(self, take: Take) -> str:
        """What is known, or quick to find out; a large file's is found in the background and kept at the next save."""
        known = self._digests.get(take.path, take.digest)
        try:
            if known or not take.path.is_file() or take.path.stat().st_size > _QUICK:
                return known
            return digest_of(take.path)
        except OSError:
            return known

    # --- editing -------------------------------------------------------------------------------------------------------

    def apply(self, edit: Edit) -> None:
        self.project.apply(edit)

    def undo(self) -> None:
        step = self.project.undo()
        if step:
            self.said.emit(f"Undone: {step.name}")

    def redo(self) -> None:
        step = self.project.redo()
        if step:
            self.said.emit(f"Done again: {step.name}")

    def go_to_step(self, count: int) -> None:
        """Undo or redo until so many steps of the history are done."""
        self.project.go_to(count)

    def paint(self, mouth: str) -> None:
        """Put a mouth on all that is selected, or on the exposure at the playhead."""
        spans = self.painting_spans()
        if spans:
            self.apply(Together(tuple(Paint(span, mouth) for span in spans), f"Paint {mouth}"))

    def unpaint(self) -> None:
        spans = self.painting_spans()
        if spans:
            self.apply(Together(tuple(Unpaint(span) for span in spans), "Give the mouth back"))

    def painting_spans(self) -> tuple[Span, ...]:
        """Where painted mouths would go."""
        if self.selection:
            return self.selection.spans(self.score)
        exposure = self.exposure()
        return (self.span_of(exposure),) if exposure else ()

    def span_of(self, exposure: Exposure) -> Span:
        return Span(self.state.rate.seconds(exposure.start), self.state.rate.seconds(exposure.end))

    def select(self, selection: Selection) -> None:
        if selection != self.selection:
            self.selection = selection
            self.selected.emit()

    def select_mouths(self, span: Span) -> None:
        """Select the exposures that are on show in a stretch of time."""
        bake = self.bake()
        if bake is not None:
            first, last = bake.rate.containing(span.start), bake.rate.containing(span.end)
            shown = (exposure for exposure in bake.exposures if exposure.end > first and exposure.start <= last)
            self.select(Selection(mouths=tuple(self.span_of(exposure) for exposure in shown)))

    def select_words(self, span: Span) -> None:
        """Select the words that are said in a stretch of time."""
        words = self.score.words if self.score else ()
        said = (n for n, word in enumerate(words) if word.end > span.start and word.start < span.end)
        self.select(Selection(words=tuple(said)))

    @property
    def selected_span(self) -> Span | None:
        """From the first to the last of what is selected."""
        return self.selection.whole(self.score)

    def choose_word(self, number: int | None) -> None:
        """Choose a word of the script, to see and change how it is said."""
        self.word = number
        self.word_chosen.emit()

    def report(self, problem: BuccaphonError) -> None:
        self.said.emit(str(problem))

    def step(self, frames: int, neighbour: bool = False) -> None:
        """Move the playhead by whole frames and hear exactly the frame it comes to (with `neighbour` the next as well)."""
        if self.recording is None:
            return
        self.player.stop()
        rate = self.state.rate
        last = rate.covering(self.recording.duration) - 1
        frame = min(max(self.frame + frames, 0), last)
        self.player.seek(rate.seconds(frame))
        end = min(rate.seconds(frame + (2 if neighbour else 1)), self.recording.duration)
        self.player.hear(Span(rate.seconds(frame), max(end, rate.seconds(frame))))

    def shut_down(self) -> None:
        """Stop everything, for closing the window."""
        self.player.stop()
        self.background.shut_down()
        self.afterwards.shut_down()
        self.words.shut_down()

    # --- inside --------------------------------------------------------------------------------------------------------

    def _adopt(self, project: Project) -> None:
        self.background.cancel()
        self.project, self.derived, self.selection, self.word, self._loaded = project, None, NOTHING, None, None
        self.words.forget()
        self.player.load(None)
        project.listen(self._on_change)
        self.opened.emit()

    def _meet_take(self) -> None:
        """Have the sound of the take that is shown; read it in the background unless it was read before."""
        take = self.state.take
        key = key_of(take) if take else None
        if key == self._loaded:
            self._set_limits()
            return
        self.words.forget()
        self._loaded, self.derived = key, None  # nothing may look at the new take with the old sound
        self.player.load(None)
        if take is None:
            self.opened.emit()
        elif key in self._sounds:
            self._take_sound(self._sounds[key])
        else:
            self._retry = lambda: self._read_take(take, Damage.KEEP_READABLE)
            self._read_take(take, Damage.REFUSE)

    def _read_take(self, take: Take, damage: Damage) -> None:
        folder, state = self.project.path.parent if self.project.path else None, self.state

        def work(progress: Progress) -> TakeSound:
            return read_take(found_again(state, folder), damage, progress)

        def done(sound: TakeSound) -> None:
            self._sounds[key_of(sound.take)] = sound.derived
            if sound.take.path != take.path:
                self.said.emit(
                    f"{take.path.name} was not in its place; it was found again in {sound.take.path.parent}."
                )
                self.apply(ChangeTake(path=sound.take.path, digest=sound.take.digest, name="Find the recording again"))
            else:
                self._take_sound(sound.derived)

        self.background.run(f"Reading {take.path.name}", work, done)

    def _take_sound(self, derived: Derived) -> None:
        self.derived = derived
        while len(self._sounds) > _MOST_SOUNDS:
            self._sounds.pop(next(iter(self._sounds)))
        self.player.load(derived.recording)
        self._set_limits()
        self.sound_ready.emit()
        self._measure_later(derived)
        take = self.state.take
        if take is not None and take.score is None and self.state.script.strip():
            self.words.align(settle=not self.project.is_changed)
        else:
            self.words.listen_soon()

    def _measure_later(self, derived: Derived) -> None:
        take = self.state.take
        if take is None or derived.lufs is not None:
            return

        def done(found: tuple[float, str]) -> None:
            derived.lufs, self._digests[take.path] = found
            self.measured.emit()

        self.afterwards.run("Measuring", lambda _progress: measure(derived, take.path), done)

    def _set_limits(self) -> None:
        take = self.state.take
        if self.recording is not None and take is not None:
            self.player.limit(take.used(self.recording.duration), take.muted)

    def _on_change(self, changes: Changes) -> None:
        count = len(self.score.words) if self.score else 0
        if (self.selection.words and self.selection.words[-1] >= count) or changes.kind & Kind.SCRIPT:
            self.select(NOTHING)  # numbers of words that are others now
        if changes.kind & (Kind.SOUND | Kind.SCENE):
            self._meet_take()
        if changes.kind & Kind.TIMING:
            self.words.listen_soon()
        self.changed.emit(changes)

    def _report_failure(self, problem: BuccaphonError) -> None:
        if isinstance(problem, DamagedRecordingError):
            self.offered.emit(str(problem), f"Use the first {problem.readable:.1f} s", self._retry)
        else:
            self.report(problem)
