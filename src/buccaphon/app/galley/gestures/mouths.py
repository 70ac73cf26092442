"""In the mouths: select exposures, or drag the line between two."""

from __future__ import annotations

from buccaphon.app.galley.gestures.gesture import GRAB, Gesture, Held, Press
from buccaphon.app.galley.layout import Place
from buccaphon.app.session.selection import mouths_toggled
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.mouths.grid import Grid
from buccaphon.project.edits import Together
from buccaphon.project.edits.mouths import Paint
from buccaphon.timing import Span


class SelectMouths:
    """Click an exposure to select it, drag over several, from strip to strip as over lines of text. With Ctrl one is added or
    taken out, with Shift all up to it are selected."""

    def __init__(self, press: Press) -> None:
        document = self._document = press.document
        document.player.seek(press.place.seconds)
        selected = document.selected_span
        begins = selected is not None and press.held & Held.SHIFT and document.selection.mouths
        self._from = selected.start if begins and selected else press.place.seconds
        exposure = document.exposure()
        if press.held & Held.CONTROL and exposure is not None:
            document.select(mouths_toggled(document.selection, document.span_of(exposure)))
        else:
            self.move(press.place)

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        self._document.select_mouths(Span(*sorted((self._from, place.seconds))))

    def end(self, place: Place) -> None:
        """Nothing is left to do."""


class DragExposure:
    """Drag the line between two exposures: one grows as the other shrinks, by whole drawings, and both are painted so. A
    click selects the exposure that it falls on."""

    def __init__(self, press: Press, grid: Grid, left: Exposure, right: Exposure) -> None:
        self._document, self._grid, self._left, self._right = press.document, grid, left, right
        self._moved = False
        self._document.project.end_gesture()
        self._document.select_nothing()
        self._gesture = f"edge {left.end}"

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        document, left, right, self._moved = self._document, self._left, self._right, True
        rate, edges = document.state.rate, self._grid.edges
        between = edges[(edges > left.start) & (edges < right.end)]
        frame = int(between[abs(between - rate.frames(place.seconds)).argmin()]) if len(between) else left.end
        document.project.take_back(self._gesture)
        edge = rate.seconds(frame)
        before, after = Span(rate.seconds(left.start), edge), Span(edge, rate.seconds(right.end))
        painted = (Paint(before, left.mouth), Paint(after, right.mouth)) if frame != left.end else ()
        document.apply(Together(painted, name="Move where a mouth changes", gesture=self._gesture))
        document.player.scrub(rate.seconds(frame))

    def end(self, place: Place) -> None:
        self._document.project.end_gesture()
        if not self._moved:
            self._document.player.seek(place.seconds)
            self._document.select_mouths(Span(place.seconds, place.seconds))


def exposures_near(press: Press) -> tuple[Exposure, Exposure] | None:
    """The two exposures that meet where the hand is; of short ones only what lies close to the line."""
    bake = press.document.bake()
    if bake is None:
        return None
    edge = bake.rate.nearest(press.place.seconds)
    left, right = exposure_at(bake.exposures, edge - 1), exposure_at(bake.exposures, edge)
    if left is None or right is None or left.end != edge:
        return None
    shorter = min(left.length, right.length) * press.layout.scale / float(bake.rate.value)
    distance = abs(press.layout.x(press.place.strip, bake.rate.seconds(edge)) - press.x)
    return (left, right) if distance <= min(GRAB, shorter / 4) else None


def press_mouths(press: Press) -> Gesture:
    meeting, bake = None if press.held else exposures_near(press), press.document.bake()
    return DragExposure(press, bake.grid, *meeting) if meeting and bake else SelectMouths(press)


def exposure_grip(press: Press) -> bool:
    return exposures_near(press) is not None
