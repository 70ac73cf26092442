"""Inputs for a format's options, made from what it says of them."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractSpinBox,
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QLineEdit,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from buccaphon.app.widgets.parts import Fields
from buccaphon.formats.format import Option

_LARGEST = 1_000_000


class OptionFields(QWidget):
    """told: an option's name, and what it is to be, as text."""

    told = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self.inputs: dict[str, QWidget] = {}
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(7)
        self._shown: tuple[Option, ...] = ()

    def show_options(self, options: tuple[Option, ...], chosen: Mapping[str, str]) -> None:
        """The inputs, with what was chosen and else what is usual."""
        if options != self._shown:
            self._shown = options
            self._make(options)
        for option in options:
            self._fill(option, chosen.get(option.name, option.text(option.default)))

    def _make(self, options: tuple[Option, ...]) -> None:
        while (old := self._column.takeAt(0)) is not None:
            if (gone := old.widget()) is not None:
                gone.hide()
                gone.deleteLater()
        self.inputs = {}
        fields = Fields()
        ticks = []
        for option in options:
            made = self._input(option)
            made.setToolTip(option.says)
            self.inputs[option.name] = made
            if isinstance(made, QCheckBox):
                ticks.append(made)
            else:
                fields.add(option.title, made)
        if len(ticks) < len(options):
            self._column.addWidget(fields)
        for tick in ticks:
            self._column.addWidget(tick)

    def _input(self, option: Option) -> QWidget:
        tell = partial(self.told.emit, option.name)
        if option.type is bool:
            tick = QCheckBox(option.title)
            tick.clicked.connect(lambda on: tell(option.text(on)))
            return tick
        if option.choices:
            box = QComboBox()
            box.addItems(option.choices)
            box.textActivated.connect(tell)
            return box
        if option.type is int:
            whole = QSpinBox()
            whole.setRange(-_LARGEST, _LARGEST)
            whole.setKeyboardTracking(False)
            whole.setButtonSymbols(QAbstractSpinBox.ButtonSymbols.NoButtons)  # the wheel and the arrow keys step
            whole.valueChanged.connect(lambda value: tell(str(value)))
            return whole
        if option.type is float:
            number = QDoubleSpinBox()
            number.setRange(-_LARGEST, _LARGEST)
            number.setDecimals(3 if abs(option.default) < 1 else 1)
            number.setKeyboardTracking(False)
            number.setButtonSymbols(QAbstractSpinBox.ButtonSymbols.NoButtons)
            number.valueChanged.connect(lambda value: tell(f"{value:g}"))
            return number
        line = QLineEdit()
        line.editingFinished.connect(lambda: tell(line.text()))
        return line

    def _fill(self, option: Option, text: str) -> None:
        made = self.inputs[option.name]
        made.blockSignals(True)  # filling is no telling
        if isinstance(made, QCheckBox):
            made.setChecked(text.lower() in ("yes", "true"))
        elif isinstance(made, QComboBox):
            made.setCurrentText(text)
        elif isinstance(made, QSpinBox):
            made.setValue(int(text))
        elif isinstance(made, QDoubleSpinBox):
            made.setValue(float(text))
        elif isinstance(made, QLineEdit) and not made.hasFocus():
            made.setText(text)
        made.blockSignals(False)
