"""Artwork: what was found in a folder, a layered file or a sheet, before anybody says which drawing is which mouth."""

from __future__ import annotations

from dataclasses import dataclass, field

from buccaphon.painting.artwork.pixels import Picture


@dataclass(eq=False)
class Artwork:
    """Drawings on one canvas. width, height: of the canvas as it is kept, in pixels; share: how much smaller that is than the
    file's. drawings: by name, in the order of the file. faces: other drawings of the face that go with a mouth, by name.
    under, over: the rest of the face behind the mouth and before it. told: what could not be used, in sentences."""

    width: int
    height: int
    share: float = 1.0
    drawings: dict[str, Picture] = field(default_factory=dict)
    faces: dict[str, Picture] = field(default_factory=dict)
    under: list[Picture] = field(default_factory=list)
    over: list[Picture] = field(default_factory=list)
    told: list[str] = field(default_factory=list)

    @property
    def names(self) -> tuple[str, ...]:
        return tuple(self.drawings)

    @property
    def size_in_bytes(self) -> int:
        pictures = (*self.drawings.values(), *self.faces.values(), *self.under, *self.over)
        return sum(picture.image.sizeInBytes() for picture in pictures)
