"""The marks as a list: what, where, and what mends it. Resting on a fix shows what it would make."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from buccaphon.app.panels.findings import clear_rows
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.parts import PlaceLabel, button, label
from buccaphon.checks.mark import Mark
from buccaphon.timing import clock

_MOST = 5


class MarksSection(QWidget):
    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document, self._marking, self._beside = session.document, session.marking, session.beside
        self.rows = QVBoxLayout()
        self.rows.setSpacing(2)
        self.count = label("", "hint")
        self._fixes: dict[QObject, Mark] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(5)
        column.addWidget(label("Marks", "heading"))
        column.addWidget(self.count)
        column.addLayout(self.rows)
        for signal in (self._marking.marked, self._document.opened):
            signal.connect(self.refresh)
        self.refresh()

    def refresh(self, _what: object = None) -> None:
        marks = self._marking.found
        clear_rows(self.rows)
        self._fixes.clear()
        if not self._marking.looked:
            self.count.setText("What a supervisor would send back is listed here once the words are aligned.")
        elif not marks:
            self.count.setText("Nothing would be sent back.")
        else:
            more = f"; the first {_MOST} are listed" if len(marks) > _MOST else ""
            self.count.setText(f"{len(marks)} to look at{more} · V goes through them")
        for mark in marks[:_MOST]:
            self.rows.addWidget(self._row(mark))

    def _row(self, mark: Mark) -> QWidget:
        row = QWidget()
        column = QVBoxLayout(row)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(1)
        text = PlaceLabel(f"{mark.says} · {clock(mark.span.start)}", "Put the playhead there and hear it")
        text.gone.connect(partial(self._go, mark))
        column.addWidget(text)
        actions = QHBoxLayout()
        actions.setContentsMargins(0, 0, 0, 0)
        if mark.fix is not None:
            fix = button(mark.mends, "Mend it; resting here shows what it would make · Shift+M", "quiet")
            fix.clicked.connect(partial(self._marking.mend, mark))
            fix.installEventFilter(self)
            self._fixes[fix] = mark
            actions.addWidget(fix)
            if sum(other.kind is mark.kind and other.fix is not None for other in self._marking.found) > 1:
                every = button("All such", f"Mend all marks of this kind: {mark.kind.value}", "quiet")
                every.clicked.connect(partial(self._marking.mend_all, mark.kind))
                actions.addWidget(every)
        leave = button("Leave it", "Say no more of it", "quiet")
        leave.clicked.connect(partial(self._marking.leave, mark))
        actions.addWidget(leave)
        actions.addStretch(1)
        column.addLayout(actions)
        return row

    def _go(self, mark: Mark) -> None:
        self._document.player.seek(mark.span.start)
        self._document.player.hear(mark.span)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        mark = self._fixes.get(watched) if watched is not None else None
        if mark is not None and event is not None:
            if event.type() == QEvent.Type.Enter:
                self._beside.preview(mark.fix)
            elif event.type() in (QEvent.Type.Leave, QEvent.Type.Hide):
                self._beside.preview(None)
        return super().eventFilter(watched, event)
