"""Mouths shown beside those of now, as a thin row: what was there before a setting was changed, or what a fix would make."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.document import Document
from buccaphon.app.timers import later
from buccaphon.motion.record import Bake
from buccaphon.mouths.exposures import Exposure
from buccaphon.project.edits import Edit, Touched
from buccaphon.project.project import Changes
from buccaphon.project.state import State

_WHILE = 8000  # ms that the earlier mouths stay in view


class ComparisonMouths(QObject):
    """row: the mouths beside those of now, none when there are none. called: what they are."""

    shown = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self._document = document
        self.row: tuple[Exposure, ...] = ()
        self.called = ""
        self._last: tuple[State, Bake] | None = None
        self._go = later(self, _WHILE, self.hide)
        document.opened.connect(self._forget)
        document.sound_gone.connect(self._forget)
        document.sound_ready.connect(self._remember)
        document.changed.connect(self._compare)

    def _forget(self) -> None:
        self._last = None
        self.hide()

    def _remember(self) -> None:
        bake = self._document.bake()
        self._last = (self._document.state, bake) if bake is not None else None

    def hide(self) -> None:
        self._go.stop()
        if self.row:
            self.row, self.called = (), ""
            self.shown.emit()

    def _show(self, row: tuple[Exposure, ...], called: str) -> None:
        self.row, self.called = row, called
        self.shown.emit()

    def _compare(self, changes: Changes) -> None:
        """After another setting or chart the mouths of before are kept in view for a while; after anything else they go."""
        before = self._last
        self._remember()
        if self._last is None or before is None:
            return
        (old, old_bake), (state, bake) = before, self._last
        asked_anew = (old.settings_track, old.charts, old.chart) != (state.settings_track, state.charts, state.chart)
        if (
            not changes.touched & Touched.MOUTHS
            or not asked_anew
            or old.rate != state.rate
            or self.row == bake.exposures
        ):
            self.hide()
        elif old_bake.exposures != bake.exposures:
            if self.called != "before" or not self._go.isActive():
                self._show(old_bake.exposures, "before")
            self._go.start()

    def preview(self, fix: Edit | None) -> None:
        """What a fix would make, while the pointer rests on it; None ends that."""
        derived = self._document.derived
        if fix is None or derived is None:
            self.hide()
            return
        self._go.stop()
        self._show(derived.would_be(fix.apply(self._document.state)).exposures, "mended")
