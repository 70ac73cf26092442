"""Edits: what can be done to a project, each a record with a name for the undo menu and a pure `apply`."""

from __future__ import annotations

import functools
import operator
from dataclasses import dataclass
from enum import Flag, auto
from typing import ClassVar

from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.texts import _


class Touched(Flag):
    """What an edit touched, so that views redraw only that.

    SOUND: what is heard. SCRIPT: the words, typed or aligned. SAYING: how words are pronounced. TIMING: when they are said.
    MOUTHS: what is seen. KIT: the character that shows it. SCENE: rate, numbering, where a take lies. NOTES: what is
    written beside the line. EXPORTS: what is written for the host.
    """

    SOUND = auto()
    SCRIPT = auto()
    SAYING = auto()
    TIMING = auto()
    MOUTHS = auto()
    KIT = auto()
    SCENE = auto()
    NOTES = auto()
    EXPORTS = auto()
    ALL = SOUND | SCRIPT | SAYING | TIMING | MOUTHS | KIT | SCENE | NOTES | EXPORTS


@dataclass(frozen=True, slots=True, kw_only=True)
class Edit:
    """One change. name: for the undo menu; each kind of edit has a usual one. gesture: edits of the same one that follow each
    other are one step to undo; '' for a step of its own."""

    TITLE: ClassVar[str] = ""
    TOUCHES: ClassVar[Touched] = Touched(0)

    name: str = ""
    gesture: str = ""

    def __post_init__(self) -> None:
        if not self.name:
            object.__setattr__(self, "name", self.default_name)

    @property
    def default_name(self) -> str:
        """The usual name."""
        return _(self.TITLE)

    @property
    def touches(self) -> Touched:
        return self.TOUCHES

    def apply(self, state: State) -> State:
        """The state as it is after the edit; the one given stays as it is."""
        raise NotImplementedError


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeEdit(Edit):
    """A change of the shown take; where there is none it changes nothing."""

    def apply(self, state: State) -> State:
        take = state.take
        changed = None if take is None else self.on(take, state)
        return state if changed is None or changed is take else state.with_take(changed)

    def on(self, take: Take, state: State) -> Take:
        """The take as it is after the edit, or the one given where nothing changes. state: what it belongs to."""
        raise NotImplementedError


@dataclass(frozen=True, slots=True)
class Together(Edit):
    """Several edits as one step."""

    edits: tuple[Edit, ...]

    @property
    def touches(self) -> Touched:
        return functools.reduce(operator.or_, (edit.touches for edit in self.edits), Touched(0))

    def apply(self, state: State) -> State:
        for edit in self.edits:
            state = edit.apply(state)
        return state
