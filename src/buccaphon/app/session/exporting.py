"""Exporting: the files of the project's export list, written in the background, once or again whenever it is saved."""

from __future__ import annotations

import os
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session import own_places
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.lines import Lines
from buccaphon.app.timers import later
from buccaphon.errors import BuccaphonError, ListError
from buccaphon.formats.delivering import Delivered, Outside, Wanted, in_the_way, pattern_of, resolve_targets
from buccaphon.formats.format import Format, Needs
from buccaphon.formats.listing import Entry, ExportList, stem
from buccaphon.formats.out.pictures.shots import PictureOptions, Shooting
from buccaphon.formats.out.pictures.strips import as_png
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import names_of
from buccaphon.painting.pictures.studio import Studio
from buccaphon.progress import Progress
from buccaphon.project.delivering import characters_of, deliver, deliver_each, facts, roles_of
from buccaphon.project.edits.exports import SetExports
from buccaphon.project.hearing import completed
from buccaphon.texts import N_, _, ngettext

WRITING = N_("Writing …")


class Exporting(QObject):
    """told: how it stands, in words. asked: something is to be looked at first, with what `replace` then does: files are
    there already, or the list leads to a folder that nobody here has chosen. written: the files that are there now, as far
    as this window wrote them last."""

    told = pyqtSignal(str)
    asked = pyqtSignal(str, str)

    def __init__(self, document: Document, lines: Lines, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._lines, self._jobs = document, lines, jobs
        self.studio = Studio(self)
        self.written: list[Path] = []
        self._left_out: list[str] = []
        self._under_way = False
        jobs.changed.connect(later(self, 0, self._see_it_stopped).start)  # what it gave is told first
        document.opened.connect(self.written.clear)

    # --- the list ------------------------------------------------------------------------------------------------------

    @property
    def exports(self) -> ExportList:
        return self._document.state.exports

    def put(self, exports: ExportList, name: str, gesture: str = "") -> bool:
        """Another list, set by hand here, as one step to undo. Whether it can be."""
        own = [Path(text) for text in (exports.folder, *(entry.folder for entry in exports.entries))]
        known = (self.exports.folder, *(entry.folder for entry in self.exports.entries))
        own_places.choose(folder for folder in own if folder.is_absolute() and str(folder) not in known)
        return self.take_over(exports, name, gesture)

    def take_over(self, exports: ExportList, name: str, gesture: str = "") -> bool:
        """A list that comes from elsewhere: where it leads to is asked about before anything is written there."""
        return exports == self.exports or self._document.attempt(SetExports(exports, name=name, gesture=gesture))

    def add(self, form: Format) -> None:
        """One more file; one that is in the list as it would be added is turned on instead."""
        entries, usual = self.exports.entries, Entry(form.id)
        same = next(
            (n for n, entry in enumerate(entries) if (entry.format, entry.name) == (usual.format, usual.name)), None
        )
        if same is not None:
            self._document.said.emit(
                _("{name} is in the list already. Give it another name there to write it twice.", name=form.title)
            )
            self.change(same, replace(entries[same], on=True), _("{name}: on", name=form.title))
            return
        self.put(
            replace(self.exports, entries=(*self.exports.entries, Entry(form.id))),
            _("Add {name} to the export", name=form.title),
        )

    def change(self, row: int, entry: Entry, name: str, gesture: str = "") -> bool:
        entries = self.exports.entries
        return self.put(replace(self.exports, entries=(*entries[:row], entry, *entries[row + 1 :])), name, gesture)

    def into(self, folder: Path) -> None:
        """Where all of it goes; below the project's folder it is kept as that, so that both can move together."""
        own_places.choose([folder])
        home = self._home
        text = str(folder)
        if home is not None and folder.resolve().is_relative_to(home.resolve()):
            text = os.path.relpath(folder.resolve(), home.resolve())
        self.put(replace(self.exports, folder=text), _("Choose the folder of the export"))

    @property
    def _home(self) -> Path | None:
        path = self._document.project.path
        return path.parent if path is not None else None

    @property
    def folder(self) -> Path | None:
        """Where all of it goes; None until that was said."""
        text = self.exports.folder
        if not text:
            return None
        if Path(text).is_absolute():
            return Path(text)
        return self._home / text if self._home is not None else None

    def can(self, form: Format) -> bool:
        """Whether there is something to write in a format now."""
        ready = self._document.recording is not None
        return ready and (Needs.WORDS not in form.needs or self._document.score is not None)

    def shown_name(self, entry: Entry) -> str:
        """What an entry's file will be called, with its folder; why it can have no name, in a sentence."""
        try:
            state = self._document.state
            several = len(self._lines.ensemble().roles()) > 1
            pattern = pattern_of(entry, several=bool(characters_of(state)) and not several, roles=several)
            name = stem(pattern, facts(state, self._document.title))
        except ListError as problem:
            return str(problem)
        return f"{entry.folder + '/' if entry.folder else ''}{name}{format_named(entry.format).ending}"

    # --- writing -------------------------------------------------------------------------------------------------------

    def export(self) -> None:
        """Write what is on in the list; asks first when some of it is there already, or goes where nobody here has sent
        it."""
        wanted = self._wanted()
        if wanted is None:
            return
        there, strange = in_the_way(wanted), self._strange(wanted)
        if strange:
            places = ", ".join(map(str, strange))
            self.asked.emit(
                _("This list writes into {places}, which was not chosen here", places=places), _("Write there")
            )
        elif there:
            self.asked.emit(_("These files already exist: {there}", there=names_of(there)), _("Replace them"))
        else:
            self._write(wanted)

    def replace(self) -> None:
        """Write it, over what is there."""
        wanted = self._wanted()
        if wanted is not None:
            own_places.choose({each.place.parent for each in wanted})
            self._write(wanted)

    def _strange(self, wanted: list[Wanted]) -> list[Path]:
        """The folders outside that of the project that nobody here has chosen."""
        home = self._home
        folders = sorted({each.place.parent for each in wanted})
        at_home = [home is not None and folder.resolve().is_relative_to(home.resolve()) for folder in folders]
        return [
            folder
            for folder, near in zip(folders, at_home, strict=True)
            if not near and not own_places.is_chosen(folder)
        ]

    def keep(self) -> None:
        """Leave what is there as it is."""
        self.told.emit(_("Nothing was exported."))

    def again(self) -> None:
        """The project was saved: write all of it again, if that is wanted, and was by somebody here: the first time it is
        asked about, and so are files that come from elsewhere."""
        if not self.exports.again or self.folder is None or self._document.recording is None:
            return
        wanted = self._wanted()
        if wanted is None:
            return
        foreign = own_places.of_others(in_the_way(wanted))
        if not all(own_places.is_chosen(each.place.parent) for each in wanted):
            self.asked.emit(
                _("This list writes into {folder} whenever it is saved", folder=self.folder), _("Write there")
            )
        elif foreign:
            self.asked.emit(_("Not written here before: {names}", names=names_of(foreign)), _("Replace them"))
        else:
            self._write(wanted)

    def _wanted(self) -> list[Wanted] | None:
        """What is to be written; None when there is nothing, after saying why."""
        if self._document.derived is None or self.folder is None:
            return None
        try:
            state, exports = self._document.state, replace(self.exports, folder="")
            title = self._document.title
            known, roles = facts(state, title), roles_of(self._lines.ensemble(), title)
            wanted = resolve_targets(exports, known, self.folder, Outside.LOOKED_AT, characters_of(state), roles)
        except BuccaphonError as problem:
            self.told.emit(str(problem))
            return None
        possible = [each for each in wanted if self.can(each.form)]
        self._left_out = list(dict.fromkeys(each.form.title for each in wanted if not self.can(each.form)))
        if not wanted:
            self.told.emit(_("No file in the list is ticked.") if self.exports.entries else _("The list is empty."))
        elif not possible:
            self.told.emit(_("Nothing was exported. {left_out}", left_out=_says_left_out(self._left_out)))
        return possible or None

    def _write(self, wanted: list[Wanted]) -> None:
        document, studio, title = self._document, self.studio, self._document.title
        apart = self._lines.ensemble().apart()
        left_out = [_says_left_out(self._left_out)] if self._left_out else []

        def work(progress: Progress) -> Delivered:
            found = completed(apart, progress)
            return deliver_each(found, title, wanted, progress, lambda each: studio.pictures(each, found.peaks()))

        def done(result: Delivered) -> None:
            self._under_way = False
            self.written = [each.path for each in result.written]
            for problem in result.problems:
                document.report(problem)
            own_places.wrote(self.written)
            self.told.emit(" ".join((_said(result, wanted[0].place.parent), *left_out)))

        own_places.choose({each.place.parent for each in wanted})
        self._under_way = True
        self.told.emit(_(WRITING))
        self._jobs.start(Slot.EXPORT, _("Exporting"), work, done)

    def still(self) -> bytes:
        """The frame at the playhead as PNG: in the artwork's own size where the character has one, else as large as a usual
        picture. Raises KitError."""
        document = self._document
        assert document.derived is not None
        delivery = deliver(document.state, document.derived, document.title, whole=True)
        pictures = self.studio.pictures(delivery, document.derived.peaks)
        options = PictureOptions(artwork=pictures.artwork is not None)
        assert delivery.bake is not None
        frame = min(document.frame, delivery.bake.frames - 1)
        return as_png(Shooting(replace(delivery, pictures=pictures), options).picture(frame))

    def _see_it_stopped(self) -> None:
        if self._under_way and not self._jobs.busy(Slot.EXPORT):
            self._under_way = False
            self.told.emit(_("Stopped. The files finished before that are kept."))

    def shut_down(self) -> None:
        """Nobody paints any more."""
        self.studio.close()


def _says_left_out(names: list[str]) -> str:
    """What is on in the list and cannot be written now, with why."""
    return _("Not written, for no words are aligned yet: {names}.", names=", ".join(names))


def _said(result: Delivered, folder: Path) -> str:
    parts = []
    if result.new:
        parts.append(_("Exported to {folder}: {names}.", folder=folder, names=names_of(result.new)))
    if result.unchanged:
        count = len(result.unchanged)
        parts.append(ngettext("{count} file was already up to date.", "{count} files were already up to date.", count))
    if result.problems:
        count = len(result.problems)
        parts.append(
            ngettext(
                "{count} file could not be exported: {reason}",
                "{count} files could not be exported: {reason}",
                count,
                reason=result.problems[0],
            )
        )
    return " ".join(parts) or _("Nothing was exported.")
