"""Edits of a scene's lines: which there are, where they lie, and what becomes of them in the scene."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from buccaphon.files import whole_text
from buccaphon.project.edits import Edit, Touched
from buccaphon.project.state import MOST_LINES, Line, State
from buccaphon.texts import N_
from buccaphon.timing import FURTHEST


@dataclass(frozen=True, slots=True)
class AddLines(Edit):
    """Bring lines into the scene, behind those that are there, and open the first of them. A line without a recording or
    words, as a new scene has it, gives way to them."""

    TITLE = N_("Add a line")
    TOUCHES = Touched.ALL

    lines: tuple[Line, ...]

    def apply(self, state: State) -> State:
        kept = tuple(line for line in state.lines if line.takes or line.script.strip())
        key = max((line.key for line in state.lines), default=0) + 1
        new = tuple(replace(line, key=key + number) for number, line in enumerate(self.lines[: MOST_LINES - len(kept)]))
        return state.with_lines(*kept, *new, open_line=len(kept)) if new else state


@dataclass(frozen=True, slots=True)
class RemoveLine(Edit):
    """Take a line out of the scene; its recordings stay where they are. The only one is emptied."""

    TITLE = N_("Remove the line")
    TOUCHES = Touched.ALL

    key: int

    def apply(self, state: State) -> State:
        number = state.number_of(self.key)
        if number is None:
            return state
        lines = (*state.lines[:number], *state.lines[number + 1 :])
        if not lines:
            return state.with_lines(Line(key=self.key + 1, language=state.language), open_line=0)
        here = state.open_line - (state.open_line > number)
        return state.with_lines(*lines, open_line=min(here, len(lines) - 1))


@dataclass(frozen=True, slots=True)
class ChangeLine(Edit):
    """Change a line's name, whose words it has, or whether it moves a mouth and is heard. None leaves a thing as it is."""

    TITLE = N_("Change the line")

    key: int
    title: str | None = None
    role: str | None = None
    heard_only: bool | None = None
    muted: bool | None = None

    @property
    def touches(self) -> Touched:
        is_seen = self.role is not None or self.heard_only is not None
        return Touched.ALL if is_seen else Touched.SCENE

    def apply(self, state: State) -> State:
        number = state.number_of(self.key)
        if number is None:
            return state
        line = state.lines[number]
        if self.role is not None and self.role != line.role:
            line = _said_by(line, self.role)
        line = replace(
            line,
            name=line.name if self.title is None else whole_text(self.title),
            heard_only=line.heard_only if self.heard_only is None else self.heard_only,
            muted=line.muted if self.muted is None else self.muted,
        )
        return with_line_at(state, number, line)


@dataclass(frozen=True, slots=True)
class PlaceLines(Edit):
    """Move lines in the scene: for the key of each, when the used part of its shown take begins, in seconds. Its other takes
    move with it. Places snap to frames."""

    TITLE = N_("Move the line")
    TOUCHES = Touched.SCENE | Touched.MOUTHS

    places: tuple[tuple[int, float], ...]

    def apply(self, state: State) -> State:
        for key, seconds in self.places:
            number = state.number_of(key)
            take = state.lines[number].take if number is not None else None
            if number is None or take is None:
                continue
            by = state.rate.seconds(state.rate.nearest(seconds)) - take.offset
            takes = (
                replace(each, offset=min(max(each.offset + by, -FURTHEST), FURTHEST))
                for each in state.lines[number].takes
            )
            state = with_line_at(state, number, replace(state.lines[number], takes=tuple(takes)))
        return state


@dataclass(frozen=True, slots=True)
class OnLine(Edit):
    """An edit done to a line that may not be the open one. It is gone with its line."""

    edit: Edit
    key: int

    @property
    def default_name(self) -> str:
        return self.edit.name

    @property
    def touches(self) -> Touched:
        return self.edit.touches

    def apply(self, state: State) -> State:
        number = state.number_of(self.key)
        return state if number is None else self.edit.apply(state.at_line(number)).at_line(state.open_line)


def with_line_at(state: State, number: int, line: Line) -> State:
    """The state with another line in the place of one."""
    return state.with_lines(*state.lines[:number], line, *state.lines[number + 1 :])


def one_after_another(lines: Sequence[Line], lengths: Sequence[float], start: float) -> tuple[Line, ...]:
    """New lines placed one after another. lengths: seconds of each recording. start: seconds of the scene."""
    found, at = list[Line](), start
    for line, length in zip(lines, lengths, strict=True):
        found.append(replace(line, takes=tuple(replace(take, offset=at) for take in line.takes)))
        at += length
    return tuple(found)


def _said_by(line: Line, role: str) -> Line:
    """A line given to another role: what a hand did to its mouths goes with it, unless that role has work there already."""
    whole = line.showing(line.role)
    has_work = any(work.role == role for take in whole.takes for work in take.others)
    return replace(whole.showing(role) if has_work else whole, role=role, on_show=None)
