"""Step one: the recording, and the scene it is for."""

from __future__ import annotations

import math

from PyQt6.QtWidgets import QComboBox, QSpinBox

from buccaphon.app.panels.parts import Fields, Panel, button, label
from buccaphon.app.session import Session
from buccaphon.errors import BuccaphonError
from buccaphon.project.edits import SetScene
from buccaphon.timing import FrameRate

RATES = ("12", "23.976", "24", "25", "29.97", "30", "48", "50", "59.94", "60")


class TakePanel(Panel):
    def __init__(self, session: Session) -> None:
        super().__init__("Take")
        self._session = session
        self.name = label("", "hint")
        self.open_button = button("Open a recording…", "WAV, FLAC, AIFF, OGG or MP3 · Ctrl+O")
        self.rate = QComboBox()
        self.rate.setEditable(True)
        self.rate.addItems(RATES)
        self.rate.setToolTip("Frames a second of your scene. Changing it never moves a sound in time.")
        self.start_frame = QSpinBox()
        self.start_frame.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.start_frame.setRange(-100_000, 1_000_000)
        self.start_frame.setToolTip("The number of the scene's first frame")
        self.length, self.format, self.peak, self.output = (label("–", "value") for _ in range(4))
        self._lay_out()
        self.rate.activated.connect(lambda _: self._set_rate())
        self.rate.lineEdit().editingFinished.connect(self._set_rate)
        self.start_frame.valueChanged.connect(lambda number: session.apply(SetScene(start_frame=number)))
        for signal in (session.opened, session.sound_ready, session.changed):
            signal.connect(self.refresh)
        self.refresh()

    def _lay_out(self) -> None:
        self.column.addWidget(self.name)
        self.column.addWidget(self.open_button)
        self.column.addSpacing(6)
        self.column.addWidget(label("The scene", "heading"))
        scene = Fields()
        scene.add("Frames a second", self.rate)
        scene.add("First frame", self.start_frame)
        self.column.addWidget(scene)
        self.column.addSpacing(6)
        self.column.addWidget(label("The sound", "heading"))
        sound = Fields()
        for name, value in (
            ("Length", self.length), ("Format", self.format), ("Peak", self.peak), ("Heard on", self.output),
        ):  # fmt: skip
            sound.add(name, value)
        self.column.addWidget(sound)
        self.column.addStretch(1)

    def refresh(self, _what: object = None) -> None:
        session, state = self._session, self._session.state
        recording = session.recording
        if not self.rate.lineEdit().hasFocus():
            self.rate.setEditText(state.rate.label)
        self.start_frame.setValue(state.start_frame)
        self.output.setText(session.player.device.name)
        if recording is None:
            self.name.setText("Open a recording, or drop one anywhere in the window.")
            return
        self.name.setText(recording.name)
        frames = state.rate.covering(recording.duration)
        self.length.setText(f"{recording.duration:.2f} s, {frames} frames")
        channels = {1: "mono", 2: "stereo"}.get(recording.channels, f"{recording.channels} channels")
        self.format.setText(f"{recording.rate / 1000:g} kHz, {channels}")
        self.peak.setText("silent" if recording.is_silent else f"{20 * math.log10(recording.peak):.1f} dB")

    def _set_rate(self) -> None:
        try:
            rate = FrameRate.parse(self.rate.currentText())
        except BuccaphonError as problem:
            self._session.report(problem)
            self.rate.setEditText(self._session.state.rate.label)
            return
        if rate != self._session.state.rate:
            self._session.apply(SetScene(rate=rate, name=f"Frame rate {rate.label}"))
