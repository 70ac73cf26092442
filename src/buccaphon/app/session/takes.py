"""The sounds of the takes: read in the background, kept for switching between them, measured afterwards."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal

from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.take_sound import Key, TakeSound, find_moved, key_of, measure, read_take, text_beside
from buccaphon.app.settings import default_exports, with_default_motion
from buccaphon.app.timers import later
from buccaphon.audio.reading import Damage
from buccaphon.errors import BuccaphonError, DamagedRecordingError
from buccaphon.progress import Progress
from buccaphon.project.derived import Derived
from buccaphon.project.edits import Touched
from buccaphon.project.edits.takes import AddTake, ChangeTake
from buccaphon.project.project import Changes, Project
from buccaphon.project.take import Take
from buccaphon.texts import _


def _nothing() -> None:
    """All stays as it is."""


_SETTLES = 800  # ms after the last change of a file
_MOST_SOUNDS = 4  # decoded takes that are kept for switching between them


class Takes(QObject):
    """begun: a new project has its first recording. brought: a recording (a Path) was brought in. measured: what takes longer
    to find out about the sound is known now."""

    begun = pyqtSignal()
    brought = pyqtSignal(object)
    measured = pyqtSignal()

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs
        self.sounds: dict[Key, Derived] = {}
        self.most = _MOST_SOUNDS  # that are kept
        self._loaded: Key | None = None
        self._retry: Callable[[], None] = lambda: None
        self.digests: dict[Path, str] = {}
        self._measured: Derived | None = None  # what was begun to be last, whatever came of it
        document.opened.connect(self._begin_anew)
        document.changed.connect(self._on_change)
        self._soon = later(self, 0, self._measure)  # what is more urgent begins first
        document.sound_ready.connect(self._soon.start)
        jobs.changed.connect(self._soon.start)
        jobs.failed.connect(self._tell)
        self.align_again: Callable[[], None] = lambda: None
        self._files = QFileSystemWatcher(self)
        self._settled = later(self, _SETTLES, self._look_at_file)  # whoever saves writes a file in several goes
        self._files.fileChanged.connect(self._settled.start)

    def bring_in(self, path: Path, damage: Damage = Damage.REFUSE) -> None:
        """Decode a recording and add it as a take; the .txt beside it becomes the script of an empty one."""
        document, take = self._document, Take(path)
        state = AddTake(take).apply(document.state)

        def done(sound: TakeSound) -> None:
            script = text_beside(path) if not document.state.script.strip() else None
            self.keep(sound)
            edit = AddTake(take, script)
            if document.state.take is None:  # nothing to lose yet: the recording begins the project
                begun = with_default_motion(edit.apply(replace(document.state, exports=default_exports())))
                document.adopt(Project(begun, document.project.path_of_its_own))
                self.meet()
                self.begun.emit()
            else:
                document.apply(edit)
            self.brought.emit(path)

        self._retry = lambda: self.bring_in(path, Damage.KEEP_READABLE)
        self._jobs.start(
            Slot.TAKE, _("Reading {name}", name=path.name), lambda progress: read_take(state, damage, progress), done
        )

    def keep(self, sound: TakeSound) -> None:
        """The sound of a take was read: going to it takes no time from now on."""
        self.sounds[key_of(sound.take)] = sound.derived

    def meet(self) -> None:
        """Have the sound of the take that is shown; read it in the background unless it was read before."""
        document, take = self._document, self._document.state.take
        key = key_of(take) if take else None
        if key == self._loaded:
            document.limit_player()
            return
        self._loaded = key
        if take is None or key is None:
            document.take_sound(None)
            document.opened.emit()
        elif key in self.sounds:
            self._show(self.sounds[key])
        else:
            document.take_sound(None)
            self._retry = lambda: self._read(take, Damage.KEEP_READABLE)
            self._read(take, Damage.REFUSE)

    def _read(self, take: Take, damage: Damage) -> None:
        document = self._document
        folder, state = document.project.path.parent if document.project.path else None, document.state

        def work(progress: Progress) -> TakeSound:
            return read_take(find_moved(state, folder), damage, progress)

        def done(sound: TakeSound) -> None:
            self.sounds[key_of(sound.take)] = sound.derived
            if sound.take.path == take.path:
                self._show(sound.derived)
                return
            where = sound.take.path.parent
            document.said.emit(_("{name} had moved; found in {where}.", name=take.path.name, where=where))
            edit = ChangeTake(path=sound.take.path, digest=sound.take.digest, name=_("Find the recording again"))
            document.apply(edit)

        self._jobs.start(Slot.TAKE, _("Reading {name}", name=take.path.name), work, done)

    def _show(self, derived: Derived) -> None:
        take = self._document.state.take
        if self._files.files():
            self._files.removePaths(self._files.files())
        if take is not None and take.path.is_file():
            self._files.addPath(str(take.path))
        while len(self.sounds) > self.most:
            self.sounds.pop(next(iter(self.sounds)))
        self._document.take_sound(derived)

    def _measure(self) -> None:
        take, derived = self._document.state.take, self._document.derived
        if take is None or derived is None or derived.lufs is not None or self._jobs.busy(Slot.TAKE):
            return
        if derived is self._measured:
            return
        self._measured = derived

        def done(found: tuple[float, str]) -> None:
            derived.lufs, digest = found
            known = self.digests.get(take.path, take.digest)
            if digest:
                self.digests[take.path] = digest
            self.measured.emit()
            if digest and known and digest != known:
                self._tell_it_is_another(take)

        def work(progress: Progress) -> tuple[float, str]:
            return measure(derived, take.path, progress)

        self._jobs.start(Slot.MEASURE, _("Measuring"), work, done, shown=False, awaited=False)

    # --- another program saved over it -----------------------------------------------------------------------------------

    def _look_at_file(self) -> None:
        """The file of the take on show was written: if it is another one, it is heard anew. Until that is done, and where it
        cannot be read, the sound is that of before."""
        take, state = self._document.state.take, self._document.state
        if take is None or self._loaded is None or key_of(take) == self._loaded or not take.path.is_file():
            return
        key = key_of(take)

        def done(sound: TakeSound) -> None:
            self.sounds[key] = sound.derived
            if self._document.state.take is not None and key_of(self._document.state.take) == key:
                self._loaded = key
                self._show(sound.derived)

        self._retry = lambda: self._read(take, Damage.KEEP_READABLE)
        self._jobs.start(
            Slot.TAKE,
            _("Reading {name}", name=take.path.name),
            lambda progress: read_take(state, Damage.REFUSE, progress),
            done,
        )

    def _tell_it_is_another(self, take: Take) -> None:
        """The sound is not the one that the words were timed in: is it to be aligned again?"""
        if take.score is None:
            self._document.said.emit(
                _("{name} was saved again by another program. It is heard as it is now.", name=take.path.name)
            )
            return
        text = _(
            "{name} was saved again by another program. It is heard as it is now; its words were timed in the "
            "recording of before. What you pinned stays pinned.",
            name=take.path.name,
        )
        self._document.asked.emit(text, _("Align it again"), self.align_again, _("Keep the times"), _nothing)

    def _begin_anew(self) -> None:
        if self._document.state.take is not None or self._loaded is not None:
            self._jobs.cancel(Slot.TAKE)
        self._loaded = None

    def _on_change(self, changes: Changes) -> None:
        if changes.touched & (Touched.SOUND | Touched.SCENE):
            self.meet()

    def _tell(self, problem: BuccaphonError) -> None:
        if isinstance(problem, DamagedRecordingError):
            self._document.offered.emit(
                str(problem), _("Use the first {readable:.1f} s", readable=problem.readable), self._retry
            )
        else:
            self._document.report(problem)
