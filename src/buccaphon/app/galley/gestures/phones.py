"""In the phones: drag a line between two, or over the sounds to select their words."""

from __future__ import annotations

from buccaphon.app.galley.gestures.boundary import DragBoundary, boundary_near
from buccaphon.app.galley.gestures.gesture import Gesture, Held, Press
from buccaphon.app.galley.layout import Place
from buccaphon.timing import Span


class SelectWords:
    """Drag over the sounds: their words are selected, from strip to strip. A click places the playhead."""

    def __init__(self, press: Press) -> None:
        self._document, self._from = press.document, press.place.seconds
        self._document.player.seek(press.place.seconds)
        self._document.select_nothing()

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        self._document.select_words(Span(*sorted((self._from, place.seconds))))

    def end(self, place: Place) -> None:
        """Nothing is left to do."""


def press_phones(press: Press) -> Gesture:
    boundary = boundary_near(press)
    return DragBoundary(press, boundary) if boundary is not None else SelectWords(press)
