"""A heading that folds what lies under it away, and out again."""

from __future__ import annotations

from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget


class Fold(QWidget):
    """body: where to put what is folded."""

    def __init__(self, heading: str, hint: str, *, is_open: bool = False) -> None:
        super().__init__()
        self._heading = heading
        self.button = QPushButton()
        self.button.setProperty("role", "fold")
        self.button.setToolTip(hint)
        self.button.setAccessibleName(heading)
        self._inside = QWidget()
        self.body = QVBoxLayout(self._inside)
        self.body.setContentsMargins(0, 2, 0, 8)
        self.body.setSpacing(7)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(self.button)
        column.addWidget(self._inside)
        self.button.clicked.connect(lambda: self.set_open(self._inside.isHidden()))
        self._note = ""
        self.set_open(is_open)

    @property
    def is_open(self) -> bool:
        return not self._inside.isHidden()

    def set_open(self, wanted: bool) -> None:
        self._inside.setVisible(wanted)
        self._write()

    def note(self, text: str) -> None:
        """What there is to know of it while it is folded away."""
        self._note = text
        self._write()

    def _write(self) -> None:
        sign = "–" if self.is_open else "+"
        note = f"  {self._note}" if self._note and not self.is_open else ""
        self.button.setText(f"{sign}  {self._heading}{note}")
