"""What a format is: its names, what it needs and leaves out, its options, and how it is written. And what a reader is."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields
from enum import Flag, auto
from pathlib import Path
from typing import IO, Any

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.in_.wording import Wording
from buccaphon.formats.options import TOGETHER, chosen_options
from buccaphon.progress import Progress
from buccaphon.texts import N_, _

Stream = Callable[[IO[bytes], Progress], None]
"""Writes a large file piece by piece, telling how far it is."""

Files = Mapping[str, bytes | Stream]
"""What a format writes: by the files' names, the content."""


class Needs(Flag):
    """What of a delivery a format is made from."""

    WORDS = auto()
    FRAMES = auto()
    SOURCE = auto()
    PICTURES = auto()


_LACKS = {
    Needs.WORDS: ("score", N_("there are no words yet"), N_("Align the script first")),
    Needs.FRAMES: ("bake", N_("it has no frames yet"), N_("Open a recording first")),
    Needs.SOURCE: ("recorded", N_("it has no recording"), N_("Open a recording first")),
    Needs.PICTURES: (
        "pictures",
        N_("pictures cannot be drawn here"),
        N_("Write it from the window or by `buccaphon deliver`"),
    ),
}


@dataclass(frozen=True, slots=True)
class NoOptions:
    """For formats that leave nothing to choose."""


@dataclass(frozen=True, slots=True)
class Format:
    """One way to write something.

    id: as lists and settings keep it. suffix: of its file. ending: what is put behind a name. loses: what a file of this kind
    cannot hold, for the user. write: gives its content, or several files by name, where `suffix` is the first one's. options:
    a record of the settings that can be chosen. for_all: whether it holds nothing that differs from character to character.
    for_scene: whether it holds all roles of a scene at once.
    """

    id: str
    name: str
    suffix: str
    ending: str
    about: str
    loses: str
    needs: Needs
    write: Callable[[Delivery, Any], bytes | Stream | Files]
    options: type = NoOptions
    for_all: bool = False
    for_scene: bool = False

    def of_scene(self, options: Mapping[str, str]) -> bool:
        """Whether there is one of it for a scene of several roles. options: that were chosen, by name, as text."""
        if self.for_all or self.for_scene:
            return True
        has_choice = any(each.name == TOGETHER for each in fields(self.options))
        return has_choice and bool(getattr(chosen_options(self.options, dict(options)), TOGETHER))

    @property
    def title(self) -> str:
        """Its name in the language in use."""
        return _(self.name)

    def files(self, delivery: Delivery, options: object | None = None) -> Files:
        """All that is to be written for a delivery. Raises TargetError when the delivery lacks what the format needs."""
        for need in self.needs:
            part, reason, remedy = _LACKS[need]
            if getattr(delivery, part) is None:
                raise TargetError(self.title, _(reason), _(remedy))
        if Needs.FRAMES in self.needs and delivery.bake is not None and not delivery.bake.frames:
            raise TargetError(self.title, _("the part in use is shorter than one frame"), _("Use a longer part of it"))
        written = self.write(delivery, options or self.options())
        return written if isinstance(written, Mapping) else {f"{delivery.place.name}{self.ending}": written}


@dataclass(frozen=True, slots=True)
class Reader:
    """One way to read words, and times where the file has them."""

    id: str
    name: str
    suffixes: tuple[str, ...]
    about: str
    read: Callable[[Path], Wording]
