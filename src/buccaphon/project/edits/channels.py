"""Edits of channels: those of one's own, mixed from the pose, and those that follow others."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.errors import ChannelError
from buccaphon.motion.followers import MOST_FOLLOWERS, Follower, in_order, require_valid_follower
from buccaphon.motion.mixes import MOST_MIXES, Mix, require_name
from buccaphon.project.edits import Edit, Touched
from buccaphon.project.state import State
from buccaphon.texts import _


@dataclass(frozen=True, slots=True)
class PutMix(Edit):
    """Make a channel, in the place of one of that name."""

    TOUCHES = Touched.MOUTHS

    mix: Mix

    @property
    def default_name(self) -> str:
        return _("Add the channel {name}", name=self.mix.name)

    def apply(self, state: State) -> State:
        _require_free(self.mix.name, [follower.name for follower in state.followers])
        if self.mix.name in (mix.name for mix in state.mixes):
            mixes = tuple(self.mix if mix.name == self.mix.name else mix for mix in state.mixes)
        elif len(state.mixes) >= MOST_MIXES:
            raise ChannelError(
                self.mix.name,
                _("there are {most} channels already", most=MOST_MIXES),
                _("Remove one first"),
            )
        else:
            mixes = (*state.mixes, self.mix)
        return state.with_role(mixes=mixes)


@dataclass(frozen=True, slots=True)
class DropMix(Edit):
    """Take a channel out."""

    TOUCHES = Touched.MOUTHS

    name_of: str

    @property
    def default_name(self) -> str:
        return _("Remove the channel {name}", name=self.name_of)

    def apply(self, state: State) -> State:
        return state.with_role(mixes=tuple(mix for mix in state.mixes if mix.name != self.name_of))


@dataclass(frozen=True, slots=True)
class PutFollower(Edit):
    """Let a channel follow another one. replaces: the name of the follower in whose place it comes; '' for a new one."""

    TOUCHES = Touched.MOUTHS

    follower: Follower
    replaces: str = ""

    @property
    def default_name(self) -> str:
        return _("Let {name} follow {follows}", name=self.follower.name, follows=self.follower.follows)

    def apply(self, state: State) -> State:
        """Raises ChannelError for a name that is taken, a value that cannot be, and followers that go in a circle."""
        require_name(self.follower.name)
        require_valid_follower(self.follower)
        others = [each.name for each in state.followers if each.name != self.replaces]
        _require_free(self.follower.name, [*others, *(mix.name for mix in state.mixes)])
        if self.replaces in (each.name for each in state.followers):
            followers = tuple(self.follower if each.name == self.replaces else each for each in state.followers)
        elif len(state.followers) >= MOST_FOLLOWERS:
            raise ChannelError(
                self.follower.name,
                _("there are {most} followers", most=MOST_FOLLOWERS),
                _("Remove one first"),
            )
        else:
            followers = (*state.followers, self.follower)
        renamed = self.replaces and self.replaces != self.follower.name
        if renamed:
            followers = tuple(
                replace(each, follows=self.follower.name) if each.follows == self.replaces else each
                for each in followers
            )
        in_order(followers)
        return state.with_role(followers=followers)


@dataclass(frozen=True, slots=True)
class DropFollower(Edit):
    """Take a follower out; what follows it stays at rest until it follows another."""

    TOUCHES = Touched.MOUTHS

    name_of: str

    @property
    def default_name(self) -> str:
        return _("Remove the follower {name}", name=self.name_of)

    def apply(self, state: State) -> State:
        return state.with_role(followers=tuple(each for each in state.followers if each.name != self.name_of))


def _require_free(name: str, taken: list[str]) -> None:
    if name in taken:
        raise ChannelError(name, _("there is a channel of that name already"), _("Give it another name"))
