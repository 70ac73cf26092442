"""The sound section of the Take panel: on what it is heard, how loud, and recording a scratch take."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QStandardPaths, Qt
from PyQt6.QtWidgets import QComboBox, QProgressBar, QSlider, QVBoxLayout, QWidget

from buccaphon.app.session.session import Session
from buccaphon.app.sound.inputs import choose_microphone
from buccaphon.app.sound.outputs import choose_device, device_names
from buccaphon.app.sound.recorder import LIMIT, Recorder
from buccaphon.app.timers import every
from buccaphon.app.widgets.parts import Fields, button, label
from buccaphon.texts import _

_LOOK = 2000  # ms between two looks for an output that went away


class SoundSection(QWidget):
    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._document = session, session.document
        self.device = QComboBox()
        self.volume = QSlider(Qt.Orientation.Horizontal)
        self.volume.setRange(0, 100)
        self.volume.setValue(100)
        self.recorder = Recorder(choose_microphone(), self)
        self.record_button = button(
            _("Record a scratch take"), _("Counts in three beats, then records from the microphone")
        )
        self.level = QProgressBar()
        self.level.setRange(0, 1000)
        self.level.setTextVisible(False)
        self.standing = label("", "hint")
        self._lay_out()
        self._list_devices()
        self.device.activated.connect(self._choose)
        self.volume.valueChanged.connect(lambda value: self._document.player.set_volume(value / 100))
        self._missed = ""  # the output that went away, for when it comes back
        self.looking = every(self, _LOOK, self._look_for_missed)
        self._document.player.device_lost.connect(self._miss)
        self.record_button.clicked.connect(self._record_or_stop)
        self.recorder.counted.connect(self._show_count)
        self.recorder.heard.connect(self._show_level)
        self.recorder.finished.connect(self._take_in)

    def _lay_out(self) -> None:
        fields = Fields()
        fields.add(_("Output"), self.device)
        fields.add(_("Volume"), self.volume)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(fields)
        column.addWidget(self.record_button)
        column.addWidget(self.level)
        column.addWidget(self.standing)
        self.level.hide()
        self.standing.hide()

    def _list_devices(self) -> None:
        self.device.clear()
        for name in device_names():
            self.device.addItem(_(name), name)
        self.device.setToolTip(_(self._document.player.device.name))

    def _miss(self, name: str) -> None:
        self._missed = name
        self._list_devices()
        self.looking.start()

    def _look_for_missed(self) -> None:
        """Go back to the output that went away once it is there again, unless another was chosen meanwhile."""
        if self._missed not in device_names():
            return
        self.looking.stop()
        self._document.player.set_device(choose_device(self._missed))
        self._list_devices()
        self.device.setCurrentIndex(self.device.findData(self._missed))
        self._document.said.emit(_("{name} is connected again.", name=self._missed))

    def _choose(self) -> None:
        self.looking.stop()
        self._document.player.set_device(choose_device(self.device.currentData()))
        self.device.setToolTip(_(self._document.player.device.name))

    def _record_or_stop(self) -> None:
        if self.recorder.busy:
            self.recorder.finish()
            return
        self._document.player.stop()
        project = self._document.project.path
        data = QStandardPaths.writableLocation(QStandardPaths.StandardLocation.AppDataLocation)
        self.recorder.begin(project.parent if project else Path(data) / "takes")
        self.record_button.setText(_("Stop recording"))
        self.level.show()
        self.standing.show()

    def _show_count(self, beats: int) -> None:
        self.standing.setText(f"{beats} …" if beats else _("Recording"))

    def _show_level(self, level: float, seconds: float) -> None:
        self.level.setValue(round(1000 * level))
        told = _("Recording, {seconds:.1f} s of at most {limit:.0f} s", seconds=seconds, limit=LIMIT)
        self.standing.setText("  ".join((told, _("Too loud!"))) if level >= 1 else told)

    def _take_in(self, path: Path | None) -> None:
        self.record_button.setText(_("Record a scratch take"))
        self.level.hide()
        self.standing.hide()
        if path is not None:
            self._session.takes.bring_in(path)
