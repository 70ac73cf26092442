"""Opening: a project, a recording that begins one or adds a take, words, a chart or a character."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from buccaphon.app.session.aligning import Aligning
from buccaphon.app.session.characters import CharacterLoader
from buccaphon.app.session.correcting import Correcting
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.lines import Lines
from buccaphon.app.session.one_by_one import OneByOne
from buccaphon.app.session.take_sound import text_beside
from buccaphon.app.session.takes import Takes
from buccaphon.audio.reading import SUFFIXES
from buccaphon.errors import BuccaphonError, ScriptError, SheetError
from buccaphon.files import is_folder, read_text
from buccaphon.formats.in_.markers import LISTS as LABELLED
from buccaphon.formats.in_.markers import is_region_list
from buccaphon.formats.in_.mouth_list import SUFFIXES as LIST_SUFFIXES
from buccaphon.formats.in_.mouth_list import Rows, read_mouth_list
from buccaphon.formats.in_.notes import SUFFIX as NOTES_SUFFIX
from buccaphon.formats.registry import WORDING_SUFFIXES, read_wording
from buccaphon.kits.store import SUFFIX as KIT_SUFFIX
from buccaphon.kits.store import open_kit
from buccaphon.mouths.chart import ChartDocument
from buccaphon.mouths.chart_file import SUFFIX as CHART_SUFFIX
from buccaphon.mouths.chart_file import read_chart
from buccaphon.painting.characters.loading import KIT_SUFFIXES
from buccaphon.project.edits.scene import KeepChart
from buccaphon.project.edits.script import SetLexicon
from buccaphon.project.exposing import called, expose_list
from buccaphon.project.file.store import SUFFIX, open_project
from buccaphon.project.motion_file import SUFFIX as MOTION_SUFFIX
from buccaphon.project.motion_file import UseMotion, open_motion
from buccaphon.project.project import Project
from buccaphon.speech.lexicon_text import parse_lexicon
from buccaphon.speech.script import script_words
from buccaphon.texts import _, ngettext

LEXICON_SUFFIX = ".lexicon"
TABLE_SUFFIXES = (*WORDING_SUFFIXES, ".tsv")  # what words, times, mouths and labels come in

_SHORT = 64 << 10  # bytes of a file that is read at once


def _is_short(path: Path) -> bool:
    try:
        return path.stat().st_size <= _SHORT
    except OSError:
        return True  # whoever reads it says what is the matter


class Opening:
    def __init__(
        self,
        document: Document,
        takes: Takes,
        aligning: Aligning,
        characters: CharacterLoader,
        correcting: Correcting,
        lines: Lines,
        jobs: Jobs,
    ) -> None:
        self._lines = lines
        self._document, self._takes, self._aligning, self._loader = document, takes, aligning, characters
        self._correcting, self._jobs = correcting, jobs
        self._recordings, self._characters = OneByOne(jobs, Slot.TAKE), OneByOne(jobs, Slot.KIT)

    def open(self, path: Path) -> None:
        """Whatever it is by its suffix. A file that is refused leaves everything as it was."""
        suffix = path.suffix.lower()
        try:
            if suffix == SUFFIX:
                self.open_prepared(Project(open_project(path), path))
            elif suffix == CHART_SUFFIX:
                self._keep_chart(read_chart(path))
            elif suffix == MOTION_SUFFIX:
                self._document.apply(UseMotion(open_motion(path)))
                self._document.said.emit(_("The motion settings of {name} are used.", name=path.name))
            elif suffix == KIT_SUFFIX:
                self._loader.open_kit(open_kit(path))
            elif path.name.lower().endswith(NOTES_SUFFIX):
                self._correcting.read(path)
            elif suffix in KIT_SUFFIXES or is_folder(path):
                self._in_turn().add(partial(self._loader.bring_in, path))
            elif suffix in (*TABLE_SUFFIXES, LEXICON_SUFFIX) and suffix not in SUFFIXES:
                self.bring_in_words(path)
            else:
                self._recordings.add(partial(self._bring_in_recording, path))
        except BuccaphonError as problem:
            self._document.report(problem)

    def open_lines(self, paths: Sequence[Path], at: float | None = None) -> None:
        """Recordings, each as a line of the scene: one after another from the playhead on, or all at some seconds of the
        scene."""
        self._recordings.add(partial(self._lines.bring_in, paths, at))

    def _bring_in_recording(self, path: Path) -> None:
        """The first one, another take of the open line, or another line: a text beside it tells, or whoever opens it does."""
        state, beside = self._document.state, text_beside(path)
        if state.take is None:
            self._takes.bring_in(path)
        elif beside is not None and script_words(beside):
            is_take = [word.bare for word in script_words(beside)] == [word.bare for word in script_words(state.script)]
            if is_take:
                self._takes.bring_in(path)
            else:
                self._lines.bring_in((path,))
        else:
            self._document.asked.emit(
                _(
                    "{name}: another line of the scene, or another take of “{title}”?",
                    name=path.name,
                    title=state.line.title,
                ),
                _("Another &line"),
                partial(self._recordings.add, partial(self._lines.bring_in, (path,))),
                _("Another &take"),
                partial(self._recordings.add, partial(self._takes.bring_in, path)),
            )

    def _in_turn(self) -> OneByOne:
        """The queue of characters; before there is a take that of recordings, for the first one begins the project anew."""
        return self._characters if self._document.state.take is not None else self._recordings

    def _keep_chart(self, chart: ChartDocument) -> None:
        self._document.apply(KeepChart(chart))
        reasons = "; ".join(reason for reason, _ in chart.faults)
        if reasons:
            self._document.said.emit(
                _("Chart {name} is incomplete ({reasons}), but usable.", name=chart.name, reasons=reasons)
            )

    def open_prepared(self, project: Project) -> None:
        """Open a project that is already in memory; it is aligned if it has a script but no timings yet."""
        self._recordings.clear()
        self._characters.clear()
        self._document.adopt(project)
        self._takes.meet()

    def bring_in_drawings(self, paths: Sequence[Path]) -> None:
        """A character made of some drawings of one folder."""
        self._in_turn().add(partial(self._loader.bring_in, paths[0].parent, tuple(path.name for path in paths)))

    def bring_in_words(self, path: Path) -> None:
        """A script, times that are known, a lexicon, or a list of mouths. What is long is read in the background."""
        document = self._document
        try:
            if path.suffix.lower() == LEXICON_SUFFIX:
                lexicon = parse_lexicon(read_text(path, ScriptError), str(path))
                document.apply(SetLexicon(lexicon.over(document.state.lexicon), name=_("Import a lexicon")))
            elif rows := self._mouths_listed(path):
                self.expose(rows, str(path))
            elif self._labels_places(path):
                self._correcting.read(path)
            elif _is_short(path):
                self._aligning.bring_in(read_wording(path))
            else:
                self._jobs.start(
                    Slot.SHEET,
                    _("Reading {name}", name=path.name),
                    lambda _progress: read_wording(path),
                    self._aligning.bring_in,
                )
        except BuccaphonError as problem:
            document.report(problem)

    def expose(self, rows: Rows, subject: str) -> None:
        """Mouths on the frames that a list says. Raises SheetError for what is no mouth of the chart, or no frame of the
        recording."""
        document, bake = self._document, self._document.bake()
        if bake is None:
            raise SheetError(subject, _("there is no recording to put mouths on"), _("Open a recording first"))
        document.apply(expose_list(rows, document.state, bake, subject))
        first, last = min(rows)[0], max(rows)[0]
        document.select_nothing()
        document.player.seek(document.state.rate.seconds(first - document.state.first_number))
        count = ngettext("{count} mouth", "{count} mouths", len(rows)) if len(rows) > 1 else _("One mouth")
        document.said.emit(_("{count} painted from frame {first} to {last}.", count=count, first=first, last=last))

    def _labels_places(self, path: Path) -> bool:
        """Whether it is a list of regions with labels, for the recording that is there."""
        listed = self._document.bake() is not None and path.suffix.lower() in LABELLED
        return listed and _is_short(path) and is_region_list(read_text(path, ScriptError))

    def _mouths_listed(self, path: Path) -> Rows:
        """The rows of a list of frames and mouths, all of which the chart or the host has; else none: they may be words."""
        if self._document.bake() is None or path.suffix.lower() not in LIST_SUFFIXES or not _is_short(path):
            return ()
        try:
            rows = read_mouth_list(path)
        except SheetError:
            return ()
        known = called(self._document.state)
        return rows if all(known.get(mouth) for _, mouth in rows) else ()
