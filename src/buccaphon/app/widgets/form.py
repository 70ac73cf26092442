"""The fields of a record's settings, made from their declarations: filled, turned, dragged, reset.

A field says what was changed by hand; filling it says nothing. A number is typed, stepped by wheel and arrow keys, or dragged
sideways by its label. What differs from the automatic value has a mark beside it; a click on the mark resets it.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import (
    QAbstractSpinBox,
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QSizePolicy,
    QSlider,
    QSpinBox,
    QToolButton,
    QWidget,
)

from buccaphon.app.widgets.parts import label
from buccaphon.setting import Setting
from buccaphon.texts import _
from buccaphon.timing import FrameRate

_FINE = 100  # steps of a slider
_A_STEP = 6  # pixels of a sideways drag
_LEAST_WIDTH = 72  # pixels of an input
_MARK, _NUMBER = 10, 32  # pixels

Input = QDoubleSpinBox | QComboBox | QCheckBox | QSlider | QLineEdit


class Form(QWidget):
    """changed: a setting's name, and its value as it is to be stored. let_go: a drag, or typing, has ended: what was changed
    since is one step. reset: the name of a setting that is to be automatic again."""

    changed = pyqtSignal(str, object)
    let_go = pyqtSignal()
    reset = pyqtSignal(str)

    def __init__(self, settings: Mapping[str, Setting], parent: QWidget | None = None, columns: int = 1) -> None:
        super().__init__(parent)
        self.settings = dict(settings)
        self._rows = math.ceil(len(self.settings) / columns)
        self.inputs: dict[str, Input] = {}
        self._labels: dict[str, QLabel] = {}
        self.numbers: dict[str, QSpinBox] = {}
        self._marks: dict[str, QToolButton] = {}
        self._rate: FrameRate | None = None
        self._is_filling = self._has_room_for_marks = False
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(7)
        for number, (name, each) in enumerate(self.settings.items()):
            self._add(name, each, number % self._rows, 3 * (number // self._rows))

    # --- making --------------------------------------------------------------------------------------------------------

    def _add(self, name: str, setting: Setting, row: int, column: int) -> None:
        made = self._input(name, setting)
        ends = f" ({_(setting.ends[0])} – {_(setting.ends[1])})" if setting.ends and setting.ends[1] else ""
        made.setToolTip(_(setting.hint) + ends)
        if not isinstance(made, QCheckBox | QSlider):
            made.setMinimumWidth(_LEAST_WIDTH)
        made.setAccessibleName(setting.name)
        made.setProperty("words", setting.words)
        self.inputs[name] = made
        mark = self._marks[name] = self._mark(name)
        self._grid.setColumnStretch(column + 1, 1)
        self._grid.addWidget(mark, row, column + 2)
        if isinstance(made, QCheckBox):
            self._grid.addWidget(made, row, column, 1, 2)
        else:
            self._labels[name] = text = (
                SidewaysLabel(setting.name, made, self.let_go.emit)
                if isinstance(made, QDoubleSpinBox)
                else label(setting.name, "field")
            )
            text.setToolTip(_(setting.hint))
            text.setBuddy(made)
            self._grid.addWidget(text, row, column, Qt.AlignmentFlag.AlignVCenter)
            self._grid.addWidget(self._with_number(name, made) if isinstance(made, QSlider) else made, row, column + 1)

    def _with_number(self, name: str, slider: QSlider) -> QWidget:
        """A slider with its value beside it, to be typed."""
        number = self.numbers[name] = QSpinBox()
        number.setProperty("role", "beside")
        number.setRange(slider.minimum(), slider.maximum())
        number.setButtonSymbols(QAbstractSpinBox.ButtonSymbols.NoButtons)
        number.setKeyboardTracking(False)
        number.setFixedWidth(_NUMBER)
        number.setAccessibleName(_("{name}, as a number", name=self.settings[name].name))
        number.setToolTip(_("Type a number from {least} to {most}", least=slider.minimum(), most=slider.maximum()))
        slider.valueChanged.connect(number.setValue)
        number.valueChanged.connect(slider.setValue)
        number.editingFinished.connect(self.let_go)
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        row.addWidget(slider, 1)
        row.addWidget(number)
        return holder

    def _mark(self, name: str) -> QToolButton:
        made = QToolButton()
        made.setText("•")
        made.setProperty("role", "reset")
        made.setFixedWidth(_MARK)
        made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        made.setCursor(Qt.CursorShape.PointingHandCursor)
        made.clicked.connect(lambda: self.reset.emit(name))
        made.hide()
        return made

    def _keep_room_for_marks(self) -> None:
        """So that inputs stay where they are when a mark appears; a form that marks nothing needs no room for it."""
        for made in self._marks.values():
            policy = made.sizePolicy()
            policy.setRetainSizeWhenHidden(True)
            made.setSizePolicy(policy)
        self._has_room_for_marks = True

    def _input(self, name: str, setting: Setting) -> Input:
        if setting.choices:
            combo = QComboBox()
            for value, text in setting.options:
                combo.addItem(text, value)
            combo.activated.connect(lambda _row: self._tell(name, combo.currentData()))
            return combo
        if setting.ends is not None:
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(0, _FINE)
            slider.valueChanged.connect(lambda value: self._tell(name, self._from_slider(setting, value)))
            slider.sliderReleased.connect(self.let_go)
            return slider
        if setting.is_number:
            spin = QDoubleSpinBox()
            spin.setKeyboardTracking(False)
            spin.setButtonSymbols(QAbstractSpinBox.ButtonSymbols.NoButtons)  # the wheel and the arrow keys step
            self._set_range(spin, setting)
            spin.valueChanged.connect(lambda value: self._tell(name, self._from_spin(spin, setting, value)))
            spin.editingFinished.connect(self.let_go)
            return spin
        if setting.suggestions:
            combo = QComboBox()
            combo.setEditable(True)
            combo.addItems(setting.suggestions)
            for signal in (combo.activated, combo.lineEdit().editingFinished):
                signal.connect(lambda *_: self._tell(name, combo.currentText()))
            return combo
        if setting.is_text:
            line = QLineEdit()
            line.setPlaceholderText(_(setting.none))
            line.editingFinished.connect(lambda: self._tell(name, line.text()))
            return line
        tick = QCheckBox(setting.name)
        tick.clicked.connect(lambda on: self._tell(name, on))
        return tick

    def _set_range(self, spin: QDoubleSpinBox, setting: Setting, unit: str | None = None) -> None:
        assert setting.least is not None
        assert setting.most is not None
        if setting.in_frames and self._rate is None:
            return
        low, high = setting.shown(setting.least, self._rate), setting.shown(setting.most, self._rate)
        spin.setDecimals(setting.decimals)  # first, for a range is rounded to them
        spin.setRange(low - setting.step if setting.none else low, high)  # below the least of all it is None
        spin.setSingleStep(setting.step)
        spin.setSpecialValueText(_(setting.none))
        shown_unit = setting.unit if unit is None else unit
        spin.setSuffix(f" {_(shown_unit)}" if shown_unit else "")

    # --- telling -------------------------------------------------------------------------------------------------------

    def _tell(self, name: str, value: Any) -> None:
        if not self._is_filling:
            self.changed.emit(name, value)

    def _from_slider(self, setting: Setting, value: int) -> float:
        assert setting.least is not None
        assert setting.most is not None
        return setting.least + value / _FINE * (setting.most - setting.least)

    def _from_spin(self, spin: QDoubleSpinBox, setting: Setting, value: float) -> float | None:
        return None if setting.none and value <= spin.minimum() else setting.stored(value, self._rate)

    # --- showing -------------------------------------------------------------------------------------------------------

    def fill(
        self,
        values: Mapping[str, Any],
        automatic: Mapping[str, Any] | None = None,
        rate: FrameRate | None = None,
        units: Mapping[str, str] | None = None,
    ) -> None:
        """Show values, by name. automatic: what they would be by themselves, to mark those that differ. rate: the scene's.
        units: of those whose unit depends on something else."""
        if automatic is not None and not self._has_room_for_marks:
            self._keep_room_for_marks()
        with self._filling():
            if rate is not None and rate != self._rate:
                self._rate = rate
                for name, each in self.settings.items():
                    spin = self.inputs[name]
                    if each.in_frames and isinstance(spin, QDoubleSpinBox):
                        self._set_range(spin, each)
            for name, value in values.items():
                if name in self.inputs:
                    self._fill_one(name, value, (units or {}).get(name))
                    differs = automatic is not None and name in automatic and value != automatic[name]
                    if differs and automatic is not None:
                        said = self.settings[name].text(automatic[name])
                        self._marks[name].setToolTip(_("Reset to {value}", value=said))
                    self._marks[name].setVisible(differs)

    @contextmanager
    def _filling(self) -> Iterator[None]:
        self._is_filling = True
        try:
            yield
        finally:
            self._is_filling = False

    def _fill_one(self, name: str, value: Any, unit: str | None) -> None:
        setting, made = self.settings[name], self.inputs[name]
        if isinstance(made, QDoubleSpinBox):
            if unit is not None:
                made.setSuffix(f" {_(unit)}" if unit else "")
            shown = made.minimum() if value is None else setting.shown(value, self._rate)
            if not made.hasFocus() or abs(made.value() - shown) > 0.5 * 10.0**-setting.decimals:
                made.setValue(shown)  # what is being typed stays as it is typed
        elif isinstance(made, QComboBox) and made.isEditable():
            if not made.lineEdit().hasFocus():
                made.setEditText(value)
        elif isinstance(made, QComboBox):
            if made.findData(value) < 0:
                made.addItem(setting.text(value), value)
            made.setCurrentIndex(made.findData(value))
        elif isinstance(made, QSlider):
            assert setting.least is not None
            assert setting.most is not None
            made.setValue(round(_FINE * (value - setting.least) / (setting.most - setting.least)))
        elif isinstance(made, QCheckBox):
            made.setChecked(bool(value))
        elif isinstance(made, QLineEdit) and not made.hasFocus():
            made.setText(value)

    def offer(self, name: str, options: list[tuple[str, Any]]) -> None:
        """Other values for a choice, each with its label, where they depend on something else."""
        combo = self.inputs[name]
        assert isinstance(combo, QComboBox)
        if options != [(combo.itemText(row), combo.itemData(row)) for row in range(combo.count())]:
            with QSignalBlocker(combo):
                combo.clear()
                for text, value in options:
                    combo.addItem(text, value)

    def enable(self, name: str, on: bool) -> None:
        for widget in (self.inputs[name], self._labels.get(name)):
            if widget is not None:
                widget.setEnabled(on)

    def show_only(self, names: set[str]) -> None:
        """Show the rows of some settings and hide the others."""
        for name, made in self.inputs.items():
            made.setVisible(name in names)
            mark = self._marks[name]
            policy = mark.sizePolicy()
            policy.setRetainSizeWhenHidden(name in names and self._has_room_for_marks)
            mark.setSizePolicy(policy)
            if name in self._labels:
                self._labels[name].setVisible(name in names)


class SidewaysLabel(QLabel):
    """The label of a number: dragged sideways it steps the number."""

    def __init__(self, text: str, spin: QDoubleSpinBox, let_go: Any) -> None:
        super().__init__(text)
        self.setProperty("role", "field")
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self._spin, self._let_go = spin, let_go
        self._from: tuple[float, float] | None = None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._spin.isEnabled():
            self._from = event.globalPosition().x(), self._spin.value()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            x, value = self._from
            self._spin.setValue(value + round((event.globalPosition().x() - x) / _A_STEP) * self._spin.singleStep())

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        if self._from is not None:
            self._from = None
            self._let_go()
