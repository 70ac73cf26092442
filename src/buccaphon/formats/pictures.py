"""What formats that are pictures ask of whoever can paint."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.choice import Choice
from buccaphon.texts import N_

Pixels = npt.NDArray[np.uint8]  # (height, width, 4): red, green, blue and opacity, straight


class Paper(Choice):
    """On what is printed."""

    A4 = "A4", "A4"
    LETTER = "Letter", "Letter"


class Parts(Choice):
    """What of a character is painted."""

    ALL = "all", N_("all of it")
    MOUTH = "mouth", N_("the mouth alone")
    FACE = "face", N_("the face without the mouth")


@dataclass(frozen=True, slots=True)
class Shot:
    """How a frame is painted. clear: with transparent background. corner: the character small, in the lower right.
    texts: burnt in below, on the left, in the middle and on the right. exact: the artwork in its own size and place, from the
    upper left corner on, with no margin. parts: of the character."""

    width: int
    height: int
    clear: bool = False
    corner: bool = False
    texts: tuple[str, str, str] = ("", "", "")
    exact: bool = False
    parts: Parts = Parts.ALL


@dataclass(frozen=True, eq=False)
class Piece:
    """One piece of a character, on the whole canvas. role: mouth, face, over, piece or part. x, y, width, height: of what is
    drawn, in pixels. pivot: about which it turns, its middle where it only slides."""

    name: str
    role: str
    pixels: Pixels
    x: int
    y: int
    width: int
    height: int
    pivot: tuple[float, float]


def _none() -> tuple[Piece, ...]:
    return ()


@dataclass(frozen=True, slots=True)
class Pictures:
    """frame: paints one, counted from 0 in the bake. sheet: the exposure sheet as PDF, on a paper, and whether
    there is a thick line every foot of film. label: a line of text as a picture so many pixels wide and high. artwork: width
    and height of the character's own picture in its pixels; None where it has none. pieces: what it is made of, from the
    lowest up."""

    frame: Callable[[int, Shot], Pixels]
    sheet: Callable[[Paper, bool], bytes]
    label: Callable[[str, str, int, int], Pixels]
    artwork: tuple[int, int] | None = None
    pieces: Callable[[], Sequence[Piece]] = _none
