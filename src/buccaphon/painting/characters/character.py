"""What every character can do, whatever it is made of."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter

from buccaphon.formats.pictures import Parts
from buccaphon.kits.kit import Kit
from buccaphon.mouths.chart import Chart, Mouth
from buccaphon.mouths.pose import Pose

PaintPlainly = Callable[[QPainter, Pose, QRectF], None]
"""Draws a mouth by its pose in a box, for what a kit has no drawing of."""


@dataclass(frozen=True, slots=True)
class Moment:
    """What is to be seen. mouth: the one on show, with its pose. jaw: 0..1. shares: of the mouths that fade into each other
    at this frame, by name; they sum to 1. still: nothing moves now, so that it may be drawn finer. others: what channels of
    one's own are, by name, each with its unit: a further piece of a cut-out or a model's shape of that name follows it.
    parts: what is painted of artwork; a head is always whole."""

    mouth: str
    pose: Pose
    jaw: float = 0.0
    shares: tuple[tuple[str, float], ...] = ()
    still: bool = False
    others: tuple[tuple[str, float, str], ...] = ()
    parts: Parts = Parts.ALL

    @property
    def own(self) -> dict[str, tuple[float, str]]:
        """Values and units of channels of one's own, by name."""
        return {name: (value, unit) for name, value, unit in self.others}


class Character(Protocol):
    """A kit whose files were read."""

    told: tuple[str, ...]
    """What could not be used of its files, in sentences."""

    own: tuple[str, ...]
    """The names of its drawings or shapes."""

    def play(self, kit: Kit, chart: Chart) -> None:
        """Take up the kit as it is now, for a chart."""

    def size(self) -> tuple[float, float]:
        """Of its picture, in its pixels."""

    def paint(self, painter: QPainter, box: QRectF, moment: Moment, plain: PaintPlainly) -> None:
        """The whole face as large as fits a box."""

    def draws(self, mouth: str) -> bool:
        """Whether it has something of its own for a mouth."""

    def mouth_image(self, mouth: Mouth, width: int, height: int, plain: PaintPlainly) -> QImage:
        """The mouth alone, as large as fits so many pixels."""


def fit(width: float, height: float, box: QRectF) -> QRectF:
    """The largest box of these proportions in the middle of another."""
    scale = min(box.width() / max(width, 1e-9), box.height() / max(height, 1e-9))
    found = QRectF(0, 0, width * scale, height * scale)
    found.moveCenter(box.center())
    return found
