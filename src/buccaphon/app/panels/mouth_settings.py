"""How mouths are chosen, in an animator's words: everywhere, or in what is selected."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.session.document import Document
from buccaphon.app.widgets.parts import Fields, button, label, spin
from buccaphon.mouths.settings import (
    CHANGES,
    HOLD_NAMES,
    LONGEST_LEAD,
    LONGEST_PAUSE,
    LONGEST_SETTLE,
    LONGEST_SHORTEST,
    WIDEST,
    SettingsChange,
    SettingsRange,
)
from buccaphon.project.edits.mouths import ChangeMouthSettings, UseLineSettings
from buccaphon.timing import Span

_FINE = 100  # steps of the slider


class MouthSettingsSection(QWidget):
    """Every change is heard of at once; turning on is one step to undo."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self._filling = False
        self._shown: tuple[object, ...] = ()
        self.scope = label("", "hint")
        self.hold = QComboBox()
        for frames, name in HOLD_NAMES.items():
            self.hold.addItem(f"On {name}", frames)
        self.hold.setToolTip("Minimum number of frames each drawing is held")
        self.lead = self._frames("How many frames mouths come before the sound", LONGEST_LEAD, least=-LONGEST_LEAD)
        self.shortest = self._frames("Shortest time a mouth is shown; contacts may be shorter", LONGEST_SHORTEST)
        self.settle = self._frames("In-between mouth on the way to rest; 0 for none", LONGEST_SETTLE)
        self.changes = spin("", " per second", CHANGES, 0.5, 1, "The eye cannot read more changes than this")
        self.pause = spin("under ", " ms", (0.0, 1000 * LONGEST_PAUSE), 10.0, 0, "Shorter pauses hold the last mouth")
        self.detail = QSlider(Qt.Orientation.Horizontal)
        self.detail.setRange(0, _FINE)
        self.detail.setToolTip("From the most visible sounds only, to every sound")
        self.detail.setAccessibleName("Detail")
        self.skip_quick_sounds = QCheckBox("Skip quick tongue sounds")
        self.skip_quick_sounds.setToolTip("t d n l s z k g between two vowels may be left out")
        self.opening = spin(
            "",
            " %",
            (0.0, 100 * WIDEST),
            5.0,
            0,
            "How wide jaw and lips open in cut-outs and models; drawings and contacts do not change",
        )
        self.louder = spin(
            "",
            " %",
            (0.0, 100 * WIDEST),
            5.0,
            0,
            "How much wider the mouth opens when it is louder; 0 ignores loudness",
        )
        self.stress = spin(
            "",
            " %",
            (0.0, 100 * WIDEST),
            5.0,
            0,
            "How much wider stressed vowels open, and unstressed ones less; 100 % means 10 %",
        )
        self.clear = button("Same as the whole line", "Remove the settings of this range", "quiet")
        self._lay_out()
        self._connect()
        for signal in (document.opened, document.changed, document.selected, document.sound_ready):
            signal.connect(self.refresh)
        self.refresh()

    def _frames(self, hint: str, most: float, least: float = 0.0) -> QDoubleSpinBox:
        return spin("", " frames", (least * 240, most * 240), 0.5, 1, hint)

    def _lay_out(self) -> None:
        fields = Fields()
        for name, widget in (
            ("Hold", self.hold),
            ("Lead", self.lead),
            ("Shortest", self.shortest),
            ("Most changes", self.changes),
            ("Hold over pauses", self.pause),
            ("Come to rest over", self.settle),
            ("Opening", self.opening),
            ("Wider when louder", self.louder),
            ("Wider on stress", self.stress),
        ):
            fields.add(name, widget)
        ends = QHBoxLayout()
        ends.addWidget(label("Main sounds", "field"))
        ends.addWidget(self.detail, 1)
        ends.addWidget(label("Every sound", "field"))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(self.scope)
        column.addWidget(fields)
        column.addLayout(ends)
        column.addWidget(self.skip_quick_sounds)
        column.addWidget(self.clear)

    def _connect(self) -> None:
        self.hold.activated.connect(
            lambda _: self._apply(SettingsChange(hold=self.hold.currentData()), self.hold.currentText())
        )
        for turned, change in (
            (self.lead, lambda value: SettingsChange(lead=self._seconds(value))),
            (self.shortest, lambda value: SettingsChange(shortest=self._seconds(value))),
            (self.settle, lambda value: SettingsChange(settle=self._seconds(value))),
            (self.changes, lambda value: SettingsChange(most_changes=value)),
            (self.pause, lambda value: SettingsChange(pause=value / 1000)),
            (self.opening, lambda value: SettingsChange(opening=value / 100)),
            (self.louder, lambda value: SettingsChange(by_loudness=value / 100)),
            (self.stress, lambda value: SettingsChange(by_stress=value / 100)),
        ):
            turned.valueChanged.connect(partial(self._turned, change))
        self.detail.valueChanged.connect(partial(self._turned, lambda value: SettingsChange(detail=value / _FINE)))
        self.skip_quick_sounds.clicked.connect(
            lambda on: self._apply(
                SettingsChange(skip_quick_sounds=on), "Skip quick tongue sounds" if on else "Show tongue sounds"
            )
        )
        self.clear.clicked.connect(self._be_as_everywhere)

    # --- what it is for ------------------------------------------------------------------------------------------------

    @property
    def span(self) -> Span | None:
        """The stretch that the settings are for; None for everywhere."""
        return self._document.selected_span

    def _seconds(self, frames: float) -> float:
        return self._document.state.rate.seconds(frames)

    def _turned(self, change: Callable[[float], SettingsChange], value: float) -> None:
        if not self._filling:
            made = change(value)
            self._apply(made, gesture=f"turn {'/'.join(made.told)} {self.span}")
            self._shown = ()  # what cannot be is shown as it is kept
            self.refresh()

    def _apply(self, change: SettingsChange, name: str = "", gesture: str = "") -> None:
        here = f"{name} here" if name and self.span else name
        self._document.apply(ChangeMouthSettings(change, self.span, name=here, gesture=gesture))

    def _be_as_everywhere(self) -> None:
        if self.span is not None:
            self._document.apply(UseLineSettings(self.span))

    def show_setting(self, name: str) -> None:
        """Put the hand on one of the settings."""
        getattr(self, name).setFocus()

    # --- showing -------------------------------------------------------------------------------------------------------

    def refresh(self, _what: object = None) -> None:
        state, span = self._document.state, self.span
        shown = (state.mouth_settings, _parts(self._document), span, state.rate, state.take is None)
        if shown == self._shown:
            return
        self._shown = shown
        settings = state.mouth_settings if span is None else state.settings_track.at((span.start + span.end) / 2)
        rate = float(state.rate.value)
        self._filling = True
        self.setEnabled(state.take is not None)
        self.scope.setText(
            "For the whole line. Select mouths or words to give them their own settings."
            if span is None
            else (f"For the selection only ({span.length:.2f} s).")
        )
        self.hold.setCurrentIndex(self.hold.findData(settings.hold))
        for turned, seconds in (
            (self.lead, settings.lead),
            (self.shortest, settings.shortest),
            (self.settle, settings.settle),
        ):
            if not turned.hasFocus() or abs(turned.value() - seconds * rate) > 0.05:
                turned.setValue(round(seconds * rate, 1))
        self.changes.setValue(settings.most_changes)
        self.pause.setValue(1000 * settings.pause)
        self.detail.setValue(round(_FINE * settings.detail))
        self.opening.setValue(100 * settings.opening)
        self.louder.setValue(100 * settings.by_loudness)
        self.stress.setValue(100 * settings.by_stress)
        self.skip_quick_sounds.setChecked(settings.skip_quick_sounds)
        self.clear.setVisible(span is not None and any(part.span.overlap(span) > 0 for part in _parts(self._document)))
        self._filling = False


def _parts(document: Document) -> tuple[SettingsRange, ...]:
    return document.state.take.mouth_ranges if document.state.take else ()
