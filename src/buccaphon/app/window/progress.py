"""The strip of progress at the foot: what is under way, how far it is, and a way to stop it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QWidget

from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.timers import later
from buccaphon.texts import _

_PATIENCE = 300  # ms; what takes no longer is not worth a strip that comes and goes


class ProgressStrip(QWidget):
    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self.setObjectName("progress")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._jobs = jobs
        self.text, self.bar = QLabel(), QProgressBar()
        self.text.setProperty("role", "hint")
        self.bar.setRange(0, 100)
        self.bar.setTextVisible(False)
        self.cancel_button = QPushButton(_("Cancel"))
        self.cancel_button.setProperty("role", "quiet")
        self.cancel_button.setToolTip(_("Cancel and change nothing · Esc"))
        self.cancel_button.clicked.connect(jobs.cancel_shown)
        row = QHBoxLayout(self)
        row.setContentsMargins(18, 3, 10, 3)
        row.addWidget(self.text)
        row.addWidget(self.bar, 1)
        row.addWidget(self.cancel_button)
        self._soon = later(self, _PATIENCE, self.show)
        jobs.changed.connect(self.refresh)
        jobs.progressed.connect(self.refresh)
        self.hide()

    def refresh(self) -> None:
        running = self._jobs.shown
        if not running:
            self._soon.stop()
            self.hide()
            return
        if not self.isVisible() and not self._soon.isActive():
            self._soon.start()
        job = running[0]
        told = [f"{job.what or job.name} …"]
        if len(running) > 1:
            told.append(_("and {count} more", count=len(running) - 1))
        self.text.setText("   ".join(told))
        self.bar.setValue(round(100 * job.share))
        self.cancel_button.setVisible(any(each.slot is not Slot.SAVE for each in running))
