"""How loudness is made into motion: what is listened to, from where to where, how quick, and what it reaches."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QVBoxLayout

from buccaphon.app.session.session import Session
from buccaphon.app.style.theme import Theme
from buccaphon.app.widgets.histogram import Histogram
from buccaphon.app.widgets.parts import Fields, button, label, spin
from buccaphon.app.widgets.section import Section
from buccaphon.audio.loudness import BENDS, DEFAULT_LOUDNESS, LONGEST_RISE, Band, LoudnessSettings
from buccaphon.audio.recording import Listen
from buccaphon.project.edits.motion import ChangeLoudness

_BY_ITSELF = 0.0  # percent: the loudest is left unchanged


class LoudnessSection(Section):
    """Every change is seen at once; turning on is one step to undo."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session, self._document = session, session.document
        self._filling = False
        self._levels: object = None
        self._shown: object = None
        self.histogram = Histogram(theme)
        self.band, self.channel = QComboBox(), QComboBox()
        for band in Band:
            self.band.addItem(band.title, band)
        self.band.setToolTip("Which frequencies are used: “the voice” ignores rumble and hiss")
        self.channel.setToolTip("Which channel of the recording is used")
        self.attack = _milliseconds("Attack: longer values open more gently")
        self.release = _milliseconds("Release: longer values close more slowly")
        self.smoothing = _milliseconds("Smooths without delay")
        self.gate_opens = _percent("The gate opens above this")
        self.gate_closes = _percent("The gate closes below this; keep it lower than “Opens above” to avoid flutter")
        self.response = spin(
            "", "", BENDS, 0.1, 2, "The response: below 1 soft sounds open more, above 1 only loud ones do"
        )
        self.peak = _percent("Value reached by the loudest syllable; 0 leaves it unchanged", "unchanged")
        self.loudness_only = QCheckBox("Loudness only")
        self.loudness_only.setToolTip("Mouths and jaw follow loudness even where there are words; the words are kept")
        self.usual = button("Reset to automatic", "Set floor, ceiling and the other values automatically", "quiet")
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        fields = Fields()
        for name, widget in (
            ("Frequencies", self.band),
            ("Channel", self.channel),
            ("Attack", self.attack),
            ("Release", self.release),
            ("Smoothing", self.smoothing),
            ("Gate opens above", self.gate_opens),
            ("Gate closes below", self.gate_closes),
            ("Response", self.response),
            ("Peak value", self.peak),
        ):
            fields.add(name, widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(self.histogram)
        column.addWidget(fields)
        column.addWidget(self.loudness_only)
        column.addWidget(label("Ctrl+L shows it over the wave: raw, mapped, and gated.", "hint"))
        column.addWidget(self.usual)

    def _connect(self) -> None:
        self.histogram.dragged.connect(self._drag)
        self.histogram.let_go.connect(self._let_go)
        self.histogram.freed.connect(self._free)
        self.band.activated.connect(lambda _: self._change(band=self.band.currentData()))
        self.channel.activated.connect(lambda _: self._change(channel=self.channel.currentData()))
        for widget, change in (
            (self.attack, lambda v: {"attack": v / 1000}),
            (self.release, lambda v: {"release": v / 1000}),
            (self.smoothing, lambda v: {"smoothing": v / 1000}),
            (
                self.gate_opens,
                lambda v: {"gate_opens": v / 100, "gate_closes": min(self.loudness_settings.gate_closes, v / 100)},
            ),
            (
                self.gate_closes,
                lambda v: {"gate_closes": v / 100, "gate_opens": max(self.loudness_settings.gate_opens, v / 100)},
            ),
            (self.response, lambda v: {"response": v}),
            (self.peak, lambda v: {"peak": v / 100 if v else None}),
        ):
            widget.valueChanged.connect(self._turned(change))
        self.loudness_only.clicked.connect(lambda on: self._change(loudness_only=on))
        self.usual.clicked.connect(lambda: self._document.attempt(ChangeLoudness(DEFAULT_LOUDNESS)))
        self.follow(self._document.opened, self._document.changed, self._document.sound_ready)

    @property
    def loudness_settings(self) -> LoudnessSettings:
        take = self._document.state.take
        return take.loudness_settings if take is not None else DEFAULT_LOUDNESS

    def _turned(self, change: Callable[[float], dict[str, object]]) -> Callable[[float], None]:
        def turn(value: float) -> None:
            if not self._filling:
                told = change(value)
                self._change(gesture=f"steer {'/'.join(told)}", **told)

        return turn

    def _change(self, gesture: str = "", **told: object) -> None:
        self._document.attempt(ChangeLoudness(replace(self.loudness_settings, **told), gesture=gesture))  # type: ignore[arg-type]

    def _drag(self, number: int, level: float) -> None:
        self._document.attempt(ChangeLoudness(self._with_edge(number, level), gesture="drag loudness"))

    def _with_edge(self, number: int, level: float | None) -> LoudnessSettings:
        return (
            replace(self.loudness_settings, floor=level)
            if number == 0
            else replace(self.loudness_settings, ceiling=level)
        )

    def _let_go(self) -> None:
        self._document.project.end_gesture()

    def _free(self, number: int) -> None:
        self._document.attempt(ChangeLoudness(self._with_edge(number, None)))

    def refresh(self) -> None:
        loudness_settings, derived = self.loudness_settings, self._document.derived
        levels = derived.levels(loudness_settings) if derived is not None else None
        shown = loudness_settings, self._session.moving.channels
        if levels is self._levels and shown == self._shown:
            return  # fields that are set to what they show are painted all the same
        self._shown = shown
        self.setEnabled(derived is not None)
        self._filling = True
        if derived is not None and levels is not None:
            if levels is not self._levels:
                self.histogram.show_levels(levels)
            limits = derived.range(loudness_settings)
            alone = (loudness_settings.floor is None, loudness_settings.ceiling is None)
            self.histogram.show_edges(limits.floor, limits.ceiling, by_itself=alone)
            self._list_sides(self._session.moving.channels)
        self._levels = levels
        self.band.setCurrentIndex(self.band.findData(loudness_settings.band))
        self.channel.setCurrentIndex(self.channel.findData(loudness_settings.channel))
        for widget, value in (
            (self.attack, 1000 * loudness_settings.attack),
            (self.release, 1000 * loudness_settings.release),
            (self.smoothing, 1000 * loudness_settings.smoothing),
            (self.gate_opens, 100 * loudness_settings.gate_opens),
            (self.gate_closes, 100 * loudness_settings.gate_closes),
            (self.response, loudness_settings.response),
            (self.peak, _BY_ITSELF if loudness_settings.peak is None else 100 * loudness_settings.peak),
        ):
            if not widget.hasFocus() or abs(widget.value() - value) > 0.05:
                widget.setValue(value)
        self.loudness_only.setChecked(loudness_settings.loudness_only)
        self.usual.setVisible(loudness_settings != DEFAULT_LOUDNESS)
        self._filling = False

    def _list_sides(self, count: int) -> None:
        if self.channel.count() == count + 2:
            return
        self.channel.clear()
        self.channel.addItem("Same as playback", None)
        self.channel.addItem("All channels, mixed", Listen.MIX)
        names = ["Left", "Right"] if count == 2 else [f"Channel {number + 1}" for number in range(count)]
        for number, name in enumerate(names):
            self.channel.addItem(name, number)


def _milliseconds(hint: str) -> QDoubleSpinBox:
    return spin("", " ms", (0.0, 1000 * LONGEST_RISE), 10.0, 0, hint)


def _percent(hint: str, nothing: str = "") -> QDoubleSpinBox:
    made = spin("", " %", (0.0, 100.0), 1.0, 0, hint)
    if nothing:
        made.setSpecialValueText(nothing)
    return made
