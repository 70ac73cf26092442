"""What the hand does in the galley: each press begins a gesture, which gets the moves and the release."""

from __future__ import annotations

from enum import Flag, auto
from typing import Protocol

from buccaphon.app.galley.layout import Layout, Place
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.snapping import snapped
from buccaphon.app.selection import NOTHING, mouths_toggled, neighbours, words_toggled, words_up_to
from buccaphon.app.session import Session
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.project.edits import Together
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.timing import MarkNotSpeech, MoveBoundary, MoveWords
from buccaphon.score.edits import Boundary, Inside, boundaries_within, boundary_time
from buccaphon.score.records import Score
from buccaphon.timing import Span

GRAB = 5  # pixels around a boundary in which it can be taken
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
        session.select(NOTHING)
        session.player.scrub(place.seconds)

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
        self._session.player.scrub(place.seconds)

    def end(self, place: Place) -> None:
        pass


class PlacePlayhead:
    """Click: the playhead goes there. Dragging carries it along, silently."""

    def __init__(self, session: Session, place: Place) -> None:
        self._session = session
        session.player.seek(place.seconds)
        session.select(NOTHING)

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
        self._session.player.seek(place.seconds)

    def end(self, place: Place) -> None:
        pass


class SelectMouths:
    """Click an exposure to select it, drag over several, from strip to strip as over lines of text. With Ctrl one is added or
    taken out, with Shift all up to it are selected."""

    def __init__(self, session: Session, place: Place, keys: Keys) -> None:
        self._session = session
        session.player.seek(place.seconds)
        self._from = session.selected_span.start if keys & Keys.SHIFT and session.selection.mouths else place.seconds
        exposure = session.exposure()
        if keys & Keys.CONTROL and exposure is not None:
            session.select(mouths_toggled(session.selection, session.span_of(exposure)))
        else:
            self.move(place)

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
        self._session.select_mouths(Span(*sorted((self._from, place.seconds))))

    def end(self, place: Place) -> None:
        pass


class SelectWords:
    """Drag over the sounds: their words are selected, from strip to strip. A click places the playhead."""

    def __init__(self, session: Session, place: Place) -> None:
        self._session, self._from = session, place.seconds
        session.player.seek(place.seconds)
        session.select(NOTHING)

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
        self._session.select_words(Span(*sorted((self._from, place.seconds))))

    def end(self, place: Place) -> None:
        pass


class DragExposure:
    """Drag the line between two exposures: one grows as the other shrinks, by whole drawings, and both are painted so. A
    click selects the exposure that it falls on."""

    def __init__(self, session: Session, left: Exposure, right: Exposure) -> None:
        self._session, self._left, self._right, self._moved = session, left, right, False
        session.project.end_gesture()
        session.select(NOTHING)
        self._gesture = f"edge {left.end}"

    def move(self, place: Place, _keys: Keys = Keys.NONE) -> None:
        session, left, right, self._moved = self._session, self._left, self._right, True
        rate, hold = session.state.rate, session.state.hold
        frame = hold * round(rate.frames(place.seconds) / hold)
        frame = min(max(frame, left.start + hold), right.end - hold)
        session.project.take_back(self._gesture)
        edge = rate.seconds(frame)
        before, after = Span(rate.seconds(left.start), edge), Span(edge, rate.seconds(right.end))
        painted = (Paint(before, left.mouth), Paint(after, right.mouth)) if frame != left.end else ()
        session.apply(Together(painted, "Move where a mouth changes", self._gesture))
        session.player.scrub(rate.seconds(frame))

    def end(self, place: Place) -> None:
        self._session.project.end_gesture()
        if not self._moved:
            self._session.player.seek(place.seconds)
            self._session.select_mouths(Span(place.seconds, place.seconds))


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
    It snaps unless Ctrl is held. One drag is one step to undo; the sound at the boundary is heard."""

    def __init__(self, session: Session, layout: Layout, boundary: Boundary) -> None:
        self._session, self._layout, self._boundary = session, layout, boundary
        self._at = boundary_time(session.score, boundary)
        session.project.end_gesture()
        self._name = f"drag {boundary.word}/{boundary.phone}"
        self._beside = beside(session.score, boundary.word, boundary.word + 1)

    def move(self, place: Place, keys: Keys = Keys.NONE) -> None:
        seconds = place.seconds
        if not keys & Keys.CONTROL:
            seconds = snapped(self._session, seconds, self._layout.scale, self._beside)
        inside = Inside.ALONE if keys & Keys.ALT else Inside.RIPPLE if keys & Keys.SHIFT else Inside.STRETCH
        if inside is not Inside.STRETCH:  # from where it began, or what has stretched already would stay so
            self._session.project.take_back(self._name)
        self._session.apply(MoveBoundary(self._boundary, seconds, gesture=self._name, inside=inside))
        self._session.player.scrub(seconds)

    def end(self, place: Place) -> None:
        del place
        self._session.project.end_gesture()


class DragWords:
    """A click places the playhead; with Ctrl it adds the word to the selection or takes it out, with Shift all up to it are
    selected. Dragging moves it, or all that are selected with it, as long as they are; they snap unless Ctrl is held."""

    def __init__(self, session: Session, layout: Layout, place: Place, number: int, keys: Keys) -> None:
        self._session, self._layout, self._from, self._number, self._keys = session, layout, place.seconds, number, keys
        chosen = session.selection.words if number in session.selection.words else (number,)
        self._groups = list(neighbours(chosen))
        self._starts = [session.score.words[first].start for first, _ in self._groups]
        self._lead = next(n for n, (first, end) in enumerate(self._groups) if first <= number < end)
        self._beside = beside(session.score, *self._groups[self._lead])
        self._moves = False
        session.project.end_gesture()
        session.player.seek(place.seconds)

    def move(self, place: Place, keys: Keys = Keys.NONE) -> None:
        by = place.seconds - self._from
        self._moves = self._moves or abs(by) * self._layout.scale > _CLICK
        if not self._moves:
            return
        at = self._starts[self._lead]
        if not keys & Keys.CONTROL:
            by = snapped(self._session, at + by, self._layout.scale, self._beside) - at
        moves = tuple(
            MoveWords(first, end, start + by) for (first, end), start in zip(self._groups, self._starts, strict=True)
        )
        name = "Move words" if len(moves) > 1 else moves[0].name
        ordered = moves if by < 0 else moves[::-1]  # each into the room that the one before has left
        self._session.apply(Together(ordered, name, f"words {self._groups}"))
        self._session.player.scrub(self._session.score.words[self._groups[self._lead][0]].start)

    def end(self, place: Place) -> None:
        del place
        self._session.project.end_gesture()
        if self._moves:
            return
        selection = self._session.selection
        if self._keys & Keys.CONTROL:
            self._session.select(words_toggled(selection, self._number))
        else:
            self._session.select(words_up_to(selection, self._number) if self._keys & Keys.SHIFT else NOTHING)


def begin(session: Session, layout: Layout, place: Place, x: float, keys: Keys) -> Gesture:  # noqa: PLR0911
    """The gesture that a press at a place starts. x: in page pixels."""
    boundary = boundary_near(session.score, layout, place, x)
    if boundary is not None:
        return DragBoundary(session, layout, boundary)
    if place.lane is Lane.RULER:
        return DrawLoop(session, place)
    if place.lane in (Lane.SOUND, Lane.SPECTRUM):
        return MarkRange(session, place) if keys & Keys.SHIFT else Scrub(session, place)
    if place.lane is Lane.MOUTHS:
        meeting = None if keys else exposures_near(session, layout, place, x)
        return DragExposure(session, *meeting) if meeting else SelectMouths(session, place, keys)
    if place.lane is Lane.PHONES:
        return SelectWords(session, place)
    number = session.score.word_at(place.seconds) if session.score and place.lane is Lane.WORDS else None
    if number is not None:
        return DragWords(session, layout, place, number, keys)
    return PlacePlayhead(session, place)


def beside(score: Score, first: int, end: int) -> tuple[float, ...]:
    """Where the word before some words ends, and where the one after them starts."""
    before = (score.words[first - 1].end,) if first else ()
    return (*before, score.words[end].start) if end < len(score.words) else before


def exposures_near(session: Session, layout: Layout, place: Place, x: float) -> tuple[Exposure, Exposure] | None:
    """The two exposures that meet where the hand is; of short ones only what lies close to the line."""
    bake = session.bake()
    if bake is None or place.lane is not Lane.MOUTHS:
        return None
    edge = bake.rate.nearest(place.seconds)
    left, right = exposure_at(bake.exposures, edge - 1), exposure_at(bake.exposures, edge)
    if left is None or right is None or left.end != edge:
        return None
    shorter = min(left.length, right.length) * layout.scale / float(bake.rate.value)
    distance = abs(layout.x(place.strip, bake.rate.seconds(edge)) - x)
    return (left, right) if distance <= min(GRAB, shorter / 4) else None


def boundary_near(score: Score | None, layout: Layout, place: Place, x: float) -> Boundary | None:
    """The boundary that can be taken at a place: of words in the word lane, of phones in the phone lane."""
    if score is None or place.lane not in (Lane.WORDS, Lane.PHONES):
        return None
    best, nearest = None, GRAB + 0.01
    reach = GRAB / layout.scale
    for boundary, seconds in boundaries_within(score, Span(place.seconds - reach, place.seconds + reach)):
        if not place.strip.start - 1e-6 <= seconds <= place.strip.end + 1e-6:
            continue
        inner = 0 < boundary.phone < len(score.words[boundary.word].phones)
        distance = abs(layout.x(place.strip, seconds) - x)
        if distance < nearest and not (inner and place.lane is Lane.WORDS):
            best, nearest = boundary, distance
    return best
