"""On the ruler: drag to draw a stretch, which loops."""

from __future__ import annotations

from buccaphon.app.galley.gestures.gesture import Held, Press
from buccaphon.app.galley.layout import Place
from buccaphon.timing import Span

LEAST = 0.04  # seconds; a shorter drag was a click


class DrawLoop:
    """Drag on the ruler: a loop from where it began to where it ends, which is what the hand means next. A click takes the
    loop away."""

    def __init__(self, press: Press) -> None:
        self._document, self._from = press.document, press.place.seconds

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        low, high = sorted((self._from, place.seconds))
        self._document.player.loop = Span(low, high) if high - low >= LEAST else None
        self._document.selected.emit()

    def end(self, place: Place) -> None:
        self.move(place)
        player = self._document.player
        player.loops = player.loop is not None
        player.seek(player.loop.start if player.loop else place.seconds)
        self._document.select_nothing()  # what was marked last is meant
        self._document.selected.emit()


class DrawRows(DrawLoop):
    """The same over rows of the sheet: all frames from where it began to where it ends."""

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        rate = self._document.state.rate
        first, last = (rate.containing(moment) for moment in sorted((self._from, place.seconds)))
        is_drag = abs(place.seconds - self._from) >= rate.seconds(0.5)
        self._document.player.loop = Span(rate.seconds(first), rate.seconds(last + 1)) if is_drag else None
        self._document.selected.emit()
