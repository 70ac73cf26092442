"""Step three: the chart, how its mouths are chosen, and what would be sent back."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QPushButton

from buccaphon.app.panels.issues import IssuesSection
from buccaphon.app.panels.mouth_settings import MouthSettingsSection
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.parts import Fields, Panel, button, label, quiet_row
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.laying import far_from_painted
from buccaphon.project.edits.mouths import Unpaint
from buccaphon.project.edits.scene import SetScene
from buccaphon.texts import _, ngettext
from buccaphon.timing import Span


class MouthsPanel(Panel):
    def __init__(self, session: Session) -> None:
        super().__init__(_("Mouths"))
        self._document = session.document
        self.chart = QComboBox()
        self.about = label("", "hint")
        self.chart_button = button(_("Edit chart"), _("Edit the chart or create your own · F6"), "quiet")
        self.character = label("", "value")
        self.kit_button = button(
            _("Character and names"), _("Add and set up a character, and match host names · F8"), "quiet"
        )
        self.mouth_settings, self.issues = MouthSettingsSection(session.document), IssuesSection(session)
        self.count, self.pace, self.by_hand = (label("–", "value") for _ in range(3))
        self.give_back: QPushButton = button(_("Reset all painted mouths"), _("Choose every mouth automatically again"))
        self._lay_out()
        self.chart.activated.connect(lambda _value: self._choose(self.chart.currentData()))
        self.give_back.clicked.connect(self._give_back)
        for signal in (self._document.opened, self._document.changed, self._document.sound_ready):
            signal.connect(self.refresh)
        self.refresh()

    def _lay_out(self) -> None:
        fields = Fields()
        fields.add(_("Chart"), self.chart)
        self.column.addWidget(fields)
        self.column.addWidget(self.about)
        self.column.addLayout(quiet_row(self.chart_button))
        shown_by = Fields()
        shown_by.add(_("Character"), self.character)
        self.column.addWidget(shown_by)
        self.column.addLayout(quiet_row(self.kit_button))
        self.column.addWidget(self.issues)
        self.column.addSpacing(6)
        self.column.addWidget(label(_("Mouth settings"), "heading"))
        self.column.addWidget(self.mouth_settings)
        self.column.addSpacing(6)
        self.column.addWidget(label(_("On this line"), "heading"))
        facts = Fields()
        facts.add(_("Exposures"), self.count)
        facts.add(_("Changes"), self.pace)
        facts.add(_("Painted"), self.by_hand)
        self.column.addWidget(facts)
        self.column.addWidget(self.give_back)
        self.column.addSpacing(6)
        self.column.addWidget(label(_("By hand"), "heading"))
        self.column.addWidget(
            label(
                _(
                    "Click a mouth in the galley and press the number of another. Painted mouths stay when the "
                    "line is aligned or changed later. Delete resets them to automatic."
                ),
                "hint",
            )
        )
        self.column.addStretch(1)

    def refresh(self, _what: object = None) -> None:
        state, bake = self._document.state, self._document.bake()
        self._list_charts()
        self.chart.setCurrentIndex(self.chart.findData(state.chart))
        self.about.setText(self._document.chart.about)
        self.character.setText(state.kit or _("Marigold, by poses"))
        self.give_back.setEnabled(bool(state.painted))
        self.chart.setEnabled(state.take is not None)
        if bake is None:
            for value in (self.count, self.pace, self.by_hand):
                value.setText("–")
            return
        self.count.setText(str(len(bake.exposures)))
        seconds = bake.rate.seconds(bake.frames)
        self.pace.setText(_("{count:.1f} changes per second", count=(len(bake.exposures) - 1) / seconds))
        self.by_hand.setText(str(len(state.painted)))

    def _choose(self, chart: str) -> None:
        """Another chart. Of painted mouths that it has nothing like, what stands for them is told."""
        self._document.apply(SetScene(chart=chart, name=_("Choose a chart")))
        far = far_from_painted(self._document.state.painted, self._document.chart)
        if far:
            told = ", ".join(_("{other} for {name}", other=stand, name=name) for name, stand in far)
            self._document.said.emit(
                _(
                    "Chart {chart} has no close match for some painted mouths; it shows {told} instead.",
                    chart=chart,
                    told=told,
                )
            )

    def _list_charts(self) -> None:
        """Those that ship, and the project's own."""
        charts = {**shipped_charts(), **{chart.name: chart for chart in self._document.state.charts}}
        listed = [
            (ngettext("{name}, {count} mouth", "{name}, {count} mouths", len(chart.mouths), name=name), name)
            for name, chart in charts.items()
        ]
        if listed != [(self.chart.itemText(row), self.chart.itemData(row)) for row in range(self.chart.count())]:
            self.chart.clear()
            for text, name in listed:
                self.chart.addItem(text, name)

    def _give_back(self) -> None:
        recording = self._document.recording
        if recording is not None:
            self._document.apply(Unpaint(Span(0.0, recording.duration + 1.0), name=_("Reset all mouths")))
