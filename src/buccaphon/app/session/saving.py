"""Saving the project: in the background, with its earlier versions kept, and never over what somebody else has saved."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from enum import Enum
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.places import safe_folder
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.one_by_one import OneByOne
from buccaphon.app.session.takes import Takes
from buccaphon.files import clear_unfinished
from buccaphon.progress import Progress
from buccaphon.project.edits import Touched
from buccaphon.project.file.packing import pack, unpack
from buccaphon.project.file.relink import digest_of
from buccaphon.project.file.safekeeping import keep_version
from buccaphon.project.file.store import require_valid_to_save, save_project
from buccaphon.project.project import Project
from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.texts import _

_QUICK = 64 << 20  # bytes of a file that can be gone through at every save

Stamp = tuple[int, int]


class OverwritePolicy(Enum):
    """Whether a file that somebody else has saved meanwhile may be written over."""

    MINE = "only what was read or written here"
    ANYTHING = "whatever is there"


def _nothing() -> None:
    """Nothing follows."""


class Saving(QObject):
    """saved: the project is on the disk as it is here."""

    saved = pyqtSignal()

    def __init__(self, document: Document, takes: Takes, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._takes, self._jobs = document, takes, jobs
        self._turns = OneByOne(jobs, Slot.SAVE)
        self._stamp: tuple[Path, Stamp | None] | None = None  # of the project's file as it is known here
        document.opened.connect(self._look_at_file)

    def save(
        self, path: Path, then: Callable[[], None] = _nothing, over: OverwritePolicy = OverwritePolicy.MINE
    ) -> None:
        """Write the project, then go on; when that is not possible it is said, and nothing follows. What is being written is
        carried through first, so that the last save is the last that ends."""
        self._turns.add(partial(self._save, self._document.project, path, then, over))

    def _save(self, project: Project, path: Path, then: Callable[[], None], over: OverwritePolicy) -> None:
        if (
            over is OverwritePolicy.MINE
            and self._stamp
            and self._stamp[0] == path
            and self._stamp[1] != _stamp_of(path)
        ):
            text = _(
                "{name} was changed by someone else after you opened it. Their version is kept under Earlier versions.",
                name=path.name,
            )
            self._document.offered.emit(text, _("Overwrite"), partial(self.save, path, then, OverwritePolicy.ANYTHING))
            return
        state, digests = project.state, dict(self._takes.digests)

        def work(_progress: Progress) -> bool:
            require_valid_to_save(state, path)
            is_kept = keep_version(path, safe_folder())
            clear_unfinished(path)
            save_project(_with_digests(state, digests), path)
            return is_kept

        def done(is_kept: bool) -> None:
            if not is_kept:
                self._document.said.emit(_("Saved, but the earlier version could not be kept."))
            self._stamp = path, _stamp_of(path)
            project.mark_saved(path, state)
            if project is self._document.project:
                self._document.emit_changed(Touched(0), _("Save"))
                self.saved.emit()
            then()

        self._jobs.start(Slot.SAVE, _("Saving {name}", name=path.name), work, done)

    def pack(self, path: Path) -> None:
        """Write the project with all it uses into one file."""
        state = self._document.state

        def done(missing: tuple[str, ...]) -> None:
            told = [_("Packed: {name}.", name=path.name)]
            if missing:
                told.append(_("These files are missing from the pack: {names}.", names=", ".join(missing)))
            self._document.said.emit(" ".join(told))

        def begin() -> None:
            self._jobs.start(
                Slot.SAVE, _("Packing {name}", name=path.name), lambda progress: pack(state, path, progress), done
            )

        self._turns.add(begin)

    def unpack(self, path: Path, folder: Path, then: Callable[[Path], None]) -> None:
        """Write what is in a pack into an empty folder, and go on with the project there."""

        def begin() -> None:
            self._jobs.start(
                Slot.SAVE, _("Unpacking {name}", name=path.name), lambda progress: unpack(path, folder, progress), then
            )

        self._turns.add(begin)

    def _look_at_file(self) -> None:
        path = self._document.project.path
        self._stamp = (path, _stamp_of(path)) if path else None


def _stamp_of(path: Path) -> Stamp | None:
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size


def _with_digests(state: State, known: dict[Path, str]) -> State:
    return state.with_each_take(lambda take: replace(take, digest=_digest(take, known)))


def _digest(take: Take, known: dict[Path, str]) -> str:
    """What is known, or quick to find out; a large file's is found after it was read, and kept at the next save."""
    found = known.get(take.path, take.digest)
    try:
        if found or not take.path.is_file() or take.path.stat().st_size > _QUICK:
            return found
        return digest_of(take.path)
    except OSError:
        return found
