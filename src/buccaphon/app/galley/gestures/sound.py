"""In the sound: drag to scrub by ear; with Shift, to mark what is not speech."""

from __future__ import annotations

from buccaphon.app.galley.gestures.gesture import Gesture, Held, Press
from buccaphon.app.galley.gestures.ruler import LEAST
from buccaphon.app.galley.layout import Place
from buccaphon.project.edits.timing import MarkNotSpeech
from buccaphon.timing import Span


class Scrub:
    """Drag: the playhead follows, and is heard."""

    def __init__(self, press: Press) -> None:
        self._document = press.document
        self._document.select_nothing()
        self._document.player.scrub(press.place.seconds)

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        self._document.player.scrub(place.seconds)

    def end(self, place: Place) -> None:
        """Nothing is left to do."""


class MarkRange:
    """Drag with Shift: from where it began to where it ends is not speech."""

    def __init__(self, press: Press) -> None:
        self._document, self._from = press.document, press.place.seconds

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        self._document.player.loop = self._span(place)
        self._document.selected.emit()

    def end(self, place: Place) -> None:
        self._document.player.loop = None
        self._document.selected.emit()
        if self._span(place).length >= LEAST:
            self._document.apply(MarkNotSpeech(self._span(place)))

    def _span(self, place: Place) -> Span:
        return Span(*sorted((self._from, place.seconds)))


def press_sound(press: Press) -> Gesture:
    return MarkRange(press) if press.held & Held.SHIFT else Scrub(press)
