"""What the hand does in the galley: each press begins a gesture, which gets the moves and the release."""

from __future__ import annotations

from typing import Protocol

from buccaphon.app.galley.layout import Layout, Place
from buccaphon.app.galley.look import Lane
from buccaphon.app.session import Session
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.edits import MarkNotSpeech, MoveBoundary
from buccaphon.score.edits import Boundary, boundaries
from buccaphon.score.records import Score
from buccaphon.timing import Span

GRAB = 5  # pixels around a boundary in which it can be taken
_LOOP_LEAST = 0.04  # seconds; a shorter drag on the ruler was a click


class Gesture(Protocol):
    def move(self, place: Place) -> None: ...
    def end(self, place: Place) -> None: ...


class Scrub:
    """Drag in the sound: the playhead follows, and is heard."""

    def __init__(self, session: Session, place: Place) -> None:
        self._session = session
        session.select(None)
        session.player.scrub(place.seconds)

    def move(self, place: Place) -> None:
        self._session.player.scrub(place.seconds)

    def end(self, place: Place) -> None:
        pass


class PlacePlayhead:
    """Click: the playhead goes there, and an exposure that is hit is selected. Dragging carries it along, silently."""

    def __init__(self, session: Session, place: Place) -> None:
        self._session = session
        session.player.seek(place.seconds)
        bake = session.bake()
        exposure = exposure_at(bake.exposures, bake.rate.containing(place.seconds)) if bake else None
        session.select(session.span_of(exposure) if exposure and place.lane is Lane.MOUTHS else None)

    def move(self, place: Place) -> None:
        self._session.player.seek(place.seconds)

    def end(self, place: Place) -> None:
        pass


class DrawLoop:
    """Drag on the ruler: a loop from where it began to where it ends. A click takes the loop away."""

    def __init__(self, session: Session, place: Place) -> None:
        self._session, self._from = session, place.seconds

    def move(self, place: Place) -> None:
        low, high = sorted((self._from, place.seconds))
        self._session.player.loop = Span(low, high) if high - low >= _LOOP_LEAST else None
        self._session.selected.emit()

    def end(self, place: Place) -> None:
        self.move(place)
        player = self._session.player
        player.loops = player.loop is not None
        player.seek(player.loop.start if player.loop else place.seconds)
        self._session.selected.emit()


class MarkRange:
    """Drag with Shift in the sound: from where it began to where it ends is not speech."""

    def __init__(self, session: Session, place: Place) -> None:
        self._session, self._from = session, place.seconds

    def move(self, place: Place) -> None:
        low, high = sorted((self._from, place.seconds))
        self._session.player.loop = Span(low, high)
        self._session.selected.emit()

    def end(self, place: Place) -> None:
        low, high = sorted((self._from, place.seconds))
        self._session.player.loop = None
        self._session.selected.emit()
        if high - low >= _LOOP_LEAST:
            self._session.apply(MarkNotSpeech(Span(low, high)))


class DragBoundary:
    """Drag a boundary: what is inside stretches. One drag is one step to undo; the sound at the boundary is heard."""

    def __init__(self, session: Session, boundary: Boundary) -> None:
        self._session, self._boundary = session, boundary
        session.project.end_gesture()
        self._name = f"drag {boundary.word}/{boundary.phone}"

    def move(self, place: Place) -> None:
        self._session.apply(MoveBoundary(self._boundary, place.seconds, gesture=self._name))
        self._session.player.scrub(place.seconds)

    def end(self, place: Place) -> None:
        del place
        self._session.project.end_gesture()


def begin(session: Session, layout: Layout, place: Place, x: float, shifted: bool) -> Gesture:
    """The gesture that a press at a place starts. x: in page pixels. shifted: with the Shift key."""
    boundary = boundary_near(session.score, layout, place, x)
    if boundary is not None:
        return DragBoundary(session, boundary)
    if place.lane is Lane.RULER:
        return DrawLoop(session, place)
    if shifted and place.lane in (Lane.SOUND, Lane.SPECTRUM):
        return MarkRange(session, place)
    if place.lane in (Lane.SOUND, Lane.SPECTRUM):
        return Scrub(session, place)
    return PlacePlayhead(session, place)


def boundary_near(score: Score | None, layout: Layout, place: Place, x: float) -> Boundary | None:
    """The boundary that can be taken at a place: of words in the word lane, of phones in the phone lane."""
    if score is None or place.lane not in (Lane.WORDS, Lane.PHONES):
        return None
    best, nearest = None, GRAB + 0.01
    for boundary, seconds in boundaries(score):
        if not place.strip.start - 1e-6 <= seconds <= place.strip.end + 1e-6:
            continue
        inner = 0 < boundary.phone < len(score.words[boundary.word].phones)
        distance = abs(layout.x(place.strip, seconds) - x)
        if distance < nearest and not (inner and place.lane is Lane.WORDS):
            best, nearest = boundary, distance
    return best
