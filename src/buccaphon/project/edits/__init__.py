"""Edits: what can be done to a project, each a record with a name for the undo menu and a pure `apply`."""

from __future__ import annotations

import functools
import operator
from dataclasses import dataclass
from enum import Flag, auto
from typing import Protocol

from buccaphon.project.state import State


class Kind(Flag):
    """What an edit touched, so that views redraw only that."""

    SOUND = auto()
    SCRIPT = auto()
    TIMING = auto()
    MOUTHS = auto()
    SCENE = auto()
    ALL = SOUND | SCRIPT | TIMING | MOUTHS | SCENE


def whole_text(text: str) -> str:
    """Text from outside without halves of characters (lone surrogates), which no file can hold."""
    return text.encode("utf-16", "surrogatepass").decode("utf-16", "replace")


class Edit(Protocol):
    """One change. Edits with an equal, non-empty `gesture` that follow each other are one step to undo."""

    @property
    def name(self) -> str: ...
    @property
    def kind(self) -> Kind: ...
    @property
    def gesture(self) -> str: ...
    def apply(self, state: State) -> State: ...


@dataclass(frozen=True, slots=True)
class Together:
    """Several edits as one step."""

    edits: tuple[Edit, ...]
    name: str
    gesture: str = ""

    @property
    def kind(self) -> Kind:
        return functools.reduce(operator.or_, (edit.kind for edit in self.edits), Kind(0))

    def apply(self, state: State) -> State:
        for edit in self.edits:
            state = edit.apply(state)
        return state
