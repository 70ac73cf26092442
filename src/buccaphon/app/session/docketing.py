"""The docket that is open: its scenes, who has looked at them, and what is done to several of them in the background."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.places import safe_folder
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.take_sound import TakeSound, find_moved, key_of, read_take
from buccaphon.app.session.takes import Takes
from buccaphon.audio.reading import Damage
from buccaphon.batch.changing import Change, Changed, change_all
from buccaphon.batch.docket import DocketScene, Mark, Marks, next_after, read_docket
from buccaphon.batch.ledger import Ledger
from buccaphon.errors import BuccaphonError, Cancelled
from buccaphon.progress import Progress
from buccaphon.project.file.store import SUFFIX, open_project
from buccaphon.project.standing import Standing
from buccaphon.texts import _, ngettext


class Docketing(QObject):
    """changed: scenes or their marks are others now. told: how work on several stands, in a sentence. scenes: those
    first that need an eye most. workers: processes that change scenes."""

    changed = pyqtSignal()
    told = pyqtSignal(str)

    def __init__(self, document: Document, takes: Takes, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._takes, self._jobs = document, takes, jobs
        self.folder: Path | None = None
        self.scenes: list[DocketScene] = []
        self.workers = max(len(os.sched_getaffinity(0)), 1)
        self.reopen: Callable[[Path], None] = lambda _path: None  # set by whoever can open a scene
        document.sound_ready.connect(self._read_ahead)

    def open(self, folder: Path) -> None:
        """Raises TargetError where it cannot be read."""
        self.scenes, self.folder = read_docket(folder), folder
        self.changed.emit()

    def refresh(self) -> None:
        """Others may have looked at some meanwhile."""
        if self.folder is None:
            return
        try:
            found = read_docket(self.folder)
        except BuccaphonError as problem:
            self._document.report(problem)
            return
        if found != self.scenes:
            self.scenes = found
            self.changed.emit()

    def mark(self, paths: Sequence[Path], standing: Standing) -> None:
        """Say how far somebody has come with some of them."""
        try:
            for path in paths:
                Marks(path.parent).put(path.name, standing)
        except BuccaphonError as problem:
            self._document.report(problem)
        self.refresh()

    def following(self, path: Path, mark: Mark) -> DocketScene | None:
        """The scene that is next once one has a mark. Raises TargetError."""
        self.open(path.parent)
        return next_after(path, self.scenes, mark)

    # --- several at once -------------------------------------------------------------------------------------------------

    def change(self, paths: Sequence[Path], change: Change) -> None:
        """Do it to some of them in the background. One that is open with changes is left out, and said."""
        project = self._document.project
        if project.path in paths and project.is_changed and change.changes_scene:
            self._document.said.emit(_("{name} is open and has changes: save it first.", name=project.path.name))
            return
        if self._jobs.busy(Slot.DOCKET):
            self._document.said.emit(_("Other scenes are still being worked on. Esc stops that."))
            return
        known = {scene.path: scene.found for scene in self.scenes}
        before = [known.get(path) for path in paths]
        change = Change(
            change.align, change.chart, change.rate, change.character, change.deliver, versions=safe_folder()
        )

        def work(progress: Progress) -> list[Changed]:
            done = list[Changed]()
            ledgers: dict[Path, Ledger] = {}
            for each in change_all(paths, change, before, min(self.workers, len(paths)) if len(paths) > 1 else 0):
                done.append(each)
                self._keep(each, change, ledgers)
                if not progress(len(done) / len(paths), each.path.stem):
                    raise Cancelled
            return done

        count = len(paths)
        name = ngettext("Working on {count} scene", "Working on {count} scenes", count)
        self._jobs.start(Slot.DOCKET, name, work, partial(self._tell, change))

    def _keep(self, each: Changed, change: Change, ledgers: dict[Path, Ledger]) -> None:
        """What was found goes into the ledger beside the scene, and that it was delivered into the marks."""
        folder = each.path.parent
        if each.found is not None and change.changes_scene:
            ledger = ledgers.setdefault(folder, Ledger(folder))
            ledger.put(each.found)
            ledger.close()
        if each.found is not None and change.deliver:
            Marks(folder).put(each.path.name, Standing.DELIVERED)

    def _tell(self, change: Change, done: list[Changed]) -> None:
        failed = [each for each in done if each.failed]
        count = len(done) - len(failed)
        told = [ngettext("{count} scene done.", "{count} scenes done.", count)]
        if failed:
            told.append(
                ngettext("{count} failed: {why}", "{count} failed, the first: {why}", len(failed), why=failed[0].failed)
            )
        self.told.emit(" ".join(told))
        self.refresh()
        path = self._document.project.path
        if change.changes_scene and path is not None and any(each.path == path and not each.failed for each in done):
            self._document.offered.emit(
                _("{name} is another one on the disk now.", name=path.name),
                _("Open it again"),
                partial(self._reopen, path),
            )

    def _reopen(self, path: Path) -> None:
        if not self._document.project.is_changed:
            self.reopen(path)

    # --- the next one ----------------------------------------------------------------------------------------------------

    def _read_ahead(self) -> None:
        """The sound of the scene that will be next is read while this one is worked on."""
        path = self._document.project.path
        if path is None or self.folder is None or path.parent != self.folder:
            return
        following = next_after(path, self.scenes, Mark(path.name, Standing.LOOKED_AT, "", 0.0))
        if following is None or following.path.suffix != SUFFIX or self._jobs.busy(Slot.DOCKET_AHEAD):
            return

        def work(progress: Progress) -> TakeSound | None:
            state = find_moved(open_project(following.path), following.path.parent)
            return read_take(state, Damage.KEEP_READABLE, progress) if state.take is not None else None

        def done(found: TakeSound | None) -> None:
            if found is not None and key_of(found.take) not in self._takes.sounds:
                self._takes.keep(found)

        name = _("Reading {name}", name=following.path.name)
        self._jobs.start(
            Slot.DOCKET_AHEAD, name, work, done, shown=False, awaited=False, failed=lambda _why: None
        )  # whoever opens it says why it cannot be read
