"""What stands on the page while nothing is open: the next steps, and what was open lately."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from buccaphon.app.settings import RECENT
from buccaphon.app.widgets.parts import button, label
from buccaphon.texts import _

_MOST_RECENT, _ON_THE_PAGE = 20, 5


class EmptyPage(QWidget):
    open_wanted = pyqtSignal()
    demo_wanted = pyqtSignal()
    recent_wanted = pyqtSignal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        title = label(_("An empty page"), "title")
        hint = label(_("Drop a recording anywhere in the window to begin."), "hint")
        open_button = button(_("Open a recording…   Ctrl+O"), _("WAV, FLAC, AIFF, OGG or MP3, or a project"), "main")
        demo_button = button(_("Open the demo   Ctrl+D"), _("Marigold calls out the prices of the day"))
        open_button.clicked.connect(self.open_wanted)
        demo_button.clicked.connect(self.demo_wanted)
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        buttons.addWidget(open_button)
        buttons.addWidget(demo_button)
        buttons.addStretch(1)
        self._recent_title = label(_("Recent"), "heading")
        self.recent = QVBoxLayout()
        column = QVBoxLayout(self)
        column.setSpacing(12)
        column.addStretch(3)
        for part in (title, hint):
            part.setAlignment(Qt.AlignmentFlag.AlignCenter)
            column.addWidget(part)
        column.addLayout(buttons)
        column.addSpacing(14)
        column.addWidget(self._recent_title, 0, Qt.AlignmentFlag.AlignCenter)
        column.addLayout(self.recent)
        column.addStretch(4)

    def refresh(self) -> None:
        """List the projects that were open lately and are still there."""
        while self.recent.count():
            gone = self.recent.takeAt(0).widget()
            if gone is not None:
                gone.deleteLater()
        paths = [path for path in recent_projects() if path.exists()][:_ON_THE_PAGE]
        self._recent_title.setVisible(bool(paths))
        for path in paths:
            row = QPushButton(f"{path.stem}   in {path.parent}")
            row.setProperty("role", "quiet")
            row.clicked.connect(lambda _checked, p=path: self.recent_wanted.emit(p))
            self.recent.addWidget(row, 0, Qt.AlignmentFlag.AlignCenter)


def recent_projects() -> list[Path]:
    """Newest first."""
    return [Path(name) for name in RECENT.read()]


def remember_project(path: Path) -> None:
    known = [path.resolve(), *(other for other in recent_projects() if other != path.resolve())]
    RECENT.write([str(other) for other in known[:_MOST_RECENT]])
