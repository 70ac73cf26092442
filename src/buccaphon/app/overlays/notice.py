"""The only way to show a notice: a strip over the foot of the galley that goes by itself or when it is clicked away."""

from __future__ import annotations

import time
from collections.abc import Callable

from PyQt6.QtCore import QEvent, Qt, QTimer
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from buccaphon.texts import _

_SHORTEST, _PER_LETTER = 3500, 55  # ms
_ABOVE_FOOT = 60  # pixels: the overview of the line stays free
_ABOVE_BAR = 16  # pixels over the scene bar
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
        self.foot = 0  # pixels at the foot of the parent that stay free
        self.close_button = QPushButton(_("Close"))
        self.close_button.clicked.connect(self._close)
        self._otherwise: Callable[[], None] | None = None
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
        if self.isVisible() and self._otherwise is not None and action is None:  # a question waits for its answer
            self.text.setText(f"{self._last}\n{text}")
            self.place()
            return
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
        self._action, self._otherwise = action, None
        self.button.setText(label)
        self.button.setVisible(action is not None)
        self.place()
        self.show()
        self.raise_()
        self.close_button.setText(_("Close"))
        self._timer.start(_SHORTEST + _PER_LETTER * len(text))

    def ask(self, text: str, label: str, action: Callable[[], None], other: str, otherwise: Callable[[], None]) -> None:
        """Show a question, which stays until it is answered, by a click or by the letter that is underlined in an answer."""
        self.say(text, label, action)
        self._otherwise = otherwise
        self.close_button.setText(other)
        self._timer.stop()
        self.place()
        if "&" in label:
            self.button.setFocus()

    def _act(self) -> None:
        self.hide()
        if self._action is not None:
            self._action()

    def _close(self) -> None:
        self.hide()
        if self._otherwise is not None:
            self._otherwise()

    def event(self, event: QEvent | None) -> bool:
        """While a question is asked its letters answer it, whatever they do otherwise."""
        if isinstance(event, QKeyEvent) and event.type() in (QEvent.Type.ShortcutOverride, QEvent.Type.KeyPress):
            for button in (self.button, self.close_button):
                if event.text() and f"&{event.text().lower()}" in button.text().lower():
                    event.accept()
                    if event.type() == QEvent.Type.KeyPress:
                        button.click()
                    return True
        return super().event(event)

    def place(self) -> None:
        """At the foot of the parent, as wide as reads well."""
        parent = self.parentWidget()
        for button in (self.button, self.close_button):
            button.setMinimumWidth(button.sizeHint().width())  # a text that wraps would take its room
        width = min(parent.width() - 40, 560)
        self.resize(width, max(self.heightForWidth(width), 44))
        self.move(
            (parent.width() - width) // 2, parent.height() - self.height() - max(_ABOVE_FOOT, self.foot + _ABOVE_BAR)
        )
