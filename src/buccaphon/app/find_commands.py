"""The window's commands that search: for a command, a place in the line, a step back, an earlier version."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import partial
from pathlib import Path

from buccaphon.app.chooser import Choice, Chooser
from buccaphon.app.commands import COMMANDS
from buccaphon.app.notice import Notice
from buccaphon.app.places import safe_folder
from buccaphon.app.session import Session
from buccaphon.errors import BuccaphonError
from buccaphon.mouths.chart import KEYS
from buccaphon.project.file.safekeeping import versions
from buccaphon.project.file.store import open_project
from buccaphon.project.project import Project
from buccaphon.timing import Reading, clock, frame_of_timecode, read_out


class FindCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    notice: Notice
    chooser: Chooser
    found: tuple[float, ...] = ()  # the moments of all that the last search found, rising

    def show_palette(self) -> None:
        """Everything that can be done."""
        choices = [
            Choice(command.label, self.key_of(command.id), self.actions_by_id[command.id].trigger)
            for command in COMMANDS
            if command.id != "palette"
        ]
        for number, (mouth, key) in enumerate(zip(self.session.chart.names, KEYS, strict=False)):
            choices.append(Choice(f"Paint {mouth}", key.upper(), partial(self.paint, number)))
        self.chooser.ask("What can be done", "Type a part of what you want to do", choices)

    def find(self) -> None:
        """A word, a sound, a mouth, a frame or a timecode."""
        if self.session.recording is None:
            self.notice.say("Open a recording first.")
            return
        places = list(self._places())

        def taken(fits: Sequence[int]) -> None:
            self.found = tuple(sorted({places[n][0] for n in fits}))

        choices = [Choice(text, note, partial(self._go, seconds)) for seconds, text, note in places]
        hint = "A word, /sound/, mouth, frame or timecode"
        self.chooser.ask("Find in the line", hint, choices, taken=taken, named=self._frame_named)

    def _frame_named(self, typed: str) -> list[Choice]:
        """The frame of a number, 'frame 31', or a timecode; frames are too many to list."""
        state, bake = self.session.state, self.session.bake()
        name = typed.removeprefix("frame").removeprefix("f").strip()
        if bake is None or not re.fullmatch(r"-?\d+|\d+(?:[:;]\d+){3}", name):
            return []
        first = state.first_number
        number = int(name) if name.lstrip("-").isdigit() else frame_of_timecode(name, state.rate)
        if not 0 <= number - first < bake.frames:
            return []
        seconds = state.rate.seconds(number - first)
        return [Choice(f"frame {number}", read_out(number, state.rate, Reading.TIMECODE), partial(self._go, seconds))]

    def find_next(self) -> None:
        """The next of what the last search found; after the last one the first."""
        self._go_to_found([at for at in self.found if at > self.session.player.position + 1e-3][:1] or self.found[:1])

    def find_previous(self) -> None:
        self._go_to_found([at for at in self.found if at < self.session.player.position - 1e-3][-1:] or self.found[-1:])

    def _go_to_found(self, places: Sequence[float]) -> None:
        if not places:
            self.notice.say(f"Search first, with {self.key_of('find')}: then this goes through what was found.")
        for seconds in places:
            self._go(seconds)
            self.notice.say(f"{self.found.index(seconds) + 1} of {len(self.found)} found")

    def _places(self) -> Iterator[tuple[float, str, str]]:
        """Moments with what is there, and how it is listed."""
        state, score, bake = self.session.state, self.session.score, self.session.bake()
        doubts, first, rate = set(self.session.words.doubts()), state.first_number, float(state.rate.value)

        def at(seconds: float) -> str:
            return f"{clock(seconds)}   f {int(seconds * rate + 1e-6) + first}"

        for number, word in enumerate(score.words if score else ()):
            yield word.start, word.text or "sounds", at(word.start) + ("   doubt" if number in doubts else "")
        for note in state.take.notes if state.take else ():
            yield note.span.start, f"note: {note.text}", at(note.span.start)
        for phone in score.phones() if score else ():
            yield phone.start, f"/{phone.symbol}/", at(phone.start)
        for exposure in bake.exposures if bake else ():
            yield (start := exposure.start / rate), f"mouth {exposure.mouth}", at(start)

    def show_history(self) -> None:
        """All steps that were done, to go back to any of them."""
        names, done = self.session.project.steps()
        choices = [Choice("As it was opened", "", partial(self.session.go_to_step, 0))]
        for number, name in enumerate(names, 1):
            note = "here" if number == done else "taken back" if number > done else ""
            choices.append(Choice(name, note, partial(self.session.go_to_step, number)))
        self.chooser.ask("History", "Go to a step; later ones can be done again", choices, done)

    def show_versions(self) -> None:
        """Earlier versions of the saved project."""
        path = self.session.project.path
        found = versions(path, safe_folder()) if path else []
        if path is None or not found:
            self.notice.say("There is no earlier version yet: one is kept each time you save over a project.")
            return
        choices = [Choice(when, "", partial(self._open_version, path, file)) for when, file in found]
        self.chooser.ask("Earlier versions", "Saved on", choices)

    def _open_version(self, path: Path, file: Path) -> None:
        """Open a version under the project's name; it counts as changed, and the newest stays on the disk until saved."""
        if not self.may_leave():
            return
        try:
            project = Project(open_project(file, path.parent), path)
        except BuccaphonError as problem:
            self.session.report(problem)
            return
        project.count_as_changed()
        self.session.open_prepared(project)
