"""In the mouths: select exposures, or drag the line between two."""

from __future__ import annotations

import numpy as np

from buccaphon.app.galley.gestures.gesture import GRAB, Gesture, Held, Press
from buccaphon.app.galley.layout import Place
from buccaphon.app.session.document import Document
from buccaphon.app.session.selection import Selection, mouths_toggled
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.mouths.grid import Grid
from buccaphon.project.edits import Together
from buccaphon.project.edits.mouths import Paint
from buccaphon.texts import _
from buccaphon.timing import Span


class SelectMouths:
    """Click an exposure to select it, drag over several, from strip to strip as over lines of text; a drag inside one selects
    the frames that it goes over, by whole drawings, with Alt any frames. With Ctrl one is added or taken out, with Shift all
    up to it are selected."""

    def __init__(self, press: Press) -> None:
        document = self._document = press.document
        self._any_frames = bool(press.held & Held.ALT)
        document.player.seek(press.place.seconds)
        selected = document.selected_span
        begins = selected is not None and press.held & Held.SHIFT and document.selection.mouths
        self._from = selected.start if selected is not None and begins else press.place.seconds
        exposure = document.exposure()
        if press.held & Held.CONTROL and exposure is not None:
            document.select(mouths_toggled(document.selection, document.span_of(exposure)))
        else:
            self.move(press.place, press.held)

    def move(self, place: Place, held: Held = Held.NONE) -> None:
        document, bake = self._document, self._document.bake()
        if bake is None:
            return
        over = Span(*sorted((self._from, place.seconds)))
        first, last = bake.rate.containing(over.start), min(bake.rate.containing(over.end), bake.frames - 1)
        is_drag = over.length > bake.rate.seconds(0.5)
        inside = exposure_at(bake.exposures, first) == exposure_at(bake.exposures, last)
        if is_drag and (self._any_frames or held & Held.ALT):
            select_frames(document, first, last + 1)
        elif is_drag and inside:
            edges = bake.grid.edges
            until = min(bake.grid.edge_from(last + 1), bake.grid.cells)
            select_frames(document, int(edges[bake.grid.cell_at(first)]), min(int(edges[until]), bake.frames))
        else:
            document.select_mouths(over)

    def end(self, place: Place) -> None:
        """Nothing is left to do."""


class SelectRows:
    """On the sheet: drag over rows to select exactly these frames, with Shift from those that are selected on. A click puts
    the playhead there and selects nothing."""

    def __init__(self, press: Press) -> None:
        document = self._document = press.document
        selected = document.selected_span
        document.player.seek(press.place.seconds)
        extends = selected is not None and press.held & Held.SHIFT
        self._from = selected.start if selected is not None and extends else press.place.seconds
        if extends:
            self.move(press.place)
        else:
            document.select_nothing()

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        bake = self._document.bake()
        if bake is not None:
            over = Span(*sorted((self._from, place.seconds)))
            first, last = bake.rate.containing(over.start), min(bake.rate.containing(over.end), bake.frames - 1)
            select_frames(self._document, first, last + 1)

    def end(self, place: Place) -> None:
        """Nothing is left to do."""


def select_frames(document: Document, first: int, end: int) -> None:
    """Select the mouths of some frames, whatever exposures they are parts of."""
    rate = document.state.rate
    document.select(Selection(mouths=(Span(rate.seconds(first), rate.seconds(end)),)))


class DragExposure:
    """Drag the line between two exposures: one grows as the other shrinks, by whole drawings, with Alt by any frames, and
    both are painted so. A click selects the exposure that it falls on."""

    def __init__(self, press: Press, grid: Grid, left: Exposure, right: Exposure) -> None:
        self._document, self._grid, self._left, self._right = press.document, grid, left, right
        self._moved = False
        self._document.project.end_gesture()
        self._document.select_nothing()
        self._gesture = f"edge {left.end}"

    def move(self, place: Place, held: Held = Held.NONE) -> None:
        document, left, right, self._moved = self._document, self._left, self._right, True
        rate = document.state.rate
        edges = np.arange(left.start, right.end + 1) if held & Held.ALT else self._grid.edges
        between = edges[(edges > left.start) & (edges < right.end)]
        frame = int(between[abs(between - rate.frames(place.seconds)).argmin()]) if len(between) else left.end
        document.project.cancel_gesture(self._gesture)
        edge = rate.seconds(frame)
        before, after = Span(rate.seconds(left.start), edge), Span(edge, rate.seconds(right.end))
        painted = (Paint(before, left.mouth), Paint(after, right.mouth)) if frame != left.end else ()
        document.apply(Together(painted, name=_("Move where a mouth changes"), gesture=self._gesture))
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
    meeting, bake = None if press.held & ~Held.ALT else exposures_near(press), press.document.bake()
    return DragExposure(press, bake.grid, *meeting) if meeting and bake else SelectMouths(press)


def press_rows(press: Press) -> Gesture:
    """On the sheet, where a row is a frame and so is a step of an edge."""
    meeting, bake = None if press.held else exposures_near(press), press.document.bake()
    return DragExposure(press, Grid.of(bake.frames, 1), *meeting) if meeting and bake else SelectRows(press)


def exposure_grip(press: Press) -> bool:
    return exposures_near(press) is not None
