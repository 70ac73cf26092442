"""What the hand does in the galley: each press begins a gesture, which gets the moves and the release."""

from __future__ import annotations

from enum import Flag, auto
from typing import Protocol

from buccaphon.app.galley.layout import Layout, Place
from buccaphon.app.galley.look import Lane
from buccaphon.app.session import Session
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.edits import MarkNotSpeech, MoveBoundary, MoveWord
from buccaphon.score.edits import Boundary, Inside, boundaries, boundary_time
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate, Span

GRAB = 5  # pixels around a boundary in which it can be taken
_SNAP = 3  # pixels
_CLICK = 4  # pixels that the hand may move while it clicks
_LOOP_LEAST = 0.04  # seconds; a shorter drag on the ruler was a click


class Keys(Flag):
    """Keys that are held while the hand moves."""

    NONE = 0
    SHIFT = auto()
    ALT = auto()
    CONTROL = auto()


class Gesture(Protocol):
    def move(self, place: Place, keys: Keys = ...) -> None: ...
    def end(self, place: Place) -> None: ...


class Scrub:
    """Drag in the sound: the playhead follows, and is heard."""

    def __init__(self, session: Session, place: Place) -> None:
        self._session = session
        session.select(None)
        session.player.scrub(place.seconds)

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
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

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
        self._session.player.seek(place.seconds)

    def end(self, place: Place) -> None:
        pass


class DrawLoop:
    """Drag on the ruler: a loop from where it began to where it ends. A click takes the loop away."""

    def __init__(self, session: Session, place: Place) -> None:
        self._session, self._from = session, place.seconds

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
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

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
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
    """Drag a boundary: what is inside stretches; with Alt only the sounds that meet there, with Shift all that follows moves.
    It snaps to frames unless Ctrl is held. One drag is one step to undo; the sound at the boundary is heard."""

    def __init__(self, session: Session, layout: Layout, boundary: Boundary) -> None:
        self._session, self._layout, self._boundary = session, layout, boundary
        self._at = boundary_time(session.score, boundary)
        session.project.end_gesture()
        self._name = f"drag {boundary.word}/{boundary.phone}"

    def move(self, place: Place, keys: Keys = Keys.NONE) -> None:
        seconds = place.seconds
        if not keys & Keys.CONTROL:
            seconds = snapped(seconds, self._session.state.rate, _SNAP / self._layout.scale)
        inside = Inside.ALONE if keys & Keys.ALT else Inside.RIPPLE if keys & Keys.SHIFT else Inside.STRETCH
        if inside is not Inside.STRETCH:  # from where it began, or what has stretched already would stay so
            self._session.project.take_back(self._name)
        self._session.apply(MoveBoundary(self._boundary, seconds, gesture=self._name, inside=inside))
        self._session.player.scrub(seconds)

    def end(self, place: Place) -> None:
        del place
        self._session.project.end_gesture()


class DragWord:
    """A click places the playhead; dragging moves the whole word, as long as it is. It snaps unless Ctrl is held."""

    def __init__(self, session: Session, layout: Layout, place: Place, number: int) -> None:
        self._session, self._layout, self._number = session, layout, number
        self._from, self._start = place.seconds, session.score.words[number].start
        self._moves = False
        session.project.end_gesture()
        session.select(None)
        session.player.seek(place.seconds)

    def move(self, place: Place, keys: Keys = Keys.NONE) -> None:
        by = place.seconds - self._from
        self._moves = self._moves or abs(by) * self._layout.scale > _CLICK
        if not self._moves:
            return
        start = self._start + by
        if not keys & Keys.CONTROL:
            start = snapped(start, self._session.state.rate, _SNAP / self._layout.scale)
        self._session.apply(MoveWord(self._number, start, gesture=f"word {self._number}"))
        self._session.player.scrub(self._session.score.words[self._number].start)

    def end(self, place: Place) -> None:
        del place
        self._session.project.end_gesture()


def begin(session: Session, layout: Layout, place: Place, x: float, shifted: bool) -> Gesture:
    """The gesture that a press at a place starts. x: in page pixels. shifted: with the Shift key."""
    boundary = boundary_near(session.score, layout, place, x)
    if boundary is not None:
        return DragBoundary(session, layout, boundary)
    if place.lane is Lane.RULER:
        return DrawLoop(session, place)
    if shifted and place.lane in (Lane.SOUND, Lane.SPECTRUM):
        return MarkRange(session, place)
    if place.lane in (Lane.SOUND, Lane.SPECTRUM):
        return Scrub(session, place)
    number = session.score.word_at(place.seconds) if session.score and place.lane is Lane.WORDS else None
    if number is not None:
        return DragWord(session, layout, place, number)
    return PlacePlayhead(session, place)


def snapped(seconds: float, rate: FrameRate, within: float) -> float:
    """A moment brought to the nearest frame, if that is near."""
    frame = rate.seconds(rate.nearest(seconds))
    return frame if abs(frame - seconds) <= within else seconds


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
