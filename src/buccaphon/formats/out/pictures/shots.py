"""What is burnt into pictures, and how large they are: shared by all formats that are pictures."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.pictures import Parts, Pixels, Shot
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_, _
from buccaphon.timing import timecode

LARGEST = 8192  # pixels of a side
SIDE: dict[str, Any] = {"least": 16, "most": LARGEST, "unit": "px", "step": 10}  # of the setting for one


@dataclass(frozen=True, slots=True)
class PictureOptions:
    """Size, and what is burnt in."""

    width: int = setting(1280, N_("Width"), N_("Width of the picture"), **SIDE)
    height: int = setting(720, N_("Height"), N_("Height of the picture"), **SIDE)
    artwork: bool = setting(
        False, N_("Artwork's own size"), N_("A pixel of the artwork is a pixel of the picture, at its own place")
    )
    parts: Parts = setting(Parts.ALL, N_("Show"), N_("What of the character is in the picture"), choices=Parts)
    number: bool = setting(False, N_("Frame number"), N_("Burn in the frame number of the scene"))
    timecode: bool = setting(False, N_("Timecode"), N_("Burn in the timecode"))
    mouth: bool = setting(False, N_("Mouth"), N_("Burn in the name of the mouth"))
    word: bool = setting(False, N_("Word"), N_("Burn in the word that is said"))
    notes: bool = setting(False, N_("Notes"), N_("Burn in the notes"))

    def __post_init__(self) -> None:
        require_valid_settings(self)


class SideBySide:
    """All roles of a scene beside each other, each as it is painted alone."""

    def __init__(self, delivery: Delivery, options: PictureOptions, *, clear: bool) -> None:
        assert delivery.bake is not None
        self.bake, count = delivery.bake, len(delivery.voices)
        cell = max(options.width // count // 2 * 2, 2)
        alone = replace(options, width=cell)
        self._cells = [Shooting(voice.of, alone, clear=clear) for voice in delivery.voices]
        self.width, self.height = cell * count, options.height

    def picture(self, frame: int) -> Pixels:
        """(height, width, 4) of a frame, counted from 0."""
        return np.concatenate([cell.picture(frame) for cell in self._cells], axis=1)


class Shooting:
    """Paints frame after frame, with the texts that were asked for."""

    def __init__(
        self,
        delivery: Delivery,
        options: PictureOptions,
        *,
        clear: bool = False,
        corner: bool = False,
        even: bool = False,
    ) -> None:
        """even: both sides are to be even, by a pixel more to the right or below. Raises TargetError for what has no size of
        its own."""
        assert delivery.bake is not None
        assert delivery.pictures is not None
        self.bake, self.delivery, self._options = delivery.bake, delivery, options
        self._paint, self._clear, self._corner = delivery.pictures.frame, clear, corner
        self.width, self.height = options.width, options.height
        if options.artwork:
            if delivery.pictures.artwork is None:
                raise TargetError(
                    _("the pictures"),
                    _("the character has no artwork, and so no size in pixels"),
                    _("Switch “Artwork's own size” off"),
                )
            self.width, self.height = delivery.pictures.artwork
            if even:
                self.width, self.height = self.width + self.width % 2, self.height + self.height % 2
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
        return Shot(self.width, self.height, self._clear, self._corner, texts, options.artwork, options.parts)

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
