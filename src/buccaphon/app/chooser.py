"""A list to search and choose from, laid over the page: commands, places in the line, steps of the history, versions."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLabel, QLineEdit, QVBoxLayout, QWidget

from buccaphon.app.noted_list import ROW, NotedList

_WIDTH, _MOST_ROWS = 520, 14  # pixels, rows
_MOST = 300  # choices that are listed at once


@dataclass(frozen=True, slots=True)
class Choice:
    """text: what is searched. note: at the right, such as a key or a time. run: what happens when it is chosen."""

    text: str
    note: str
    run: Callable[[], None]


class Chooser(QFrame):
    """Typing searches, Up and Down move, Return takes, Esc leaves."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, objectName="chooser")
        self._choices: Sequence[Choice] = ()
        self._fits: list[int] = []
        self._shown: list[int] = []
        self._taken: Callable[[Sequence[int]], None] = lambda _fits: None
        self._before: QWidget | None = None
        self.title = QLabel()
        self.title.setProperty("role", "heading")
        self.search = QLineEdit()
        self.search.setAccessibleName("Search")
        self.list = NotedList()
        self.list.setAccessibleName("Found")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 12, 14, 14)
        for part in (self.title, self.search, self.list):
            column.addWidget(part)
        self.search.installEventFilter(self)
        self.search.textChanged.connect(self._find)
        self.list.itemClicked.connect(self._take)
        self.hide()

    def ask(
        self,
        title: str,
        hint: str,
        choices: Sequence[Choice],
        at: int = 0,
        taken: Callable[[Sequence[int]], None] = lambda _fits: None,
    ) -> None:
        """Show the choices; `at` is the one that is marked first. taken: is told the numbers of all that fit what was typed,
        when one of them is chosen."""
        self._choices, self._before, self._taken = choices, self.window().focusWidget(), taken
        self.title.setText(title)
        self.search.setPlaceholderText(hint)
        self.search.clear()
        self._find("")
        self.list.setCurrentRow(at)
        self.place()
        self.show()
        self.raise_()
        self.search.setFocus()

    def place(self) -> None:
        parent = self.parentWidget()
        rows = min(max(len(self._shown), 1), _MOST_ROWS)
        self.resize(min(_WIDTH, parent.width() - 40), min(ROW * rows + 112, parent.height() - 40))
        self.move((parent.width() - self.width()) // 2, 24)

    def _find(self, text: str) -> None:
        """All parts of what is typed must be in a choice, in any order; those that begin with it stand first."""
        parts = text.lower().split()
        fits = [n for n, c in enumerate(self._choices) if all(part in f"{c.text} {c.note}".lower() for part in parts)]
        self._fits = list(fits)
        fits.sort(key=lambda n: not self._choices[n].text.lower().startswith(text.lower()))
        self._shown = fits[:_MOST]
        self.list.clear()
        for number in self._shown:
            self.list.add(self._choices[number].text, self._choices[number].note)
        self.list.setCurrentRow(0 if self._shown else -1)
        self.place()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            event.accept()  # here keys are letters, not commands
            return True
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(watched, event)
        row = self.list.currentRow()
        if event.key() == Qt.Key.Key_Escape:
            self.leave()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self._shown:
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.list.setCurrentRow((row + step) % len(self._shown))
        else:
            return super().eventFilter(watched, event)
        return True

    def leave(self) -> None:
        self.hide()
        if self._before is not None:
            self._before.setFocus()

    def _take(self, _item: object = None) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._shown):
            choice = self._choices[self._shown[row]]
            self.leave()
            self._taken(self._fits)
            choice.run()
