"""The lines of the scene: brought in, gone between, and read and aligned while another one is open."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.session.own_lexicon import OwnLexicon
from buccaphon.app.session.take_sound import TakeSound, find_moved, key_of, read_take, text_beside
from buccaphon.app.session.takes import Takes
from buccaphon.app.settings import default_exports, with_default_motion
from buccaphon.app.timers import later
from buccaphon.audio.reading import Damage
from buccaphon.mouths.exposures import Exposure
from buccaphon.progress import Progress
from buccaphon.project.derived import Derived
from buccaphon.project.edits.lines import AddLines, OnLine, one_after_another
from buccaphon.project.edits.script import TakeAlignment
from buccaphon.project.hearing import aligned
from buccaphon.project.project import Changes, Project
from buccaphon.project.scene import Ensemble
from buccaphon.project.speakers import said_by, speaking
from buccaphon.project.state import Line, State
from buccaphon.project.take import Take
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words
from buccaphon.texts import _, ngettext

_ROUNDING = 1e-4  # seconds
_SOUNDS_BESIDE = 4  # of takes that are kept besides those of the lines


class Lines(QObject):
    """heard: the sound of another line is there."""

    heard = pyqtSignal()

    def __init__(self, document: Document, takes: Takes, lexicon: OwnLexicon, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._takes, self._lexicon, self._jobs = document, takes, lexicon, jobs
        self._at: dict[int, float] = {}  # where the playhead stood in each line, by its key
        self._open = document.state.line.key
        self._refused: set[object] = set()  # what could not be read or aligned: once is enough
        self._opened_so: Project | None = None  # a project of which only what was opened with it is aligned
        self._aligned: tuple[int, str] | None = (
            None  # key and words of the line that was aligned last in the background
        )
        self._ensemble: Ensemble | None = None
        self._sounds: tuple[tuple[State, Derived | None, tuple[Derived, ...]], dict[int, Derived]] | None = None
        self._beside: tuple[State, tuple[Exposure, ...]] | None = None
        self._word: int | None = None  # at the playhead, as far as who says it was looked at
        self._soon = later(self, 0, self._go_on)
        document.opened.connect(self._begin_anew)
        document.changed.connect(self._on_change)
        document.player.moved.connect(self._note_place)
        for signal in (document.sound_ready, jobs.changed):
            signal.connect(self._soon.start)

    # --- the scene as a whole ------------------------------------------------------------------------------------------

    @property
    def sounds(self) -> dict[int, Derived]:
        """What is known of the sound of each line, by its key."""
        document, state = self._document, self._document.state
        asked = (state, document.derived, tuple(self._takes.sounds.values()))
        kept = self._sounds[0] if self._sounds is not None else None
        if kept is None or kept[0] is not state or kept[1] is not asked[1] or kept[2] != asked[2]:
            # by file and channel: how a file is now is looked at when its sound is read, and by whoever shows it
            there = {key[:2]: derived for key, derived in self._takes.sounds.items()}
            found = dict[int, Derived]()
            for number, line in enumerate(state.lines):
                take = line.take
                is_open = number == state.open_line
                known = document.derived if is_open else there.get((take.path, take.channel)) if take else None
                if known is not None:
                    found[line.key] = known
            self._sounds = asked, found
        assert self._sounds is not None
        return self._sounds[1]

    def ensemble(self) -> Ensemble:
        """The scene as it is now, with the sounds that are there."""
        state, sounds, kept = self._document.state, self.sounds, self._ensemble
        if kept is None or kept.state is not state or kept.sounds != sounds:
            kept = Ensemble(state, sounds) if kept is None else kept.of(state, sounds)
        self._ensemble = kept
        return kept

    def _sound_of(self, line: Line) -> Derived | None:
        return self._takes.sounds.get(key_of(line.take)) if line.take is not None else None

    # --- going between them ----------------------------------------------------------------------------------------------

    def open(self, number: int, role: str | None = None) -> None:
        """Have another line on the page, with the playhead where it stood there; and the mouth of a role on show."""
        if 0 <= number < len(self._document.state.lines):
            self._document.project.look_at(number, role)

    def step(self, by: int) -> None:
        """The next line in the order of the scene, or the one before."""
        state, document = self._document.state, self._document
        number = state.open_line + by
        if not 0 <= number < len(state.lines):
            document.said.emit(_("This is the last line.") if by > 0 else _("This is the first line."))
            return
        self.open(number)
        title = document.state.line.title
        document.said.emit(
            _("Line {number} of {count}: {title}", number=number + 1, count=len(state.lines), title=title)
        )

    def where_speaking(self, role: str) -> int:
        """The number of a line that a role speaks in: the open one, else the first; the open one where it speaks in none."""
        state = self._document.state
        numbers = [n for n in range(len(state.lines)) if role in speaking(state.at_line(n))]
        return state.open_line if state.open_line in numbers or not numbers else numbers[0]

    def beside(self) -> tuple[Exposure, ...]:
        """The mouths of another role that speaks in the open line, if one does."""
        document = self._document
        state, others = document.state, [name for name in speaking(document.state) if name != document.state.role.name]
        if not others or document.derived is None:
            return ()
        if self._beside is None or self._beside[0] is not state:
            derived = self.ensemble().derived(state.line.key, others[0])
            self._beside = state, derived.bake(state.at_line(state.open_line, others[0])).exposures
        return self._beside[1]

    def follow_speaker(self, seconds: float) -> None:
        """Have the mouth on show of the one who speaks at a moment of the open line."""
        state = self._document.state
        if len(state.roles) < 2 or state.score is None or (said := said_by(state)) is None:
            return
        number = state.score.word_at(seconds)
        if number != self._word:
            self._word = number
            if number is not None and state.role.name not in said[number]:
                self.open(state.open_line, min(said[number]))

    def _note_place(self, seconds: float) -> None:
        if self._document.derived is not None and self._document.state.line.key == self._open:
            self._at[self._open] = seconds
            self.follow_speaker(seconds)

    # --- bringing lines in -----------------------------------------------------------------------------------------------

    def bring_in(self, paths: Sequence[Path], at: float | None = None) -> None:
        """Recordings as lines, with the words of the text files beside them. at: seconds of the scene, for all of them; None
        for the playhead, each after the one before."""
        state, start = self._document.state, max(self.here, 0.0) if at is None else at

        def work(progress: Progress) -> list[TakeSound]:
            found = []
            for number, path in enumerate(paths):

                def told(share: float, what: str, number: int = number) -> bool:
                    return progress((number + share) / len(paths), what)

                found.append(read_take(AddLines((Line((Take(path),)),)).apply(state), Damage.REFUSE, told))
            return found

        def done(found: list[TakeSound]) -> None:
            self._add(found, start, is_in_turn=at is None)

        name = paths[0].name if len(paths) == 1 else _("{count} recordings", count=len(paths))
        self._jobs.start(Slot.TAKE, _("Reading {name}", name=name), work, done)

    def _add(self, found: Sequence[TakeSound], start: float, *, is_in_turn: bool) -> None:
        document, state = self._document, self._document.state
        self._takes.most = len(state.lines) + len(found) + _SOUNDS_BESIDE
        lines = []
        for sound in found:
            self._takes.keep(sound)
            script = text_beside(sound.take.path) or ""
            lines.append(Line((sound.take,), script=script, language=state.language, role=state.line.role))
        lengths = [sound.derived.recording.duration if is_in_turn else 0.0 for sound in found]
        placed = one_after_another(lines, lengths, start)
        edit = AddLines(placed, name=ngettext("Add a line", "Add {count} lines", len(lines)))
        if state.is_empty:
            begun = with_default_motion(edit.apply(replace(state, exports=default_exports())))
            document.adopt(Project(begun, document.project.path_of_its_own))
            self._takes.meet()
            self._takes.begun.emit()
        else:
            document.apply(edit)

    @property
    def here(self) -> float:
        """The playhead in seconds of the scene, counted from its first frame on."""
        state = self._document.state
        return self._document.player.position + state.rate.seconds(state.first_number - state.start_frame)

    def line_at(self, seconds: float) -> int | None:
        """The number of the line whose mouth moves at a moment of the scene: the open one while it lasts, else the one that
        began last. None in the gaps."""
        state, ensemble = self._document.state, self.ensemble()
        frame = state.start_frame + state.rate.containing(seconds + _ROUNDING)
        found = [
            place
            for place in ensemble.places
            if place.first <= frame < place.end and not state.lines[place.number].heard_only
        ]
        if any(place.number == state.open_line for place in found):
            return state.open_line
        return found[-1].number if found else None

    # --- while another one is open ---------------------------------------------------------------------------------------

    def _begin_anew(self) -> None:
        self._at.clear()
        self._refused.clear()
        self._ensemble = None
        self._open = self._document.state.line.key
        self._opened_so = None if self._document.project.is_changed else self._document.project
        self._jobs.cancel(Slot.AHEAD)

    def _on_change(self, _changes: Changes) -> None:
        key = self._document.state.line.key
        if key != self._open:
            self._open = key
            if self._aligned is not None and self._aligned[0] == key:  # it is aligned as the open one now
                self._jobs.cancel(Slot.AHEAD)
                self._refused.discard(self._aligned)
            if key in self._at:
                self._document.player.seek(self._at[key])
        self._soon.start()

    def _go_on(self) -> None:
        """Read the next line that was not read yet, then align the next one that has words and no times."""
        document, state = self._document, self._document.state
        self._takes.most = len(state.lines) + _SOUNDS_BESIDE
        if len(state.lines) < 2 or self._jobs.busy(Slot.AHEAD, Slot.TAKE) or document.derived is None:
            return
        others = [number for number, line in enumerate(state.lines) if number != state.open_line and line.takes]
        for work in (self._read, self._align):
            if any(work(state.at_line(number)) for number in others):
                return

    def _read(self, state: State) -> bool:
        """Read the sound of a state's open line; whether that was begun."""
        take, project = state.take, self._document.project
        if take is None or (key := key_of(take)) in self._takes.sounds or key in self._refused:
            return False
        self._refused.add(key)
        folder = project.path.parent if project.path else None

        def done(sound: TakeSound) -> None:
            self._takes.keep(sound)
            self.heard.emit()

        def work(progress: Progress) -> TakeSound:
            return read_take(find_moved(state, folder), Damage.REFUSE, progress)

        self._jobs.start(Slot.AHEAD, _("Reading {name}", name=take.path.name), work, done)
        return True

    def _align(self, state: State) -> bool:
        """Align a state's open line, where that was not done yet; whether that was begun."""
        line, project = state.line, self._document.project
        derived, asked = self._sound_of(line), (line.key, line.script)
        if derived is None or line.heard_only or line.take is None or line.take.score is not None:
            return False
        if asked in self._refused or not script_words(line.script):
            return False
        self._refused.add(asked)
        self._aligned = asked
        heard, path = replace(state, lexicon=state.lexicon.over(self._lexicon.always)), line.take.path

        def done(score: Score | None) -> None:
            self._aligned = None
            number = project.state.number_of(line.key)
            now = project.state.lines[number].take if number is not None else None
            if score is None or project is not self._document.project or now is None:
                return
            if now.score is not None or now.path != path:
                return
            is_of_opening = self._opened_so is project and not project.is_changed
            self._document.apply(OnLine(TakeAlignment(score, line.script), line.key))
            if is_of_opening:
                project.settle()

        name = _("Aligning {name}", name=line.title)
        self._jobs.start(Slot.AHEAD, name, lambda progress: aligned(heard, derived, progress).score, done)
        return True
