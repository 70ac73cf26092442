"""In the words: drag one, or a line between two; click to place the playhead or to select."""

from __future__ import annotations

from buccaphon.app.galley.gestures.boundary import DragBoundary, beside, boundary_near
from buccaphon.app.galley.gestures.gesture import Gesture, Held, PlacePlayhead, Press
from buccaphon.app.galley.gestures.snapping import snap
from buccaphon.app.galley.layout import Place
from buccaphon.app.session.selection import NOTHING, neighbours, words_toggled, words_up_to
from buccaphon.project.edits import Together
from buccaphon.project.edits.timing import MoveWords
from buccaphon.score.records import Score
from buccaphon.texts import _

_CLICK = 4  # pixels that the hand may move while it clicks


class DragWords:
    """A click places the playhead; with Ctrl it adds the word to the selection or takes it out, with Shift all up to it are
    selected. Dragging moves it, or all that are selected with it, as long as they are; they snap unless Ctrl is held."""

    def __init__(self, press: Press, score: Score, number: int) -> None:
        document = press.document
        self._document, self._scale, self._held = document, press.layout.scale, press.held
        self._from, self._number = press.place.seconds, number
        chosen = document.selection.words if number in document.selection.words else (number,)
        self._groups = list(neighbours(chosen))
        self._starts = [score.words[first].start for first, _ in self._groups]
        self._lead = next(n for n, (first, end) in enumerate(self._groups) if first <= number < end)
        self._beside = beside(score, *self._groups[self._lead])
        self._moves = False
        document.project.end_gesture()
        document.player.seek(press.place.seconds)

    def move(self, place: Place, held: Held = Held.NONE) -> None:
        by = place.seconds - self._from
        self._moves = self._moves or abs(by) * self._scale > _CLICK
        if not self._moves:
            return
        at = self._starts[self._lead]
        if not held & Held.CONTROL:
            by = snap(self._document, at + by, self._scale, self._beside) - at
        moves = tuple(
            MoveWords(first, end, start + by) for (first, end), start in zip(self._groups, self._starts, strict=True)
        )
        name = _("Move words") if len(moves) > 1 else moves[0].name
        ordered = moves if by < 0 else moves[::-1]  # each into the room that the one before has left
        self._document.apply(Together(ordered, name=name, gesture=f"words {self._groups}"))
        if self._document.score is not None:
            self._document.player.scrub(self._document.score.words[self._groups[self._lead][0]].start)

    def end(self, place: Place) -> None:
        del place
        document = self._document
        document.project.end_gesture()
        if self._moves:
            return
        if self._held & Held.CONTROL:
            document.select(words_toggled(document.selection, self._number))
        elif self._held & Held.SHIFT:
            document.select(words_up_to(document.selection, self._number))
        else:
            document.select(NOTHING)


def press_words(press: Press) -> Gesture:
    boundary, score = boundary_near(press), press.document.score
    if boundary is not None:
        return DragBoundary(press, boundary)
    number = score.word_at(press.place.seconds) if score else None
    return DragWords(press, score, number) if score and number is not None else PlacePlayhead(press)
