"""A line to write a note in, right where it belongs."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit

from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.view import GalleyView
from buccaphon.project.edits import PutNote
from buccaphon.timing import Span

_WIDTH = 260


class NoteEdit(QLineEdit):
    """Return writes it, Esc leaves it, an empty one takes the note away."""

    def __init__(self, galley: GalleyView) -> None:
        super().__init__(galley.viewport())
        self._galley, self._span = galley, Span(0.0, 0.0)
        self.setPlaceholderText("A note")
        self.setAccessibleName("Note")
        self.returnPressed.connect(self._write)
        self.hide()

    def ask(self, span: Span) -> None:
        """For a stretch of time; what is written there already can be changed."""
        session = self._galley.session
        notes = session.state.take.notes if session.state.take else ()
        known = next((note for note in notes if span.start - 1e-6 <= note.span.start < span.end), None)
        self._span = known.span if known else span
        self.setText(known.text if known else "")
        at = self._galley.point_at(self._span.start, Lane.JAW)
        self.resize(_WIDTH, self.sizeHint().height())
        room = self._galley.viewport().width() - _WIDTH - 8
        self.move(max(min(at.x(), room), 8), at.y())
        self.show()
        self.setFocus()
        self.selectAll()

    def _write(self) -> None:
        self._galley.session.apply(PutNote(self._span, self.text().strip()))
        self._leave()

    def _leave(self) -> None:
        self.hide()
        self._galley.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._leave()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.hide()
