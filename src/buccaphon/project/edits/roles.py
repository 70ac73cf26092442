"""Edits of the roles: whose mouths move, and what they are called."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.project.edits import Edit, Touched
from buccaphon.project.state import MOST_ROLES, Line, Role, State
from buccaphon.project.take import Take
from buccaphon.speech.script import with_speaker_renamed
from buccaphon.texts import N_


@dataclass(frozen=True, slots=True)
class AddRole(Edit):
    """Make somebody whom the script names a role, with a mouth that is moved by what they say. It begins as the first role
    is. kit: the name of the character; '' for Marigold drawn by poses. chart: None for that of the first role."""

    TITLE = N_("Add a role")
    TOUCHES = Touched.ALL

    role: str
    kit: str = ""
    chart: str | None = None

    def apply(self, state: State) -> State:
        name = " ".join(self.role.split())
        if not name or _is_taken(state, name) or len(state.roles) >= MOST_ROLES:
            return state
        first = state.roles[0]
        known = self.kit in (kit.name for kit in state.kits)
        added = replace(first, name=name, kit=self.kit if known else "", chart=self.chart or first.chart, unknown={})
        return replace(state, roles=(*state.roles, added))


@dataclass(frozen=True, slots=True)
class RenameRole(Edit):
    """Call a role otherwise, also in the scripts that name it."""

    TITLE = N_("Rename the role")
    TOUCHES = Touched.ALL

    role: str
    new: str

    def apply(self, state: State) -> State:
        new = " ".join(self.new.split())
        others = tuple(role.name for role in state.roles if role.name != self.role)
        if (
            new == self.role
            or new.casefold() in (name.casefold() for name in others)
            or len(others) == len(state.roles)
        ):
            return state
        roles = tuple(replace(role, name=new) if role.name == self.role else role for role in state.roles)
        return replace(state, roles=roles, lines=tuple(self._in_line(line, new) for line in state.lines))

    def _in_line(self, line: Line, new: str) -> Line:
        def called(name: str) -> str:
            return new if name == self.role else name

        def in_take(take: Take) -> Take:
            others = tuple(replace(work, role=called(work.role)) for work in take.others)
            return replace(take, others=others, aligned_script=self._in_script(take.aligned_script, new))

        return replace(
            line,
            takes=tuple(in_take(take) for take in line.takes),
            script=self._in_script(line.script, new),
            role=called(line.role),
            on_show=None if line.on_show is None else called(line.on_show),
        )

    def _in_script(self, script: str, new: str) -> str:
        return with_speaker_renamed(script, self.role, new) if self.role and new else script


@dataclass(frozen=True, slots=True)
class RemoveRole(Edit):
    """Take a role out of the scene: the line's own role says its words from now on, and the first role its lines."""

    TITLE = N_("Remove the role")
    TOUCHES = Touched.ALL

    role: str

    def apply(self, state: State) -> State:
        roles = tuple(role for role in state.roles if role.name != self.role)
        if not roles or len(roles) == len(state.roles):
            return state
        heir = roles[0].name
        return replace(state, roles=roles, lines=tuple(self._in_line(line, heir) for line in state.lines))

    def _in_line(self, line: Line, heir: str) -> Line:
        whole = line.showing(heir if line.role == self.role else line.role)
        takes = (
            replace(take, others=tuple(work for work in take.others if work.role != self.role)) for take in whole.takes
        )
        return replace(whole, takes=tuple(takes), role=heir if line.role == self.role else line.role, on_show=None)


def role_called(state: State, name: str) -> Role | None:
    """The role that a name in a script or on the command line means, however it is written."""
    return next((role for role in state.roles if role.name.casefold() == name.casefold()), None)


def _is_taken(state: State, name: str) -> bool:
    return role_called(state, name) is not None
