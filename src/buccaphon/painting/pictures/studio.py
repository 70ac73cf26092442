"""Pictures for worker threads that write files: what only the application's thread may paint is asked of it."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, QRectF, QThread, pyqtSignal
from PyQt6.QtGui import QImage, QPainter

from buccaphon.audio.peaks import Peaks
from buccaphon.errors import Cancelled
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.pictures import Paper, Pictures, Pixels, Shot
from buccaphon.kits.kit import Kind
from buccaphon.mouths.chart import Mouth
from buccaphon.painting.artwork.pixels import IN_FULL
from buccaphon.painting.characters.character import Character
from buccaphon.painting.characters.loading import load
from buccaphon.painting.mouths import paint_mouth, plainly
from buccaphon.painting.pictures.frames import FramePainter, label
from buccaphon.painting.pictures.printing import Print, sheet_pdf
from buccaphon.painting.theme import PAPER

T = TypeVar("T")

_WAIT = 0.1  # seconds after which is looked whether anybody still paints
_FINE = 240  # pixels of a mouth on paper


@dataclass(eq=False)
class _Request:
    paint: Callable[[], Any]
    done: threading.Event = field(default_factory=threading.Event)
    result: Any = None
    problem: BaseException | None = None


class Studio(QObject):
    """Lives in the application's thread. `close` lets nobody wait any longer."""

    _asked = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._closed = False
        self._asked.connect(self._paint)

    def ask(self, paint: Callable[[], T]) -> T:
        """What `paint` gives, called in the application's thread. Raises Cancelled when nobody paints any more."""
        if QThread.currentThread() is self.thread():
            return paint()
        request = _Request(paint)
        self._asked.emit(request)
        while not request.done.wait(_WAIT):
            if self._closed:
                raise Cancelled
        if request.problem is not None:
            raise request.problem
        found: T = request.result
        return found

    def close(self) -> None:
        self._closed = True

    def pictures(self, delivery: Delivery, peaks: Peaks) -> Pictures:
        """Of a delivery, its character's files read anew. Raises KitError."""
        bake, kit = delivery.bake, delivery.kit
        assert bake is not None
        character = load(kit) if kit is not None else None
        in_full = None if kit is None else lambda: load(kit, longest=IN_FULL)
        painter = self.ask(lambda: FramePainter(bake, kit, character, in_full=in_full))
        artwork = None
        if kit is not None and character is not None and kit.kind is not Kind.MODEL:
            width, height = character.size()
            artwork = round(width), round(height)
        take = delivery.source.take if delivery.source is not None else ""

        def frame(number: int, shot: Shot) -> Pixels:
            return self.ask(lambda: painter.pixels(number, shot))

        def sheet(paper: Paper, feet: bool) -> bytes:
            return sheet_pdf(Print(delivery, peaks, self._mouths(character), take, paper, feet))

        def words(left: str, right: str, width: int, height: int) -> Pixels:
            return self.ask(lambda: label(left, right, width, height))

        return Pictures(frame, sheet, words, artwork, lambda: self.ask(painter.pieces))

    def _mouths(self, character: Character | None) -> Callable[[QPainter, Mouth, QRectF], None]:
        """Paints a mouth on paper; a character's are asked for once."""
        kept: dict[tuple[str, int, int], QImage] = {}

        def paint(painter: QPainter, mouth: Mouth, box: QRectF) -> None:
            if character is None or not character.draws(mouth.name):
                paint_mouth(painter, mouth.pose, box, PAPER)
                return
            fine = _FINE / max(box.width(), box.height(), 1.0)
            width, height = round(box.width() * fine), round(box.height() * fine)
            key = (mouth.name, width, height)
            if key not in kept:
                kept[key] = self.ask(lambda: character.mouth_image(mouth, width, height, plainly(PAPER)))
            painter.drawImage(box, kept[key])

        return paint

    def _paint(self, request: _Request) -> None:
        try:
            request.result = request.paint()
        except BaseException as problem:  # it belongs to who asked
            request.problem = problem
        request.done.set()
