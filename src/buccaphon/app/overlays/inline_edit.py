"""A line to write in, right over the page: notes, words and sounds are written where they belong."""

from __future__ import annotations

from collections.abc import Callable

from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.style.theme import serif
from buccaphon.app.widgets.written_line import WrittenLine

_WIDTH = 260


class InlineEdit(WrittenLine):
    """A line in the galley, over a lane at a moment."""

    def __init__(self, galley: GalleyView) -> None:
        super().__init__(galley.viewport())
        self._galley = galley
        self._done: Callable[[str], None] = lambda _text: None
        self.setFont(serif(17))
        self.taken.connect(self._hand_over)
        self.left.connect(galley.setFocus)

    def ask(self, seconds: float, lane: Lane, name: str, text: str, done: Callable[[str], None]) -> None:
        """Over a lane at a moment, if that is on the page. name: of what is asked for. done: is called with what was
        written."""
        self._galley.show_time(seconds)
        if self._galley.point_at(seconds, lane) is None:
            return
        self._done = done
        self.setPlaceholderText(name)
        self.setAccessibleName(name)
        self.setText(text)
        at = self._galley.point_at(seconds, lane)
        self.resize(_WIDTH, self.sizeHint().height())
        room = self._galley.viewport().width() - _WIDTH - 8
        self.move(max(min(at.x(), room), 8), at.y() - self.height() // 2)
        self.show()
        self.setFocus()
        self.selectAll()

    def _hand_over(self, text: str) -> None:
        self._done(text)
