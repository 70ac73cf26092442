"""At the boundaries of words and sounds, in either of their lanes."""

from __future__ import annotations

from buccaphon.app.galley.gestures.gesture import GRAB, Held, Press
from buccaphon.app.galley.gestures.snapping import snap
from buccaphon.app.galley.layout import Place
from buccaphon.app.galley.look import Lane
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.score.edits import Boundary, Inside, boundaries_within
from buccaphon.score.records import Score
from buccaphon.timing import Span


class DragBoundary:
    """Drag a boundary: what is inside stretches; with Alt only the sounds that meet there, with Shift all that follows moves.
    It snaps unless Ctrl is held. One drag is one step to undo; the sound at the boundary is heard."""

    def __init__(self, press: Press, boundary: Boundary) -> None:
        self._document, self._scale, self._boundary = press.document, press.layout.scale, boundary
        self._document.project.end_gesture()
        self._gesture = f"drag {boundary.word}/{boundary.phone}"
        self._beside = beside(self._document.score, boundary.word, boundary.word + 1)

    def move(self, place: Place, held: Held = Held.NONE) -> None:
        document, seconds = self._document, place.seconds
        if not held & Held.CONTROL:
            seconds = snap(document, seconds, self._scale, self._beside)
        inside = Inside.ALONE if held & Held.ALT else Inside.RIPPLE if held & Held.SHIFT else Inside.STRETCH
        if inside is not Inside.STRETCH:  # from where it began, or what has stretched already would stay so
            document.project.cancel_gesture(self._gesture)
        document.apply(MoveBoundary(self._boundary, seconds, inside=inside, gesture=self._gesture))
        document.player.scrub(seconds)

    def end(self, place: Place) -> None:
        del place
        self._document.project.end_gesture()


def beside(score: Score | None, first: int, end: int) -> tuple[float, ...]:
    """Where the word before some words ends, and where the one after them starts."""
    if score is None:
        return ()
    before = (score.words[first - 1].end,) if first else ()
    return (*before, score.words[end].start) if end < len(score.words) else before


def boundary_near(press: Press) -> Boundary | None:
    """The boundary that can be taken at a place: of words in the word lane, of phones in the phone lane."""
    score, place, layout = press.document.score, press.place, press.layout
    if score is None:
        return None
    best, nearest = None, GRAB + 0.01
    reach = GRAB / layout.scale
    for boundary, seconds in boundaries_within(score, Span(place.seconds - reach, place.seconds + reach)):
        if not place.strip.start - 1e-6 <= seconds <= place.strip.end + 1e-6:
            continue
        inner = 0 < boundary.phone < len(score.words[boundary.word].phones)
        distance = abs(layout.x(place.strip, seconds) - press.x)
        if distance < nearest and not (inner and place.lane is Lane.WORDS):
            best, nearest = boundary, distance
    return best


def boundary_grip(press: Press) -> bool:
    return boundary_near(press) is not None
