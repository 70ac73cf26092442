"""Artwork: what was found in a folder, a layered file or a sheet, sorted into mouths and the rest of the face."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from buccaphon.kits.own.drawing import OwnDrawing, Role
from buccaphon.painting.artwork.pixels import Picture


@dataclass(eq=False)
class Artwork:
    """Drawings on one canvas. width, height: of the canvas as it is kept, in pixels; share: how much smaller that is than the
    file's. drawings: the mouths by name, in the order of the file. faces: other drawings of the face that go with a mouth, by
    name. others: all that is no mouth, by name. under, over: the rest of the face behind the mouth and before it. all: what
    each drawing or layer is for, in the order of the file. has_mouth: the face has a mouth of its own. told: what could not
    be used, in sentences."""

    width: int
    height: int
    share: float = 1.0
    drawings: dict[str, Picture] = field(default_factory=dict)
    faces: dict[str, Picture] = field(default_factory=dict)
    others: dict[str, Picture] = field(default_factory=dict)
    under: list[Picture] = field(default_factory=list)
    over: list[Picture] = field(default_factory=list)
    all: tuple[OwnDrawing, ...] = ()
    has_mouth: bool = False
    told: list[str] = field(default_factory=list)

    @property
    def names(self) -> tuple[str, ...]:
        return tuple(self.drawings)

    @property
    def size_in_bytes(self) -> int:
        pictures = (*self.drawings.values(), *self.others.values(), *self.under, *self.over)
        return sum({id(each): each.image.sizeInBytes() for each in pictures}.values())

    def take(self, drawings: Mapping[str, Picture], found: tuple[OwnDrawing, ...], *, has_mouth: bool) -> None:
        """Put each drawing where it belongs."""
        self.all, self.has_mouth = found, has_mouth
        for each in found:
            picture = drawings.get(each.name)
            if picture is None:
                continue
            if each.role is Role.MOUTH:
                self.drawings[each.name] = picture
            else:
                self.others[each.name] = picture
            if each.role is Role.FACE_OF_MOUTH:
                self.faces[each.name] = picture
