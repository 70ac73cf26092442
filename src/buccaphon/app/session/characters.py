"""The character in the mirror: its files read in the background, and the mouths as it shows them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QRectF, QSizeF, pyqtSignal
from PyQt6.QtGui import QImage, QPainter, QPixmap

from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.welcome import welcome
from buccaphon.app.timers import later
from buccaphon.kits.casting import for_chart, show_by
from buccaphon.kits.charting import chart_of_kit, shown_by_itself
from buccaphon.kits.kit import CutOut, Drawn, Kind, Kit, OtherFile, with_files
from buccaphon.kits.own.drawing import OwnDrawing
from buccaphon.mouths.chart import Chart, Mouth
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.chart_making import free_name
from buccaphon.painting.artwork.pixels import scaled
from buccaphon.painting.characters.character import Character, Moment, fit
from buccaphon.painting.characters.drawn import DrawnCharacter
from buccaphon.painting.characters.loading import as_read, begin_kit, load, read_picture
from buccaphon.painting.mouths import blank, mouth_picture, paint_mouth, plainly
from buccaphon.painting.pictures.moments import moment_of
from buccaphon.painting.theme import Theme
from buccaphon.progress import Progress
from buccaphon.project.edits import Together
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.scene import KeepChart
from buccaphon.project.file.relink import digest_of_any, find_again
from buccaphon.project.state import DEFAULT_CHART
from buccaphon.texts import _

ROLES = "kit roles"  # the gesture of saying what drawings are for, and of reading them again after that
_SETTLE = 400  # ms after the last change of a file until it is read again
_MOST_KNOWN = 4  # characters that were read and are kept
_MOST_WATCHED = 500  # files of a folder
_ONCE = (288, 188)  # pixels
_FINE = 240  # pixels of a mouth on paper, at least
_MOST_KEPT = 600  # pictures of mouths


class CharacterLoader(QObject):
    """cast: another character is in the mirror, or the same looks otherwise. redrawn: mouths are drawn otherwise.
    character: None while Marigold is drawn by poses, or a kit's files are not read yet. problem: why they could not be, in
    a sentence."""

    cast = pyqtSignal()
    redrawn = pyqtSignal()

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs
        self.character: Character | None = None
        self.problem = ""
        self.tried = ""
        self._reference: QImage | None = None
        self._reference_of: object = None
        self._known: dict[object, Character] = {}
        self._read: object = None  # what was read for the character
        self._played: tuple[Kit, Chart] | None = None
        self._pictures: dict[object, QPixmap] = {}
        self._mouths: dict[Mouth, QImage] = {}
        self._watch = QFileSystemWatcher(self)
        self._settling = later(self, _SETTLE, self._read_anew)
        self._redrawing = later(self, _SETTLE, self._draw_anew)
        self._watch.fileChanged.connect(self._settling.start)
        self._watch.directoryChanged.connect(self._settling.start)
        document.opened.connect(self._begin_anew)
        document.changed.connect(self._follow)

    @property
    def kit(self) -> Kit | None:
        return self._document.state.kit_in_use

    # --- bringing in ---------------------------------------------------------------------------------------------------

    def bring_in(self, path: Path, only: tuple[str, ...] = ()) -> None:
        """Read a character's files in the background; it is in the project and in the mirror then. only: names of the
        drawings of a folder that it is made of, or all of them."""

        chart = self._document.chart

        def work(progress: Progress) -> tuple[Kit, Character]:
            kit = begin_kit(path, only)
            character = load(kit, progress)
            kit = replace(kit, file=OtherFile(path, digest_of_any(path)))
            return as_read(kit, character, chart), character

        def done(result: tuple[Kit, Character]) -> None:
            kit, character = result
            taken = [each.name for each in self._document.state.kits]
            kit = replace(kit, name=free_name(kit.name, taken))
            self._remember(kit, character)
            self._read, self.character = what_is_read(kit), character
            if self._document.attempt(PutKit(kit)):
                self._welcome(kit, character)

        self._jobs.start(Slot.KIT, _("Reading {name}", name=path.name), work, done)

    def _welcome(self, kit: Kit, character: Character) -> None:
        """Say what was found in its files, and offer what is best done with it."""
        said = welcome(kit, character.told, self._document.chart)
        if kit.kind is Kind.DRAWN and len(kit.own) > 1:
            self._document.offered.emit(said, _("Use its own chart"), self.use_own_chart)
        else:
            self._document.said.emit(said)

    def open_kit(self, kit: Kit) -> None:
        """Bring in a kit that was saved on its own, with all that is known of it."""
        taken = [each.name for each in self._document.state.kits]
        self._document.attempt(PutKit(replace(kit, name=free_name(kit.name, taken))))

    def show_by(self, mouth: str, drawing: str | None) -> None:
        """Show a mouth by a drawing, NOTHING for the face as it is, None for the one that is found."""
        kit = self.kit
        known = ("", *(kit.own if kit is not None else ()), *(each.name for each in self.drawings))
        if kit is None or kit.kind is not Kind.DRAWN or (drawing is not None and drawing not in known):
            return  # what is dropped may have been another character's
        shown = show_by(kit, mouth, [] if drawing is None else [drawing])
        self._document.attempt(PutKit(shown, name=_("Show {mouth} by {drawing}", mouth=mouth, drawing=drawing or "…")))

    @property
    def drawings(self) -> tuple[OwnDrawing, ...]:
        """What each drawing or layer of the character is for."""
        kit, character = self.kit, self.character
        if kit is None or kit.drawings or not isinstance(character, DrawnCharacter):
            return kit.drawings if kit is not None else ()
        return character.drawings

    def use_own_chart(self) -> bool:
        """Make a chart with a mouth for each of the character's drawings or shapes, and use it. False where fewer than two
        are known."""
        document, kit = self._document, self.kit
        taken = [*shipped_charts(), *(chart.name for chart in document.state.charts)]
        chart = None if kit is None else chart_of_kit(kit, free_name(kit.name, taken), shipped_charts()[DEFAULT_CHART])
        if kit is None or chart is None or len(chart.mouths) < 2:
            return False
        shown = PutKit(shown_by_itself(kit, chart))
        document.apply(Together((KeepChart(chart), shown), name=_("Chart of {name}", name=kit.name)))
        return True

    # --- following ------------------------------------------------------------------------------------------------------

    def _follow(self, _what: object = None) -> None:
        kit, chart = self.kit, self._document.chart
        self._follow_reference(kit)
        if kit is None:
            if self.character is not None or self.problem:
                self._jobs.cancel(Slot.KIT)
                self._become(None, None)
            return
        wanted = what_is_read(kit)
        if wanted != self._read and (known := self._known.get(_stamped(kit))) is not None:
            self._jobs.cancel(Slot.KIT)
            self._become(known, wanted)
        elif wanted != self._read:
            self._begin_reading(kit)
        elif self.character is not None and self._played != (kit, chart):
            self._play(kit, chart)

    def _remember(self, kit: Kit, character: Character) -> None:
        """So that going back to one of the last few is done at once."""
        self._known[_stamped(kit)] = character
        for key in list(self._known)[:-_MOST_KNOWN]:
            del self._known[key]

    def _begin_anew(self) -> None:
        """Another project: what was read of the files of the one before no longer counts."""
        self._jobs.cancel(Slot.KIT)
        self._become(None, None)
        self._follow()

    def _read_anew(self) -> None:
        """Its files were changed by another program: the drawings of now are shown as soon as they are read."""
        kit = self.kit
        if kit is not None and not self._jobs.busy(Slot.KIT):
            self._begin_reading(kit, stays=self.character)

    def _follow_reference(self, kit: Kit | None) -> None:
        file = kit.reference.file if kit is not None and kit.reference is not None else None
        if file == self._reference_of:
            return
        self._reference_of, self._reference = file, None
        if file is None:
            self.cast.emit()
            return

        def done(image: QImage) -> None:
            self._reference = image
            self.cast.emit()

        self._jobs.start(
            Slot.REFERENCE, _("Reading {name}", name=file.path.name), lambda _value: read_picture(file.path), done
        )

    def _begin_reading(self, kit: Kit, stays: Character | None = None) -> None:
        """Read a character's files. stays: who is shown until then."""
        self._become(stays, what_is_read(kit))
        path = self._document.project.path
        folder = path.parent if path is not None else None

        def work(progress: Progress) -> tuple[Kit, Character]:
            found = _found_again(kit, folder)
            return found, load(found, progress)

        def done(result: tuple[Kit, Character]) -> None:
            found, character = result
            self._remember(found, character)
            self._become(character, what_is_read(found))
            if found == kit:
                self._take_drawings(kit, character)
            else:
                said = _(
                    "{name} had moved; found in {folder}.", name=kit.file.path.name, folder=found.file.path.parent.name
                )
                self._document.attempt(PutKit(found, kept=True, name=_("Find the character again")))
                self._document.said.emit(said)

        self._jobs.start(Slot.KIT, _("Reading {name}", name=kit.name), work, done, failed=self._fail)

    def _take_drawings(self, kit: Kit, character: Character) -> None:
        """What was found in files that were changed, or in which somebody said what drawings are for. A kit of an earlier
        version stays as it is until then."""
        if not isinstance(character, DrawnCharacter) or not kit.drawings or kit != self.kit:
            return
        found = as_read(kit, character, self._document.chart)
        if found != kit:
            self._document.attempt(PutKit(found, kept=True, name=_("Read the drawings again"), gesture=ROLES))

    def _fail(self, problem: str) -> None:
        self.problem = problem
        self._document.said.emit(problem)
        self.cast.emit()

    def _become(self, character: Character | None, read: object) -> None:
        self.character, self._read, self.problem, self._played = character, read, "", None
        kit = self.kit
        if character is not None and kit is not None:
            self._play(kit, self._document.chart)
        else:
            self._watch_files(kit)
            self._draw_anew()
            self.cast.emit()

    def _watch_files(self, kit: Kit | None) -> None:
        watched = [*self._watch.files(), *self._watch.directories()]
        files = kit.files if kit is not None else ()
        wanted = [str(each) for file in files for each in _with_what_is_inside(file.path) if each.exists()]
        if sorted(watched) != sorted(wanted):
            if watched:
                self._watch.removePaths(watched)
            if wanted:
                self._watch.addPaths(wanted)

    def _play(self, kit: Kit, chart: Chart) -> None:
        assert self.character is not None
        self.character.play(for_chart(kit, chart), chart)
        before, self._played = self._played, (kit, chart)
        if before is None or before[0].files != kit.files:
            self._watch_files(kit)
        if before is None or (before[0].shows, before[1]) != (kit.shows, chart):
            self._draw_anew()
        elif kit.kind is not Kind.DRAWN and before[0].look != kit.look:
            self._redrawing.start()  # while it is dragged, the mirror alone
        self.cast.emit()

    def _draw_anew(self) -> None:
        self._redrawing.stop()
        self._pictures.clear()
        self._mouths.clear()
        self.redrawn.emit()

    # --- showing --------------------------------------------------------------------------------------------------------

    def mouth_picture(self, mouth: Mouth, width: int, height: int, ratio: float, theme: Theme) -> QPixmap:
        """A mouth as the character has it, or by its pose, in a box of whole pixels."""
        character = self.character
        if character is None or not character.draws(mouth.name) or width < 1 or height < 1:
            return mouth_picture(mouth.pose, width, height, ratio, theme)
        key = (mouth, width, height, ratio)
        found = self._pictures.get(key)
        if found is None:
            if len(self._pictures) >= _MOST_KEPT:
                self._pictures.clear()
            found = blank(width, height, ratio)
            image = self._mouth_once(character, mouth, theme)
            box = fit(image.width(), image.height(), QRectF(0, 0, width, height))
            small = QImage(scaled(image, box.width() * ratio / image.width()))
            small.setDevicePixelRatio(ratio)
            painter = QPainter(found)
            painter.drawImage(box.topLeft(), small)
            painter.end()
            self._pictures[key] = found
        return found

    def _mouth_once(self, character: Character, mouth: Mouth, theme: Theme) -> QImage:
        """A mouth somewhat larger than lane and tiles show it: drawn once, and made smaller as often as it is asked for."""
        found = self._mouths.get(mouth)
        if found is None:
            found = self._mouths[mouth] = character.mouth_image(mouth, *_ONCE, plainly(theme))
        return found

    def own_picture(self, name: str, width: int, height: int, ratio: float) -> QPixmap:
        """One of the kit's own drawings; nothing where it has none of that name."""
        character = self.character
        if not isinstance(character, DrawnCharacter) or not character.has(name):
            return QPixmap()
        found = QPixmap.fromImage(character.own_image(name, round(width * ratio), round(height * ratio)))
        found.setDevicePixelRatio(ratio)
        return found

    def paint_reference(self, painter: QPainter, area: QRectF) -> None:
        """The reference picture under the character, whose own picture fills an area."""
        kit, character = self.kit, self.character
        if kit is None or kit.reference is None or character is None or self._reference is None:
            return
        place, image = kit.reference.place, self._reference
        scale = area.width() / character.size()[0]
        box = QRectF(area.topLeft(), QSizeF(image.size()) * (scale * place.scale))
        box.translate(place.x * scale, place.y * scale)
        painter.save()
        painter.setOpacity(kit.reference.opacity)
        painter.translate(box.center())
        painter.rotate(kit.reference.degrees)
        painter.drawImage(QRectF(-box.width() / 2, -box.height() / 2, box.width(), box.height()), image)
        painter.restore()

    def try_on(self, mouth: str) -> None:
        """Show a mouth of the chart on the character as long as it is held; '' lets go."""
        if mouth != self.tried:
            self.tried = mouth
            self.cast.emit()

    def painter(self, theme: Theme) -> Callable[[QPainter, Mouth, QRectF], None]:
        """What paints a mouth in a box, on the screen or on paper, in the theme's colours where it is drawn by its pose."""

        def paint(painter: QPainter, mouth: Mouth, box: QRectF) -> None:
            character = self.character
            if character is None or not character.draws(mouth.name):
                paint_mouth(painter, mouth.pose, box, theme)
                return
            fine = max(painter.device().devicePixelRatioF(), _FINE / max(box.width(), box.height(), 1.0))
            image = character.mouth_image(mouth, round(box.width() * fine), round(box.height() * fine), plainly(theme))
            painter.drawImage(box, image)

        return paint

    def moment(self, *, still: bool = False) -> Moment:
        """What is to be seen at the playhead. still: nothing moves, so that there is time to draw it finer."""
        document = self._document
        bake, exposure, chart = document.bake(), document.exposure(), document.chart
        if self.tried in chart.names:
            pose = chart.mouths[chart.index(self.tried)].pose
            return Moment(self.tried, pose, pose.jaw, still=still)
        if bake is None or exposure is None:
            return Moment(chart.rest.name, chart.rest.pose)
        frame = min(document.frame, bake.frames - 1)
        return moment_of(bake, chart, self.kit, frame, exposure.mouth, still=still)


def _stamped(kit: Kit) -> object:
    """What is read of a kit, with the times at which its files were last changed."""
    try:
        paths = [each for file in kit.files for each in _with_what_is_inside(file.path)]
        return what_is_read(kit), tuple((path, path.stat().st_mtime_ns, path.stat().st_size) for path in paths)
    except OSError:
        return object()  # like nothing that is known


def _with_what_is_inside(path: Path) -> list[Path]:
    return [path, *sorted(path.iterdir())[:_MOST_WATCHED]] if path.is_dir() else [path]


def _found_again(kit: Kit, folder: Path | None) -> Kit:
    """The kit with its files where they are now, as far as they are found near the project."""

    def look_for(file: OtherFile) -> OtherFile:
        if folder is None or file.path.exists():
            return file
        path = find_again(file.path, file.digest, folder)
        return replace(file, path=path) if path is not None else file

    return with_files(kit, look_for)


def what_is_read(kit: Kit) -> object:
    """All of a kit that its files are read for; while it is the same nothing is read again."""
    look = kit.look
    more: tuple[object, ...] = ()
    if isinstance(look, Drawn):
        chosen = tuple(sorted((name, role.value) for name, role in kit.chosen_roles.items()))
        more = (look.columns, look.rows, look.anchor, look.face, look.face_over, chosen)
    elif isinstance(look, CutOut):
        more = (look.piece, look.inside_picture)
    return kit.kind, kit.file, more
