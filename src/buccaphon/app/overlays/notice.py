"""The only way to show a notice: a strip over the foot of the galley that goes by itself or when it is clicked away."""

from __future__ import annotations

import time
from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from buccaphon.texts import _

_SHORTEST, _PER_LETTER = 3500, 55  # ms
_ABOVE_FOOT = 60  # pixels: the overview of the line stays free
_TOGETHER = 0.7  # seconds within which a second sentence stands under the first, not in its place
_SENTENCE = 50  # letters; what is shorter only tells what a key has done


class Notice(QWidget):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.text = QLabel()
        self.text.setWordWrap(True)
        self.button = QPushButton()
        self.button.clicked.connect(self._act)
        self._action: Callable[[], None] | None = None
        self._said, self._last = 0.0, ""
        self.close_button = QPushButton(_("Close"))
        self.close_button.clicked.connect(self.hide)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 10, 8, 10)
        row.addWidget(self.text, 1)
        row.addWidget(self.button)
        row.addWidget(self.close_button)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def say(self, text: str, label: str = "", action: Callable[[], None] | None = None) -> None:
        """Show a text, and a button for what can be done about it, if anything. Two sentences said at once are both read; a
        button of the first stays."""
        now, last = time.monotonic(), self._last
        joins = self.isVisible() and now - self._said < _TOGETHER
        if joins and self._action is not None and action is None:
            label, action = self.button.text(), self._action
        else:
            joins = joins and self._action is None and len(last) >= _SENTENCE
        self._said = now
        self._last = text
        self.text.setText(f"{last}\n{text}" if joins and text != last else text)
        text = self.text.text()
        self._action = action
        self.button.setText(label)
        self.button.setVisible(action is not None)
        self.place()
        self.show()
        self.raise_()
        self.close_button.setText(_("Close"))
        self._timer.start(_SHORTEST + _PER_LETTER * len(text))

    def ask(self, text: str, label: str, action: Callable[[], None], otherwise: str) -> None:
        """Show a question, which stays until it is answered. otherwise: the answer that leaves everything as it is."""
        self.say(text, label, action)
        self.close_button.setText(otherwise)
        self._timer.stop()

    def _act(self) -> None:
        self.hide()
        if self._action is not None:
            self._action()

    def place(self) -> None:
        """At the foot of the parent, as wide as reads well."""
        parent = self.parentWidget()
        width = min(parent.width() - 40, 560)
        self.resize(width, max(self.heightForWidth(width), 44))
        self.move((parent.width() - width) // 2, parent.height() - self.height() - _ABOVE_FOOT)
