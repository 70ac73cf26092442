"""What is dragged over the window: what will come of it is told while it hovers, and done when it is let go."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QLabel, QWidget

from buccaphon.app.session.dropping import what_they_are
from buccaphon.texts import _

_SIDES = 40  # pixels that stay free at either side


class Dropping(QLabel):
    """A strip over the head of the pages while something hovers."""

    def __init__(self, over: QWidget, open_all: Callable[[Sequence[Path], float | None], None]) -> None:
        super().__init__(over)
        self._open_all = open_all
        self.setObjectName("notice")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setMargin(14)
        self.setWordWrap(True)
        self.hide()

    def enter(self, event: QDragEnterEvent) -> None:
        """Any file is taken, so that the reason can be told why one cannot be opened."""
        paths = paths_in(event)
        if not paths:
            return
        dropped = what_they_are(paths)
        self.setText(_("Let go to do this: {says}", says=dropped.says) if dropped.can_be_opened else dropped.says)
        width = min(self.parentWidget().width() - _SIDES, 640)
        self.resize(width, self.heightForWidth(width))
        self.move((self.parentWidget().width() - width) // 2, 24)
        self.show()
        self.raise_()
        event.acceptProposedAction()

    def drop(self, event: QDropEvent) -> None:
        self.hide()
        paths = paths_in(event)
        if paths:
            event.acceptProposedAction()
            from_start = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            self._open_all(paths, 0.0 if from_start else None)


def paths_in(event: QDropEvent) -> list[Path]:
    """The files and folders that are dragged."""
    data = event.mimeData()
    return [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()] if data else []
