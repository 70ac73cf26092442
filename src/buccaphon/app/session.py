"""What the window works on: the project, what follows from it, the player, and the slow work under way.

Widgets read from here and send edits here; they do not talk to each other.
"""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.alignment.aligner import AlignmentRequest, align
from buccaphon.app.background import Background
from buccaphon.app.mirror.device import Device
from buccaphon.app.mirror.player import Player
from buccaphon.audio.reading import SUFFIXES, read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError
from buccaphon.motion.bake import Bake
from buccaphon.mouths.chart import Chart, find_chart
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.project.derived import Derived
from buccaphon.project.edits import Edit, Kind, Paint, SetRecording, TakeAlignment, Unpaint
from buccaphon.project.project import Changes, Project
from buccaphon.project.state import State
from buccaphon.project.store import SUFFIX, open_project, save_project
from buccaphon.score.records import Score
from buccaphon.speech.script import require_words
from buccaphon.timing import Span


class Session(QObject):
    """changed: an edit, undo or redo was done (Changes). opened: another project is here. sound_ready: its recording
    is decoded. selected: another exposure is selected. said: a notice for the user."""

    changed = pyqtSignal(object)
    opened = pyqtSignal()
    sound_ready = pyqtSignal()
    selected = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, device: Device, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.player = Player(device, self)
        self.background = Background(self)
        self.background.failed.connect(self.report)
        self.derived: Derived | None = None
        self.selection: Span | None = None
        self.project = Project()
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
        return self.state.recording.stem.replace("_", " ") if self.state.recording else "Untitled"

    # --- opening and saving --------------------------------------------------------------------------------------------

    def open(self, path: Path) -> None:
        """Open a project, or begin one with a recording."""
        try:
            if path.suffix.lower() == SUFFIX:
                self._adopt(Project(open_project(path), path))
                self._load_sound()
            else:
                self.bring_in(path)
        except BuccaphonError as problem:
            self.report(problem)

    def open_prepared(self, project: Project) -> None:
        """Open a project that is already in memory, and align it if it has a script but no timings yet."""
        self._adopt(project)
        self._load_sound()

    def bring_in(self, path: Path) -> None:
        """Decode a recording and make it the project's; the .txt beside it becomes the script of an empty one."""

        def read(progress: object) -> Recording:
            del progress
            return read_recording(path)

        def done(recording: Recording) -> None:
            beside = path.with_suffix(".txt")
            script = None
            if not self.state.script.strip() and beside.is_file():
                script = beside.read_text("utf-8-sig", errors="replace").strip()
            if self.state.recording is None:  # nothing to lose yet: the recording begins the project
                self._adopt(Project(SetRecording(path, script).apply(self.state), self.project.path))
            else:
                self.apply(SetRecording(path, script))
            self._take_sound(recording)

        self.background.run(f"Reading {path.name}", read, done)

    def save(self, path: Path) -> bool:
        """Write the project; False, and a notice, when that is not possible."""
        try:
            save_project(self.state, path)
        except BuccaphonError as problem:
            self.report(problem)
            return False
        self.project.mark_saved(path)
        self.changed.emit(Changes(Kind(0), "Save"))
        return True

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

    def align(self, settle: bool = False) -> None:
        """Align the script with the recording in the background. settle: the result belongs to what was opened."""
        recording, text = self.recording, self.state.script
        if recording is None:
            self.said.emit("Open a recording first, then type what is said in it.")
            return
        try:
            words = require_words(text, "The script")
        except BuccaphonError as problem:
            self.report(problem)
            return
        request = AlignmentRequest(recording, words)

        def done(score: Score) -> None:
            if self.recording is recording:
                self.apply(TakeAlignment(score, text))
                if settle:
                    self.project.settle()
                    self.changed.emit(Changes(Kind(0), "Align"))

        self.background.run("Aligning", lambda progress: align(request, progress), done)

    def paint(self, mouth: str) -> None:
        """Put a mouth on the selected exposure, or on the one at the playhead."""
        span = self.painting_span()
        if span is not None:
            self.apply(Paint(span, mouth))

    def unpaint(self) -> None:
        span = self.painting_span()
        if span is not None:
            self.apply(Unpaint(span))

    def painting_span(self) -> Span | None:
        """Where a painted mouth would go."""
        if self.selection is not None:
            return self.selection
        exposure = self.exposure()
        return self.span_of(exposure) if exposure else None

    def span_of(self, exposure: Exposure) -> Span:
        return Span(self.state.rate.seconds(exposure.start), self.state.rate.seconds(exposure.end))

    def select(self, span: Span | None) -> None:
        if span != self.selection:
            self.selection = span
            self.selected.emit()

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

    # --- inside --------------------------------------------------------------------------------------------------------

    def _adopt(self, project: Project) -> None:
        self.background.cancel()
        self.player.load(None)
        self.project, self.derived, self.selection = project, None, None
        project.listen(self._on_change)
        self.opened.emit()

    def _load_sound(self) -> None:
        path = self.state.recording
        if path is None:
            return
        self.background.run(f"Reading {path.name}", lambda _progress: read_recording(path), self._take_sound)

    def _take_sound(self, recording: Recording) -> None:
        self.derived = Derived(recording)
        self.player.load(recording)
        self.sound_ready.emit()
        if self.state.score is None and self.state.script.strip():
            self.align(settle=not self.project.is_changed)

    def _on_change(self, changes: Changes) -> None:
        self.changed.emit(changes)


def is_openable(path: Path) -> bool:
    return path.suffix.lower() in (SUFFIX, *SUFFIXES)
