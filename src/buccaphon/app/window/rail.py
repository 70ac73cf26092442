"""The rail at the left: one button a step, and the menu below."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QToolButton, QVBoxLayout, QWidget

from buccaphon.app.style.icons import two_state_icon
from buccaphon.painting.theme import Theme
from buccaphon.texts import _

_WIDTH, _PICTURE = 64, 22


class Rail(QWidget):
    """steps: the title of each by the name of its icon. step_wanted: the button of a step was pressed (its number)."""

    step_wanted = pyqtSignal(int)

    def __init__(self, steps: Mapping[str, str], theme: Theme) -> None:
        super().__init__()
        self.setObjectName("rail")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(_WIDTH)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 14, 0, 8)
        column.setSpacing(2)
        self.steps = [
            _button(icon, title, f"{title} · F{number + 1}") for number, (icon, title) in enumerate(steps.items())
        ]
        group = QButtonGroup(self)
        for number, button in enumerate(self.steps):
            button.setCheckable(True)
            group.addButton(button, number)
            column.addWidget(button)
        group.idClicked.connect(self.step_wanted)
        column.addStretch(1)
        self.menu_button = _button("menu", _("Menu"), _("All commands · F10"))
        self.menu_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        column.addWidget(self.menu_button)
        self.draw(theme)

    def draw(self, theme: Theme) -> None:
        """The pictures, in the theme's colours."""
        for button in (*self.steps, self.menu_button):
            button.setIcon(two_state_icon(button.property("picture"), theme.rail_soft, theme.ink, _PICTURE))

    def mark(self, number: int) -> None:
        self.steps[number].setChecked(True)


def _button(icon: str, name: str, hint: str) -> QToolButton:
    button = QToolButton()
    button.setText(name)
    button.setProperty("picture", icon)
    button.setIconSize(QSize(_PICTURE, _PICTURE))
    button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
    button.setToolTip(hint)
    button.setFixedWidth(_WIDTH)
    return button
