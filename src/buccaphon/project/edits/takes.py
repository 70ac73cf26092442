"""Edits of recordings: which there are, which is shown, and what of each is used."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from buccaphon.audio.recording import Channel
from buccaphon.files import whole_text
from buccaphon.project.carrying import carry_over
from buccaphon.project.edits import Edit, TakeEdit, Touched
from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.score.edits import move_boundary
from buccaphon.texts import N_
from buccaphon.timing import FURTHEST, Span


@dataclass(frozen=True, slots=True)
class AddTake(Edit):
    """Bring in another recording and show it. The takes that are there stay as they are."""

    TITLE = N_("Add a recording")
    TOUCHES = Touched.ALL

    take: Take
    script: str | None = None

    def apply(self, state: State) -> State:
        script = state.script if self.script is None else whole_text(self.script)
        return state.with_line(takes=(*state.takes, self.take), shown=len(state.takes), script=script)


@dataclass(frozen=True, slots=True)
class ShowTake(Edit):
    """Show another take: it is heard and drives the mouth from now on."""

    TITLE = N_("Show another take")
    TOUCHES = Touched.ALL

    number: int

    def apply(self, state: State) -> State:
        return state.with_line(shown=self.number)


@dataclass(frozen=True, slots=True)
class RemoveTake(Edit):
    """Take a recording out of the project; its file stays where it is."""

    TITLE = N_("Remove a take")
    TOUCHES = Touched.ALL

    number: int

    def apply(self, state: State) -> State:
        takes = (*state.takes[: self.number], *state.takes[self.number + 1 :])
        shown = state.shown - (state.shown > self.number)
        return state.with_takes(*takes, shown=max(min(shown, len(takes) - 1), 0))


@dataclass(frozen=True, slots=True)
class ChangeTake(TakeEdit):
    """Change the shown take's name, channel, muting, place in the scene or trims. None leaves a thing as it is."""

    TITLE = N_("Change the take")

    title: str | None = None
    channel: Channel | None = None
    muted: bool | None = None
    offset: float | None = None
    used: Span | None = None
    path: Path | None = None
    digest: str | None = None

    @property
    def touches(self) -> Touched:
        sound = self.channel is not None or self.path is not None
        return Touched.ALL if sound else Touched.SCENE | Touched.MOUTHS

    def on(self, take: Take, _state: State) -> Take:
        given: dict[str, Any] = {
            "name": None if self.title is None else whole_text(self.title),
            "channel": self.channel,
            "muted": self.muted,
            "offset": None if self.offset is None else min(max(self.offset, -FURTHEST), FURTHEST),
        }
        given |= {"path": self.path, "digest": self.digest}
        if self.used is not None:
            begin = min(max(self.used.start, 0.0), FURTHEST)
            given |= {"trim_in": begin, "trim_out": min(max(self.used.end, begin), FURTHEST)}
        return replace(take, **{key: value for key, value in given.items() if value is not None})


@dataclass(frozen=True, slots=True)
class CarryOver(Edit):
    """Bring the corrections of another take over to the shown one, each at the same words in that take, or at the same time
    where neither has words. lasts: seconds of the shown one's recording, where it has none."""

    TITLE = N_("Copy corrections")
    TOUCHES = Touched.TIMING | Touched.MOUTHS | Touched.NOTES

    number: int
    lasts: float | None = None

    def apply(self, state: State) -> State:
        if state.take is None or not 0 <= self.number < len(state.takes) or self.number == state.shown:
            return state
        carried = carry_over(state.takes[self.number], state.take, self.lasts)
        score = carried.score
        for pin in carried.pins:
            if score is not None:
                score = move_boundary(score, pin.boundary, pin.seconds)
        return state.with_take(carried if score is None else replace(carried, score=score))
