"""The mirror as a window of its own, for another screen."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from buccaphon.app.mirror.face import Face
from buccaphon.app.mirror.film import FilmView
from buccaphon.app.session.session import Session
from buccaphon.painting.theme import Theme
from buccaphon.texts import _


class MirrorWindow(QWidget):
    """The face as large as the window, and the actor's film in step with it."""

    def __init__(self, session: Session, theme: Theme, over: QWidget | None) -> None:
        super().__init__(over, Qt.WindowType.Window)
        self.setWindowTitle(_("Mirror · Buccaphon"))
        self.face = Face(session.document, session.characters, theme, tallest=0)
        self.film = FilmView(session.document, theme)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addWidget(self.face, 1)
        column.addWidget(self.film)
        self.resize(560, 520)
        document = session.document
        for signal in (document.player.moved, document.changed, document.opened, document.sound_ready):
            signal.connect(self._follow)

    def _follow(self, _what: object = None) -> None:
        if self.isVisible():
            self.face.look()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)
