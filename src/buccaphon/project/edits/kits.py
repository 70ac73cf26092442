"""Edits of the characters that show the mouths, and of what the host calls them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.kits.kit import Kit
from buccaphon.kits.store import require_valid_kit
from buccaphon.project.edits import Edit, Touched
from buccaphon.project.state import State
from buccaphon.texts import N_

MOST_KITS = 200


@dataclass(frozen=True, slots=True)
class PutKit(Edit):
    """Bring a kit in, or put one in the place of that of the same name (or of another, `instead_of`); it is in the mirror
    then, unless it is only `kept`."""

    TITLE = N_("Add a character")
    TOUCHES = Touched.KIT

    kit: Kit
    instead_of: str = ""
    kept: bool = False

    def apply(self, state: State) -> State:
        require_valid_kit(self.kit)
        old = self.instead_of or self.kit.name
        names = [kit.name for kit in state.kits]
        if old in names:
            taken = self.kit.name != old and self.kit.name in names
            kit = replace(self.kit, name=old) if taken else self.kit
            kits = tuple(kit if each.name == old else each for each in state.kits)
        elif len(names) >= MOST_KITS:
            return state
        else:
            kit, kits = self.kit, (*state.kits, self.kit)
        shown = state.kit if self.kept and state.kit != old else kit.name
        roles = tuple(replace(role, kit=kit.name) if old and role.kit == old else role for role in state.roles)
        return replace(state, kits=kits, roles=roles).with_role(kit=shown)


@dataclass(frozen=True, slots=True)
class UseKit(Edit):
    """Put another of the project's characters into the mirror; '' is Marigold drawn by poses."""

    TITLE = N_("Show another character")
    TOUCHES = Touched.KIT

    kit: str

    def apply(self, state: State) -> State:
        known = self.kit in ("", *(kit.name for kit in state.kits))
        return state.with_role(kit=self.kit) if known else state


@dataclass(frozen=True, slots=True)
class DropKit(Edit):
    """Take a character out of the project; its files stay where they are."""

    TITLE = N_("Remove the character")
    TOUCHES = Touched.KIT

    kit: str

    def apply(self, state: State) -> State:
        kits = tuple(kit for kit in state.kits if kit.name != self.kit)
        roles = tuple(replace(role, kit="") if role.kit == self.kit else role for role in state.roles)
        return replace(state, kits=kits, roles=roles)
