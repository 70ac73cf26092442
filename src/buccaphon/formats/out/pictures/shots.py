"""What is burnt into pictures, and how large they are: shared by all formats that are pictures."""

from __future__ import annotations

from dataclasses import dataclass, field

from buccaphon.formats.delivery import Delivery
from buccaphon.formats.pictures import Pixels, Shot
from buccaphon.timing import timecode

LARGEST = 8192  # pixels of a side


@dataclass(frozen=True, slots=True)
class PictureOptions:
    """Size, and what is burnt in."""

    width: int = field(default=1280, metadata={"says": "width in pixels"})
    height: int = field(default=720, metadata={"says": "height in pixels"})
    number: bool = field(default=False, metadata={"title": "Frame number", "says": "burn in the scene's frame number"})
    timecode: bool = field(default=False, metadata={"says": "burn in the timecode"})
    mouth: bool = field(default=False, metadata={"says": "burn in the mouth's name"})
    word: bool = field(default=False, metadata={"says": "burn in the word that is said"})
    notes: bool = field(default=False, metadata={"says": "burn in the notes"})

    def __post_init__(self) -> None:
        for name in ("width", "height"):
            if not 16 <= getattr(self, name) <= LARGEST:
                raise ValueError(f"a {name} of {getattr(self, name)} pixels is not between 16 and {LARGEST}")


class Shooting:
    """Paints frame after frame, with the texts that were asked for."""

    def __init__(
        self, delivery: Delivery, options: PictureOptions, *, clear: bool = False, corner: bool = False
    ) -> None:
        assert delivery.bake is not None
        assert delivery.pictures is not None
        self.bake, self.delivery, self._options = delivery.bake, delivery, options
        self._paint, self._clear, self._corner = delivery.pictures.frame, clear, corner
        self._mouths = [e.mouth for e in self.bake.exposures for _ in range(e.length)]
        self._notes = self._by_frame() if options.notes else {}

    def shot(self, frame: int) -> Shot:
        options, number = self._options, frame + self.bake.start_frame
        middle = [
            delivered
            for wanted, delivered in (
                (options.mouth, self.delivery.called(self._mouths[frame])),
                (options.word, self.bake.words[frame]),
                (options.notes, self._notes.get(frame, "")),
            )
            if wanted and delivered
        ]
        texts = (
            str(number) if options.number else "",
            "  ·  ".join(middle),
            timecode(number, self.bake.rate) if options.timecode else "",
        )
        return Shot(options.width, options.height, self._clear, self._corner, texts)

    def picture(self, frame: int) -> Pixels:
        """(height, width, 4) of a frame, counted from 0."""
        return self._paint(frame, self.shot(frame))

    def _by_frame(self) -> dict[int, str]:
        """What notes say at each frame; one that is a moment stays for a second."""
        found: dict[int, str] = {}
        bake, second = self.bake, max(round(float(self.bake.rate.value)), 1)
        for note in self.delivery.notes:
            first = bake.rate.nearest(note.span.start) - bake.first
            last = max(bake.rate.nearest(note.span.end) - bake.first, first + second)
            for frame in range(max(first, 0), min(last, bake.frames)):
                text = " ".join(note.text.split())
                found[frame] = f"{found[frame]}; {text}" if frame in found else text
        return found
