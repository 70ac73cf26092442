"""Edits of recordings: which there are, which is shown, and what of each is used."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from buccaphon.audio.recording import Channel
from buccaphon.project.edits import Kind, whole_text
from buccaphon.project.state import State, Take
from buccaphon.timing import Span


@dataclass(frozen=True, slots=True)
class AddTake:
    """Bring in another recording and show it. The takes that are there stay as they are."""

    take: Take
    script: str | None = None
    name: str = "Bring in a recording"
    kind: Kind = Kind.ALL
    gesture: str = ""

    def apply(self, state: State) -> State:
        script = state.script if self.script is None else whole_text(self.script)
        return replace(state, takes=(*state.takes, self.take), shown=len(state.takes), script=script)


@dataclass(frozen=True, slots=True)
class ShowTake:
    """Show another take: it is heard and drives the mouth from now on."""

    number: int
    name: str = "Show another take"
    kind: Kind = Kind.ALL
    gesture: str = ""

    def apply(self, state: State) -> State:
        return replace(state, shown=self.number)


@dataclass(frozen=True, slots=True)
class RemoveTake:
    """Take a recording out of the project; its file stays where it is."""

    number: int
    name: str = "Remove a take"
    kind: Kind = Kind.ALL
    gesture: str = ""

    def apply(self, state: State) -> State:
        takes = (*state.takes[: self.number], *state.takes[self.number + 1 :])
        shown = state.shown - (state.shown > self.number)
        return state.with_takes(*takes, shown=max(min(shown, len(takes) - 1), 0))


@dataclass(frozen=True, slots=True)
class ChangeTake:
    """Change the shown take's name, channel, muting, place in the scene or trims. None leaves a thing as it is."""

    title: str | None = None
    channel: Channel | None = None
    muted: bool | None = None
    offset: float | None = None
    used: Span | None = None
    path: Path | None = None
    digest: str | None = None
    name: str = "Change the take"
    gesture: str = ""

    @property
    def kind(self) -> Kind:
        sound = self.channel is not None or self.path is not None
        return Kind.ALL if sound else Kind.SCENE | Kind.MOUTHS

    def apply(self, state: State) -> State:
        given: dict[str, Any] = {
            "name": None if self.title is None else whole_text(self.title),
            "channel": self.channel,
            "muted": self.muted,
            "offset": self.offset,
        }
        given |= {"path": self.path, "digest": self.digest}
        if self.used is not None:
            given |= {"trim_in": self.used.start, "trim_out": self.used.end}
        return state.with_take(**{key: value for key, value in given.items() if value is not None})
