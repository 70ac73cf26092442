"""A list to search and choose from, laid over the page: commands, places in the line, steps of the history, versions."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import islice

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLabel, QLineEdit, QVBoxLayout, QWidget

from buccaphon.app.widgets.focus import focus_again
from buccaphon.app.widgets.noted_list import ROW, NotedList
from buccaphon.texts import _

_WIDTH, _MOST_ROWS = 520, 14  # pixels, rows
_MOST = 300  # choices that are listed at once


@dataclass(frozen=True, slots=True)
class Choice:
    """text: what is searched. note: at the right, such as a key or a time. run: what happens when it is chosen. also: other
    words that it is found by, which are not shown."""

    text: str
    note: str
    run: Callable[[], None]
    also: str = ""


def _none(_typed: str) -> Sequence[Choice]:
    return ()


class Chooser(QFrame):
    """Typing searches, Up and Down move, Return takes, Esc leaves."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("chooser")
        self.choices: Sequence[Choice] = ()
        self._searched: list[str] = []  # what is looked in, of each choice
        self._typed, self._fits = "", list[int]()
        self._ranks = False  # whether some are found by other words than their own
        self.shown: list[Choice] = []
        self._named: Callable[[str], Sequence[Choice]] = _none
        self._taken: Callable[[Sequence[int]], None] = lambda _fits: None
        self._before: QWidget | None = None
        self.title = QLabel()
        self.title.setProperty("role", "heading")
        self.search = QLineEdit()
        self.search.setAccessibleName(_("Search"))
        self.list = NotedList()
        self.list.setAccessibleName(_("Found"))
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
        named: Callable[[str], Sequence[Choice]] = _none,
    ) -> None:
        """Show the choices; `at` is the one that is marked first. taken: is told the numbers of all that fit what was typed,
        when one of them is chosen. named: more choices that what is typed names, of too many to list; they stand first."""
        self.choices, self._before, self._taken, self._named = choices, self.window().focusWidget(), taken, named
        self._searched = [f"{choice.text} {choice.note} {choice.also}".lower() for choice in choices]
        self._ranks = any(choice.also for choice in choices)
        self._typed, self._fits = "", list(range(len(choices)))
        self.title.setText(title)
        self.search.setPlaceholderText(hint)
        if self.search.text():
            self.search.clear()  # which finds anew
        else:
            self._find("")
        self.list.setCurrentRow(at)
        self.place()
        self.show()
        self.raise_()
        self.search.setFocus()

    def place(self) -> None:
        parent = self.parentWidget()
        rows = min(max(len(self.shown), 1), _MOST_ROWS)
        self.resize(min(_WIDTH, parent.width() - 40), min(ROW * rows + 112, parent.height() - 40))
        self.move((parent.width() - self.width()) // 2, 24)

    def _find(self, text: str) -> None:
        """All parts of what is typed must be in a choice, in any order. First stands what begins with it, then what has it as
        words of its label, then what is found by these very words, and then the others."""
        text, searched = text.lower(), self._searched
        among = (
            self._fits if text.startswith(self._typed) else list(range(len(searched)))
        )  # one letter more fits no more
        for part in text.split():
            among = [number for number in among if part in searched[number]]
        self._typed, self._fits = text, among
        if text and self._ranks:
            fits = (sorted(among, key=self._rank(text)) or self._nearest(text))[:_MOST]
        else:  # places in the line: thousands, of which those that begin with it are the likely ones
            first = [number for number in among if searched[number].startswith(text)]
            later = (number for number in among if not searched[number].startswith(text))
            fits = [*first, *islice(later, max(_MOST - len(first), 0))][:_MOST]
        self.shown = [*self._named(text), *(self.choices[number] for number in fits)]
        self.list.clear()
        for choice in self.shown:
            self.list.add(choice.text, choice.note)
        if not self.shown:
            self.list.add(_("No match for “{text}”", text=text), "").setFlags(Qt.ItemFlag.NoItemFlags)
        self.list.setCurrentRow(0 if self.shown else -1)
        self.place()

    def _nearest(self, text: str) -> list[int]:
        """Where nothing has all that is typed: what has the most of it, rare words counting for more."""
        having = [[number for number, told in enumerate(self._searched) if part in told] for part in text.split()]
        worth = [0.0] * len(self._searched)
        for numbers in having:
            for number in numbers:
                worth[number] += 1 / len(numbers)
        some = [number for number, each in enumerate(worth) if each > 0]
        return sorted(some, key=lambda number: -worth[number])

    def _rank(self, text: str) -> Callable[[int], int]:
        parts = [re.compile(rf"\b{re.escape(part)}") for part in text.split()]
        whole = [re.compile(rf"(?<!\S){re.escape(part)}(?!\S)") for part in text.split()]

        def rank(number: int) -> int:
            choice = self.choices[number]
            label, also = choice.text.lower(), choice.also
            if label.startswith(text):
                return 0
            if all(part.search(label) for part in whole):
                return 1
            if choice.also and all(part.search(also) or part.search(label) for part in whole):
                return 2
            return 3 if all(part.search(label) for part in parts) else 4

        return rank

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
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.shown:
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.list.setCurrentRow((row + step) % len(self.shown))
        else:
            return super().eventFilter(watched, event)
        return True

    def leave(self) -> None:
        self.hide()
        focus_again(self._before)

    def _take(self, _item: object = None) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self.shown):
            choice = self.shown[row]
            self.leave()
            self._taken(self._fits)
            choice.run()
