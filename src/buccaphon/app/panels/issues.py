"""The marks as a list: what, where, and what mends it. Resting on a fix shows what it would make."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from buccaphon.app.panels.findings import clear_rows
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.parts import PlaceLabel, button, label
from buccaphon.checks.issue import Issue
from buccaphon.texts import _
from buccaphon.timing import clock

_MOST = 5


class IssuesSection(QWidget):
    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document, self._issues, self._beside = session.document, session.issues, session.beside
        self.rows = QVBoxLayout()
        self.rows.setSpacing(2)
        self.count = label("", "hint")
        self._fixes: dict[QObject, Issue] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(5)
        column.addWidget(label(_("Issues"), "heading"))
        column.addWidget(self.count)
        column.addLayout(self.rows)
        for signal in (self._issues.changed, self._document.opened):
            signal.connect(self.refresh)
        self.refresh()

    def refresh(self, _what: object = None) -> None:
        issues = self._issues.found
        clear_rows(self.rows)
        self._fixes.clear()
        if not self._issues.looked:
            self.count.setText(_("Likely problems are listed here once the words are aligned."))
        elif not issues:
            self.count.setText(_("No issues found."))
        else:
            told = [_("{count} to check", count=len(issues)), _("V for the next")]
            if len(issues) > _MOST:
                told.insert(1, _("the first {most} are listed", most=_MOST))
            self.count.setText(" · ".join(told))
        for issue in issues[:_MOST]:
            self.rows.addWidget(self._row(issue))

    def _row(self, issue: Issue) -> QWidget:
        row = QWidget()
        column = QVBoxLayout(row)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(1)
        text = PlaceLabel(f"{issue.says} · {clock(issue.span.start)}", _("Go there and play it"))
        text.gone.connect(partial(self._go, issue))
        column.addWidget(text)
        actions = QHBoxLayout()
        actions.setContentsMargins(0, 0, 0, 0)
        if issue.fix is not None:
            fix = button(issue.fix_label, _("Fix it; hover to preview · Shift+M"), "quiet")
            fix.clicked.connect(partial(self._issues.fix, issue))
            fix.installEventFilter(self)
            self._fixes[fix] = issue
            actions.addWidget(fix)
            if sum(other.kind is issue.kind and other.fix is not None for other in self._issues.found) > 1:
                every = button(_("Fix all"), _("Fix all issues of this kind: {label}", label=issue.kind.label), "quiet")
                every.clicked.connect(partial(self._issues.fix_all, issue.kind))
                actions.addWidget(every)
        ignore = button(_("Ignore"), _("Do not show this issue again"), "quiet")
        ignore.clicked.connect(partial(self._issues.ignore, issue))
        actions.addWidget(ignore)
        actions.addStretch(1)
        column.addLayout(actions)
        return row

    def _go(self, issue: Issue) -> None:
        self._document.player.seek(issue.span.start)
        self._document.player.hear(issue.span)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        issue = self._fixes.get(watched) if watched is not None else None
        if issue is not None and event is not None:
            if event.type() == QEvent.Type.Enter:
                self._beside.preview(issue.fix)
            elif event.type() in (QEvent.Type.Leave, QEvent.Type.Hide):
                self._beside.preview(None)
        return super().eventFilter(watched, event)
