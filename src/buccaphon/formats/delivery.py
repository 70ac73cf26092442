"""The delivery: all that a file for a host can be made of. The window, the command line and a batch make the same one."""

from __future__ import annotations

from dataclasses import dataclass

from buccaphon.motion.record import Bake
from buccaphon.score.records import Note, Score


@dataclass(frozen=True, eq=False)
class Delivery:
    """title: of the project or recording. score: its words; None while there are none. bake: of the part that is used; None
    where only times are wanted."""

    title: str
    score: Score | None = None
    bake: Bake | None = None
    notes: tuple[Note, ...] = ()
