"""Step three: the chart, and how drawings are held."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QPushButton

from buccaphon.app.panels.parts import Fields, Panel, button, label
from buccaphon.app.session import Session
from buccaphon.mouths.chart import shipped_charts
from buccaphon.project.edits.mouths import Unpaint
from buccaphon.project.edits.scene import SetScene
from buccaphon.timing import Span

HOLDS = ((1, "On ones"), (2, "On twos"), (3, "On threes"), (4, "On fours"))


class MouthsPanel(Panel):
    def __init__(self, session: Session) -> None:
        super().__init__("Mouths")
        self._session = session
        self.chart = QComboBox()
        for name, chart in shipped_charts().items():
            self.chart.addItem(f"{name}, {len(chart.mouths)} mouths", name)
        self.about = label("", "hint")
        self.hold = QComboBox()
        for frames, name in HOLDS:
            self.hold.addItem(name, frames)
        self.hold.setToolTip("How many frames each drawing stays at least")
        self.count, self.pace, self.by_hand = (label("–", "value") for _ in range(3))
        self.give_back: QPushButton = button("Give all painted mouths back", "Let the machine choose again everywhere")
        self._lay_out()
        self.chart.activated.connect(
            lambda _: session.apply(SetScene(chart=self.chart.currentData(), name="Choose a chart"))
        )
        self.hold.activated.connect(
            lambda _: session.apply(SetScene(hold=self.hold.currentData(), name=self.hold.currentText()))
        )
        self.give_back.clicked.connect(self._give_back)
        for signal in (session.opened, session.changed, session.sound_ready):
            signal.connect(self.refresh)
        self.refresh()

    def _lay_out(self) -> None:
        fields = Fields()
        fields.add("Chart", self.chart)
        fields.add("Drawings", self.hold)
        self.column.addWidget(fields)
        self.column.addWidget(self.about)
        self.column.addSpacing(6)
        self.column.addWidget(label("On this line", "heading"))
        facts = Fields()
        facts.add("Exposures", self.count)
        facts.add("Changes", self.pace)
        facts.add("Painted", self.by_hand)
        self.column.addWidget(facts)
        self.column.addWidget(self.give_back)
        self.column.addSpacing(6)
        self.column.addWidget(label("By hand", "heading"))
        self.column.addWidget(
            label(
                "Click a mouth in the galley and press the number of another. What is painted stays, whatever is aligned "
                "or changed later. Delete gives it back.",
                "hint",
            )
        )
        self.column.addStretch(1)

    def refresh(self, _what: object = None) -> None:
        state, bake = self._session.state, self._session.bake()
        self.chart.setCurrentIndex(self.chart.findData(state.chart))
        self.hold.setCurrentIndex(self.hold.findData(state.hold))
        self.about.setText(self._session.chart.about)
        self.give_back.setEnabled(bool(state.painted))
        if bake is None:
            for value in (self.count, self.pace, self.by_hand):
                value.setText("–")
            return
        self.count.setText(str(len(bake.exposures)))
        seconds = bake.rate.seconds(bake.frames)
        self.pace.setText(f"{(len(bake.exposures) - 1) / seconds:.1f} a second")
        self.by_hand.setText(str(len(state.painted)))

    def _give_back(self) -> None:
        recording = self._session.recording
        if recording is not None:
            self._session.apply(Unpaint(Span(0.0, recording.duration + 1.0), name="Give all mouths back"))
