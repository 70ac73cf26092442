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
from buccaphon.audio.loudness import BENDS, LONGEST_RISE, USUAL_STEERING, Band, Steering
from buccaphon.audio.recording import Listen
from buccaphon.project.edits.motion import SetSteering

_BY_ITSELF = 0.0  # percent: the loudest is left as it is


class SteeringSection(Section):
    """Every change is seen at once; turning on is one step to undo."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session, self._document = session, session.document
        self._filling = False
        self._levels: object = None
        self._shown: object = None
        self.histogram = Histogram(theme)
        self.band, self.side = QComboBox(), QComboBox()
        for band in Band:
            self.band.addItem(band.value.capitalize(), band)
        self.band.setToolTip("Which heights of the sound count: the voice alone leaves rumble and hiss out")
        self.side.setToolTip("Which channel of the recording counts")
        self.attack = _milliseconds("How long it takes to rise: longer opens softly")
        self.release = _milliseconds("How long it takes to fall: longer lets it linger")
        self.smoothing = _milliseconds("Evens it to both sides, without coming late")
        self.opens = _percent("The gate opens above this")
        self.shuts = _percent("And shuts again below this: lower, so that it does not flutter")
        self.bend = spin(
            "", "", BENDS, 0.1, 2, "The response: below 1 soft sounds open more, above 1 only loud ones do"
        )
        self.reaches = _percent("What the loudest syllable comes to; 0 leaves it as it is", "as it is")
        self.alone = QCheckBox("Loudness alone drives")
        self.alone.setToolTip("Mouths and jaw follow loudness also where there are words; the words stay")
        self.usual = button("As it was found", "Floor, ceiling and all the rest by themselves again", "quiet")
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        fields = Fields()
        for name, widget in (
            ("Listens to", self.band),
            ("Channel", self.side),
            ("Rises in", self.attack),
            ("Falls in", self.release),
            ("Evened over", self.smoothing),
            ("Opens above", self.opens),
            ("Shuts below", self.shuts),
            ("Response", self.bend),
            ("Loudest reaches", self.reaches),
        ):
            fields.add(name, widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(self.histogram)
        column.addWidget(fields)
        column.addWidget(self.alone)
        column.addWidget(label("Ctrl+L shows it over the wave: raw, mapped, and gated.", "hint"))
        column.addWidget(self.usual)

    def _connect(self) -> None:
        self.histogram.dragged.connect(self._drag)
        self.histogram.let_go.connect(self._let_go)
        self.histogram.freed.connect(self._free)
        self.band.activated.connect(lambda _: self._change(band=self.band.currentData()))
        self.side.activated.connect(lambda _: self._change(side=self.side.currentData()))
        for widget, change in (
            (self.attack, lambda v: {"attack": v / 1000}),
            (self.release, lambda v: {"release": v / 1000}),
            (self.smoothing, lambda v: {"smoothing": v / 1000}),
            (self.opens, lambda v: {"opens": v / 100, "shuts": min(self.steering.shuts, v / 100)}),
            (self.shuts, lambda v: {"shuts": v / 100, "opens": max(self.steering.opens, v / 100)}),
            (self.bend, lambda v: {"bend": v}),
            (self.reaches, lambda v: {"reaches": v / 100 if v else None}),
        ):
            widget.valueChanged.connect(self._turned(change))
        self.alone.clicked.connect(lambda on: self._change(alone=on))
        self.usual.clicked.connect(lambda: self._document.attempt(SetSteering(USUAL_STEERING)))
        self.follow(self._document.opened, self._document.changed, self._document.sound_ready)

    @property
    def steering(self) -> Steering:
        take = self._document.state.take
        return take.steering if take is not None else USUAL_STEERING

    def _turned(self, change: Callable[[float], dict[str, object]]) -> Callable[[float], None]:
        def turn(value: float) -> None:
            if not self._filling:
                told = change(value)
                self._change(gesture=f"steer {'/'.join(told)}", **told)

        return turn

    def _change(self, gesture: str = "", **told: object) -> None:
        self._document.attempt(SetSteering(replace(self.steering, **told), gesture=gesture))  # type: ignore[arg-type]

    def _drag(self, number: int, level: float) -> None:
        self._document.attempt(SetSteering(self._with_edge(number, level), gesture="drag loudness"))

    def _with_edge(self, number: int, level: float | None) -> Steering:
        return replace(self.steering, floor=level) if number == 0 else replace(self.steering, ceiling=level)

    def _let_go(self) -> None:
        self._document.project.end_gesture()

    def _free(self, number: int) -> None:
        self._document.attempt(SetSteering(self._with_edge(number, None)))

    def refresh(self) -> None:
        steering, derived = self.steering, self._document.derived
        levels = derived.levels(steering) if derived is not None else None
        shown = steering, self._session.moving.channels
        if levels is self._levels and shown == self._shown:
            return  # fields that are set to what they show are painted all the same
        self._shown = shown
        self.setEnabled(derived is not None)
        self._filling = True
        if derived is not None and levels is not None:
            if levels is not self._levels:
                self.histogram.show_levels(levels)
            limits = derived.range(steering)
            alone = (steering.floor is None, steering.ceiling is None)
            self.histogram.show_edges(limits.floor, limits.ceiling, by_itself=alone)
            self._list_sides(self._session.moving.channels)
        self._levels = levels
        self.band.setCurrentIndex(self.band.findData(steering.band))
        self.side.setCurrentIndex(self.side.findData(steering.side))
        for widget, value in (
            (self.attack, 1000 * steering.attack),
            (self.release, 1000 * steering.release),
            (self.smoothing, 1000 * steering.smoothing),
            (self.opens, 100 * steering.opens),
            (self.shuts, 100 * steering.shuts),
            (self.bend, steering.bend),
            (self.reaches, _BY_ITSELF if steering.reaches is None else 100 * steering.reaches),
        ):
            if not widget.hasFocus() or abs(widget.value() - value) > 0.05:
                widget.setValue(value)
        self.alone.setChecked(steering.alone)
        self.usual.setVisible(steering != USUAL_STEERING)
        self._filling = False

    def _list_sides(self, count: int) -> None:
        if self.side.count() == count + 2:
            return
        self.side.clear()
        self.side.addItem("As heard", None)
        self.side.addItem("All, mixed", Listen.MIX)
        names = ["Left", "Right"] if count == 2 else [f"Channel {number + 1}" for number in range(count)]
        for number, name in enumerate(names):
            self.side.addItem(name, number)


def _milliseconds(hint: str) -> QDoubleSpinBox:
    return spin("", " ms", (0.0, 1000 * LONGEST_RISE), 10.0, 0, hint)


def _percent(hint: str, nothing: str = "") -> QDoubleSpinBox:
    made = spin("", " %", (0.0, 100.0), 1.0, 0, hint)
    if nothing:
        made.setSpecialValueText(nothing)
    return made
