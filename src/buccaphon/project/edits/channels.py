"""Edits of channels: those of one's own, mixed from the pose."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.errors import ChannelError
from buccaphon.motion.mixes import MOST_MIXES, Mix
from buccaphon.project.edits import Edit, Touched
from buccaphon.project.state import State


@dataclass(frozen=True, slots=True)
class PutMix(Edit):
    """Make a channel, in the place of one of that name."""

    TOUCHES = Touched.MOUTHS

    mix: Mix

    @property
    def usual_name(self) -> str:
        return f"Make the channel {self.mix.name}"

    def apply(self, state: State) -> State:
        if self.mix.name in (mix.name for mix in state.mixes):
            mixes = tuple(self.mix if mix.name == self.mix.name else mix for mix in state.mixes)
        elif len(state.mixes) >= MOST_MIXES:
            raise ChannelError(self.mix.name, f"there are {MOST_MIXES} channels already", "Take one out first")
        else:
            mixes = (*state.mixes, self.mix)
        return replace(state, mixes=mixes)


@dataclass(frozen=True, slots=True)
class DropMix(Edit):
    """Take a channel out."""

    TOUCHES = Touched.MOUTHS

    name_of: str

    @property
    def usual_name(self) -> str:
        return f"Take the channel {self.name_of} out"

    def apply(self, state: State) -> State:
        return replace(state, mixes=tuple(mix for mix in state.mixes if mix.name != self.name_of))
