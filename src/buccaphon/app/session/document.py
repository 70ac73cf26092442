"""The open document: the project, what follows from it, what is selected, and the player.

Widgets read from here and send edits here; they do not talk to each other. Helpers for slow work subscribe to its signals.
"""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.selection import NOTHING, Selection
from buccaphon.app.sound.device import Device
from buccaphon.app.sound.player import Player
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError
from buccaphon.motion.record import Bake
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.project.derived import Derived
from buccaphon.project.edits import Edit, Together, Touched
from buccaphon.project.edits.mouths import Paint, Unpaint
from buccaphon.project.project import Changes, Project
from buccaphon.project.state import State
from buccaphon.score.records import Score
from buccaphon.texts import _
from buccaphon.timing import Span


class Document(QObject):
    """changed: an edit, undo or redo was done (Changes). opened: another project is here, or none. sound_gone: what was known
    of the sound no longer holds. sound_ready: the recording of the shown take is decoded. selected: something else is
    selected. word_chosen, point_chosen: another word, or point of a curve, is chosen. said: a notice for the user. offered: a
    notice with something that can be done about it (text, label, what to call). asked: a question that stays until it is
    answered (text, then for each of its two answers the label and what to call)."""

    changed = pyqtSignal(object)
    opened = pyqtSignal()
    sound_gone = pyqtSignal()
    sound_ready = pyqtSignal()
    selected = pyqtSignal()
    word_chosen = pyqtSignal()
    point_chosen = pyqtSignal()
    said = pyqtSignal(str)
    offered = pyqtSignal(str, str, object)
    asked = pyqtSignal(str, str, object, str, object)

    def __init__(self, device: Device, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.player = Player(device, self)
        self.derived: Derived | None = None
        self.selection = NOTHING
        self.word: int | None = None
        self.chosen_point: tuple[str, float] | None = None  # of a curve by hand: the channel, and its seconds
        self.project = Project()
        self._line = self.state.line.key  # that was open last
        self.project.listen(self._on_change)

    # --- reading -------------------------------------------------------------------------------------------------------

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
        return self.state.chart_in_use

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
    def word_here(self) -> int | None:
        """The number of the word that is said at the playhead."""
        return self.score.word_at(self.player.position) if self.score else None

    @property
    def title(self) -> str:
        if self.project.path:
            return self.project.path.stem
        return next((line.title for line in self.state.lines if line.takes), _("Untitled"))

    # --- another project, another sound ----------------------------------------------------------------------------------

    def adopt(self, project: Project) -> None:
        """Go over to another project; its sound is still to come."""
        self.project, self.selection, self.word, self.chosen_point = project, NOTHING, None, None
        self._line = project.state.line.key
        self._drop_sound()
        project.listen(self._on_change)
        self.opened.emit()

    def take_sound(self, derived: Derived | None) -> None:
        """The sound of the shown take is here, or none is."""
        self._drop_sound()
        if derived is None:
            return
        self.derived = derived
        self.player.load(derived.recording)
        self.limit_player()
        self.sound_ready.emit()

    def limit_player(self) -> None:
        """Play what is used of the take."""
        take = self.state.take
        if self.recording is not None and take is not None:
            self.player.limit(take.used(self.recording.duration), take.muted)

    def _drop_sound(self) -> None:
        self.derived = None  # nothing may look at the new take with the old sound
        self.player.load(None)
        self.sound_gone.emit()

    # --- editing -------------------------------------------------------------------------------------------------------

    def apply(self, edit: Edit) -> None:
        self.project.apply(edit)

    def attempt(self, edit: Edit) -> bool:
        """Do an edit, or say why it cannot be. Whether it was done."""
        try:
            self.apply(edit)
        except BuccaphonError as problem:
            self.report(problem)
            return False
        return True

    def end_gesture(self) -> None:
        """What is changed from now on is a step of its own."""
        self.project.end_gesture()

    def undo(self) -> None:
        step = self.project.undo()
        if step:
            self.said.emit(_("Undone: {name}", name=step.name))

    def redo(self) -> None:
        step = self.project.redo()
        if step:
            self.said.emit(_("Redone: {name}", name=step.name))

    def go_to_step(self, count: int) -> None:
        """Undo or redo until so many steps of the history are done."""
        self.project.go_to(count)

    def paint(self, mouth: str) -> None:
        """Put a mouth on the frames that are meant."""
        spans = self.painting_spans()
        if spans:
            self.apply(Together(tuple(Paint(span, mouth) for span in spans), name=_("Paint {mouth}", mouth=mouth)))

    def unpaint(self) -> None:
        """Give what is marked back to the machine, or else the whole exposure at the playhead."""
        spans = self.marked_spans() or self.exposure_spans()
        if spans:
            self.apply(Together(tuple(Unpaint(span) for span in spans), name=_("Reset the mouth to automatic")))

    def painting_spans(self) -> tuple[Span, ...]:
        """Where a mouth would be painted: what is marked, or from the playhead's frame to the next change."""
        return self.marked_spans() or ((self.span_from(self.frame),) if self.bake() else ())

    def span_from(self, frame: int) -> Span:
        """From a frame to the next change of the mouth, which there must be."""
        bake = self.bake()
        assert bake is not None
        here = min(max(frame, 0), bake.frames - 1)
        exposure, rate = exposure_at(bake.exposures, here), bake.rate
        assert exposure is not None
        # a painted edge is a change also where the mouth on both sides is the same
        edges = (edge for paint in self.state.painted for edge in (paint.span.start, paint.span.end))
        end = min((frame for edge in edges if here < (frame := rate.nearest(edge))), default=exposure.end)
        return Span(rate.seconds(here), rate.seconds(min(end, exposure.end)))

    def marked_spans(self) -> tuple[Span, ...]:
        """What is selected, or else the frames that are marked on the ruler while the playhead stands in them; nothing while
        it plays, when only what is heard is meant."""
        if self.player.playing or self.bake() is None:
            return ()
        if self.selection:
            return self.selection.spans(self.score)
        loop, rate = self.player.loop, self.state.rate
        if loop is None:
            return ()
        marked = Span(rate.seconds(rate.nearest(loop.start)), rate.seconds(rate.nearest(loop.end)))
        half = rate.seconds(0.5)
        stands_in = loop.start - half <= self.player.position <= loop.end + half
        return (marked,) if marked.length > 0 and stands_in else ()

    def exposure_spans(self) -> tuple[Span, ...]:
        """The exposure at the playhead, whole."""
        exposure = self.exposure()
        return (self.span_of(exposure),) if exposure else ()

    def take_out(self) -> None:
        """The mouth before the ones that are selected, or before the one at the playhead, is held over them."""
        bake = self.bake()
        spans = self.marked_spans() or self.exposure_spans()
        edits = []
        for span in spans if bake is not None else ():
            first, end = bake.rate.nearest(span.start), bake.rate.nearest(span.end)
            beside = exposure_at(bake.exposures, first - 1) or exposure_at(bake.exposures, end)
            if beside is not None:
                edits.append(Paint(span, beside.mouth))
        if edits:
            self.apply(Together(tuple(edits), name=_("Take the mouth out")))

    def span_of(self, exposure: Exposure) -> Span:
        return Span(self.state.rate.seconds(exposure.start), self.state.rate.seconds(exposure.end))

    def emit_display_changed(self) -> None:
        """Other curves are shown: who tells of them is to look again."""
        self.point_chosen.emit()

    def emit_changed(self, touched: Touched, name: str) -> None:
        """Views are to look again although no edit was done."""
        self.changed.emit(Changes(touched, name))

    # --- selecting -----------------------------------------------------------------------------------------------------

    def select(self, selection: Selection) -> None:
        """Words that are not there, for a hand held them while others came, are left out."""
        count = len(self.score.words) if self.score else 0
        if selection.words and selection.words[-1] >= count:
            selection = Selection(words=tuple(number for number in selection.words if number < count))
        if selection != self.selection:
            self.selection = selection
            self.selected.emit()

    def select_nothing(self) -> None:
        self.select(NOTHING)

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

    @property
    def stretch(self) -> Span | None:
        """What is selected, or else drawn on the ruler."""
        return self.selected_span or self.player.loop

    def choose_point(self, point: tuple[str, float] | None) -> None:
        """Choose a point of a curve by hand: the channel, and its seconds."""
        if point != self.chosen_point:
            self.chosen_point = point
            self.point_chosen.emit()

    def choose_word(self, number: int | None) -> None:
        """Choose a word of the script, to see and change how it is said."""
        self.word = number
        self.word_chosen.emit()

    # --- hearing, telling ----------------------------------------------------------------------------------------------

    def step(self, frames: int, *, neighbour: bool = False) -> None:
        """Move the playhead by whole frames and hear exactly the frame it comes to (with `neighbour` the next as well)."""
        if self.recording is None:
            return
        self.player.stop()
        rate = self.state.rate
        last = rate.covering(self.recording.duration) - 1
        frame = min(max(self.frame + frames, 0), last)
        self.go(rate.seconds(frame))
        end = min(rate.seconds(frame + (2 if neighbour else 1)), self.recording.duration)
        self.player.hear(Span(rate.seconds(frame), max(end, rate.seconds(frame))))

    def go(self, seconds: float) -> None:
        """Put the playhead somewhere; as a caret that is moved away it leaves what was selected."""
        self.player.seek(seconds)
        whole = self.selected_span
        if whole is not None and not whole.start - 1e-6 <= self.player.position < whole.end:
            self.select_nothing()

    def report(self, problem: BuccaphonError) -> None:
        self.said.emit(str(problem))

    def _on_change(self, changes: Changes) -> None:
        count = len(self.score.words) if self.score else 0
        gone = bool(self.selection.words) and self.selection.words[-1] >= count
        if self.state.line.key != self._line:
            self._line, self.word, self.chosen_point = self.state.line.key, None, None
        if gone or changes.touched & Touched.SCRIPT:
            self.select(NOTHING)  # numbers of words that are others now
        self.changed.emit(changes)
