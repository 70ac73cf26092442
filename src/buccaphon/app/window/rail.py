"""The rail at the left: one button a step, and the menu below."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QToolButton, QVBoxLayout, QWidget

from buccaphon.app.style.icons import two_state_icon
from buccaphon.painting.theme import Theme

_WIDTH, _PICTURE = 64, 22


class Rail(QWidget):
    """step_wanted: the button of a step was pressed (its number)."""

    step_wanted = pyqtSignal(int)

    def __init__(self, steps: Sequence[str], theme: Theme) -> None:
        super().__init__()
        self.setObjectName("rail")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(_WIDTH)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 14, 0, 8)
        column.setSpacing(2)
        self.steps = [_button(name, f"{name} · F{number + 1}") for number, name in enumerate(steps)]
        group = QButtonGroup(self)
        for number, button in enumerate(self.steps):
            button.setCheckable(True)
            group.addButton(button, number)
            column.addWidget(button)
        group.idClicked.connect(self.step_wanted)
        column.addStretch(1)
        self.menu_button = _button("Menu", "All commands · F10")
        self.menu_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        column.addWidget(self.menu_button)
        self.draw(theme)

    def draw(self, theme: Theme) -> None:
        """The pictures, in the theme's colours."""
        for button in (*self.steps, self.menu_button):
            button.setIcon(two_state_icon(button.text().lower(), theme.rail_soft, theme.ink, _PICTURE))

    def mark(self, number: int) -> None:
        self.steps[number].setChecked(True)


def _button(name: str, hint: str) -> QToolButton:
    button = QToolButton()
    button.setText(name)
    button.setIconSize(QSize(_PICTURE, _PICTURE))
    button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
    button.setToolTip(hint)
    button.setFixedWidth(_WIDTH)
    return button
