"""The fields of the panels, found by their labels, and set by what is typed in the palette."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from PyQt6.QtWidgets import (
    QAbstractSlider,
    QAbstractSpinBox,
    QCheckBox,
    QComboBox,
    QDoubleSpinBox,
    QLineEdit,
    QScrollBar,
    QSpinBox,
    QWidget,
)

from buccaphon.app.widgets.fold import Fold
from buccaphon.texts import _

_NUMBER = re.compile(r"[-+]?\d+(?:[.,]\d+)?")

Input = QAbstractSpinBox | QComboBox | QLineEdit | QAbstractSlider | QCheckBox


@dataclass(frozen=True, slots=True, eq=False)
class Field:
    """label: as it stands beside it. where: the panel that it is in."""

    label: str
    where: str
    widget: Input

    @property
    def words(self) -> str:
        """Everyday words that its declaration is found by."""
        return self.widget.property("words") or ""

    @property
    def value(self) -> str:
        """What it says now."""
        widget = self.widget
        if isinstance(widget, QCheckBox):
            return _("on") if widget.isChecked() else _("off")
        if isinstance(widget, QComboBox):
            return widget.currentText()
        if isinstance(widget, QAbstractSlider):
            return str(widget.value())
        return widget.text()

    @property
    def choices(self) -> tuple[str, ...]:
        """What it can be, where that is a few words to choose from."""
        widget = self.widget
        if not isinstance(widget, QComboBox) or widget.isEditable():
            return ()
        return tuple(widget.itemText(row) for row in range(widget.count()))

    def unfold(self) -> None:
        """Unfold whatever it is folded away in."""
        above = self.widget.parentWidget()
        while above is not None:
            if isinstance(above, Fold):
                above.set_open(True)
            above = above.parentWidget()

    def put(self, text: str) -> str:
        """Set it, as a hand would. Why it cannot be, in a sentence; '' when it was."""
        widget = self.widget
        if not widget.isEnabled():
            return _("“{label}” is for something that is not there yet.", label=self.label)
        if isinstance(widget, QCheckBox):
            widget.click()
        elif isinstance(widget, QComboBox):
            return self._choose(widget, text)
        elif isinstance(widget, QLineEdit):
            widget.setText(text)
            widget.editingFinished.emit()
        else:
            return self._turn(widget, text)
        return ""

    def _choose(self, widget: QComboBox, text: str) -> str:
        if widget.isEditable():
            line = widget.lineEdit()
            assert line is not None
            widget.setEditText(text)
            line.editingFinished.emit()
            return ""
        row = widget.findText(text)
        if row < 0:
            return _(
                "“{label}” cannot be “{text}”. Choose one of {names}.",
                label=self.label,
                text=text,
                names=", ".join(self.choices),
            )
        widget.setCurrentIndex(row)
        widget.activated.emit(row)
        return ""

    def _turn(self, widget: QAbstractSpinBox | QAbstractSlider, text: str) -> str:
        found = _NUMBER.search(text)
        if found is None:
            return _(
                "“{text}” is not a number. “{label}” is {value} now.", text=text, label=self.label, value=self.value
            )
        value = float(found[0].replace(",", "."))
        assert isinstance(widget, QSpinBox | QDoubleSpinBox | QAbstractSlider)
        low, high = widget.minimum(), widget.maximum()
        if not low <= value <= high:
            return _("“{label}” goes from {low:g} to {high:g}.", label=self.label, low=low, high=high)
        if isinstance(widget, QDoubleSpinBox):
            widget.setValue(value)
        else:
            widget.setValue(round(value))
        if isinstance(widget, QAbstractSpinBox):
            widget.editingFinished.emit()
        return ""


def fields_in(panel: QWidget, where: str) -> Iterator[Field]:
    """All that can be set in a panel and has a label."""
    for widget in panel.findChildren(QWidget):
        if not isinstance(widget, Input) or isinstance(widget, QScrollBar) or widget.isHidden():
            continue
        if isinstance(widget.parentWidget(), QAbstractSpinBox | QComboBox):  # the line inside of another field
            continue
        label = widget.accessibleName() or (widget.text() if isinstance(widget, QCheckBox) else "")
        if label:
            yield Field(label, where, widget)
