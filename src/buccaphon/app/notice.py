"""The one road for notices: a strip over the foot of the galley that goes by itself or when it is clicked away."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

_SHORTEST, _PER_LETTER = 3500, 55  # ms


class Notice(QWidget):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.text = QLabel()
        self.text.setWordWrap(True)
        close = QPushButton("Close")
        close.clicked.connect(self.hide)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 10, 8, 10)
        row.addWidget(self.text, 1)
        row.addWidget(close)
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def say(self, text: str) -> None:
        self.text.setText(text)
        self.place()
        self.show()
        self.raise_()
        self._timer.start(_SHORTEST + _PER_LETTER * len(text))

    def place(self) -> None:
        """At the foot of the parent, as wide as reads well."""
        parent = self.parentWidget()
        width = min(parent.width() - 40, 560)
        self.resize(width, max(self.heightForWidth(width), 44))
        self.move((parent.width() - width) // 2, parent.height() - self.height() - 18)
