"""What is read of a folder or a layered file before anything is known of it: drawings, layers and groups, bottom up."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from typing import Protocol

from buccaphon.files import whole_text
from buccaphon.kits.own.seen import Pixels


class Looked(Protocol):
    """A picture that is decoded when something is asked of it."""

    @property
    def cover(self) -> float:
        """The share of the canvas that it covers, 0..1."""

    def pixels(self, longest: int) -> Pixels:
        """It on the whole canvas, made no longer than so many pixels on the longer side."""


@dataclass(frozen=True, eq=False)
class Entry:
    """One drawing, layer or group. picture: None where there is none to be looked at. parent: the number of the group that
    it lies in, -1 for none."""

    name: str
    picture: Looked | None = None
    parent: int = -1
    is_group: bool = False
    hidden: bool = False

    @property
    def cover(self) -> float | None:
        return None if self.picture is None else self.picture.cover


def unique(names: Iterable[str]) -> list[str]:
    """The names as any file can hold them, those that come again with a number behind them."""
    seen: set[str] = set()
    found = []
    for name in map(whole_text, names):
        number, own = 1, name
        while own in seen:
            number += 1
            own = f"{name} {number}"
        seen.add(own)
        found.append(own)
    return found


def titles(entries: Sequence[Entry], family: Collection[int]) -> dict[int, str]:
    """What each is listed by, by its number: those of the mouths' group by their names, the others, too, where none else is
    called so; else with the groups that they lie in."""
    count = Counter(entry.name for entry in entries)

    def path(n: int) -> str:
        parent, name = entries[n].parent, entries[n].name
        return f"{path(parent)}/{name}" if parent >= 0 else name

    order = [*family, *(n for n in range(len(entries)) if n not in set(family))]
    plain = {n for n in order if n in family or count[entries[n].name] == 1}
    return dict(zip(order, unique(entries[n].name if n in plain else path(n) for n in order), strict=True))
