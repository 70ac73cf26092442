"""The open project: applies edits, remembers them, and tells whoever listens what changed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from buccaphon.project.edits import Edit, Touched
from buccaphon.project.state import State


@dataclass(frozen=True, slots=True)
class Changes:
    """What an edit, an undo or a redo touched. name: of the edit, for the user."""

    touched: Touched
    name: str


@dataclass(frozen=True, slots=True)
class _Step:
    name: str
    touches: Touched
    gesture: str
    before: State
    after: State


DEEPEST = 3000  # steps that can be undone; older ones are forgotten, so that memory stays flat
Listener = Callable[[Changes], None]


class Project:
    """State, history and listeners. States are frozen and share what is equal, so a step costs only what it changed."""

    def __init__(self, state: State | None = None, path: Path | None = None) -> None:
        self.state = state or State()
        self.path = path
        self._done: list[_Step] = []
        self._undone: list[_Step] = []
        self._saved: State | None = self.state
        self._listeners: list[Listener] = []

    def listen(self, listener: Listener) -> None:
        """Call `listener` after every change, with what changed."""
        self._listeners.append(listener)

    def apply(self, edit: Edit) -> Changes:
        """Do an edit. Successive edits of one gesture become one step; an edit that changes nothing leaves no step."""
        before, after = self.state, edit.apply(self.state)
        if after == before:
            return Changes(Touched(0), edit.name)
        last = self._done[-1] if self._done else None
        if last and edit.gesture and last.gesture == edit.gesture and last.after is before and not self._undone:
            self._done[-1] = _Step(edit.name, last.touches | edit.touches, edit.gesture, last.before, after)
        else:
            self._done.append(_Step(edit.name, edit.touches, edit.gesture, before, after))
            del self._done[:-DEEPEST]
        self._undone.clear()
        return self._become(after, edit.touches, edit.name)

    def undo(self) -> Changes | None:
        """Take the last step back; None when there is none."""
        if not self._done:
            return None
        step = self._done.pop()
        self._undone.append(step)
        return self._become(_where_they_differ(step.before, step.after), step.touches, step.name)

    def redo(self) -> Changes | None:
        """Do the step again that was taken back last; None when there is none."""
        if not self._undone:
            return None
        step = self._undone.pop()
        self._done.append(step)
        return self._become(_where_they_differ(step.after, step.before), step.touches, step.name)

    def look_at(self, line: int, role: str | None = None) -> None:
        """Open another line of the scene, or have another role's mouth on show. That is no step to undo."""
        state = self.state.at_line(line, role)
        if state is not self.state:
            self._become(state, Touched(0), "")

    @property
    def undo_name(self) -> str:
        return self._done[-1].name if self._done else ""

    @property
    def redo_name(self) -> str:
        return self._undone[-1].name if self._undone else ""

    @property
    def is_changed(self) -> bool:
        """Whether anything differs from what was last saved or opened."""
        return self._saved is None or (self.state is not self._saved and self.state.at_rest != self._saved.at_rest)

    @property
    def path_of_its_own(self) -> Path | None:
        """The file that another recording may go into: none once the file has another one's work in it."""
        return None if self._saved is None or not self._saved.is_empty else self.path

    def mark_saved(self, path: Path, state: State | None = None) -> None:
        """A state is in the file now: this one, or the one that was saved while work went on."""
        self.path = path
        self._saved = state or self.state

    def settle(self) -> None:
        """Count what is here now as unchanged: opening brought it about, not the user."""
        self._saved = self.state

    def count_as_changed(self) -> None:
        """What is here was never saved, wherever it comes from."""
        self._saved = None

    def steps(self) -> tuple[list[str], int]:
        """The names of all steps that can be undone or done again, oldest first, and how many of them are done."""
        names = [step.name for step in (*self._done, *reversed(self._undone))]
        return names, len(self._done)

    def go_to(self, count: int) -> None:
        """Undo or redo until just `count` steps are done."""
        while len(self._done) > count and self.undo():
            pass
        while len(self._done) < count and self.redo():
            pass

    def cancel_gesture(self, gesture: str) -> None:
        """Put the state back to where a gesture that is under way began, without telling anybody: its next edit will."""
        if self._done and self._done[-1].gesture == gesture:
            step = self._done[-1]
            self._done[-1] = _Step(step.name, step.touches, gesture, step.before, step.before)
            self.state = step.before

    def end_gesture(self) -> None:
        """The hand is off: the next edit begins a new step whatever its gesture is called."""
        if self._done and self._done[-1].gesture:
            last = self._done[-1]
            self._done[-1] = _Step(last.name, last.touches, "", last.before, last.after)

    def _become(self, state: State, touched: Touched, name: str) -> Changes:
        before, self.state = self.state, state
        if (state.line.key, state.line.role_on_show) != (before.line.key, before.line.role_on_show):
            touched |= Touched.ALL  # everything that is seen is another line's, or another role's
        changes = Changes(touched, name)
        for listener in self._listeners:
            listener(changes)
        return changes


def _where_they_differ(state: State, other: State) -> State:
    """A state with that line open which differs, where an edit was done to another line than the open one."""
    if state.line != other.line:
        return state
    pairs = enumerate(zip(state.lines, other.lines, strict=False))
    differs = next((number for number, (line, was) in pairs if line.key == was.key and line != was), None)
    return state if differs is None else state.at_line(differs)
