"""The marks of the line, found a moment after each change, and what is done about them."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.comparing import Comparing
from buccaphon.app.session.document import Document
from buccaphon.app.timers import later
from buccaphon.checks.facts import Facts
from buccaphon.checks.finding import find_issues
from buccaphon.checks.issue import Issue, IssueKind
from buccaphon.project.edits import Together, Touched
from buccaphon.project.edits.scene import IgnoreIssues
from buccaphon.project.project import Changes
from buccaphon.project.take import IgnoredIssue
from buccaphon.texts import _

_LATER = 100  # ms after a change


class Issues(QObject):
    """found: all marks, in order of time; looked: whether there are words to be looked at; `marked` tells of both. Words in
    doubt that were played as a whole have been heard."""

    changed = pyqtSignal()

    def __init__(self, document: Document, comparing: Comparing) -> None:
        super().__init__(document)
        self._document, self._comparing = document, comparing
        self.found: tuple[Issue, ...] = ()
        self.looked = False
        self._heard: set[int] = set()
        self._begun: float | None = None
        self._soon = later(self, _LATER, self.look)
        for signal in (document.opened, document.sound_gone):
            signal.connect(self._forget)
        for signal in (document.sound_ready, comparing.compared):
            signal.connect(self._soon.start)
        document.changed.connect(self._take_up)
        document.player.playing_changed.connect(self._listen)

    def _forget(self) -> None:
        self._heard.clear()
        self._soon.start()

    def _take_up(self, changes: Changes) -> None:
        if changes.touched & Touched.SCRIPT:  # a word's number is another's now
            self._heard.clear()
        self._soon.start()

    def look(self) -> None:
        """Find them now."""
        self._soon.stop()
        found, words = self._found(), self._document.score is not None
        if (found, words) != (self.found, self.looked):
            self.found, self.looked = found, words
            self.changed.emit()

    def _found(self) -> tuple[Issue, ...]:
        bake, derived, state = self._document.bake(), self._document.derived, self._document.state
        if bake is None or derived is None or self._document.score is None:
            return ()
        chosen = derived.chosen(state)
        facts = Facts(state, bake, self._document.used, self._comparing.missing, frozenset(self._heard), chosen)
        return tuple(find_issues(facts))

    def _listen(self) -> None:
        """When playing ends, the words between where it began and where it stopped have been heard."""
        player = self._document.player
        if player.playing:
            self._begun = player.position
        elif self._begun is not None and self._document.score is not None:
            begun, self._begun = self._begun, None
            words = enumerate(self._document.score.words)
            self._heard |= {n for n, word in words if word.start >= begun - 0.05 and word.end <= player.position + 0.05}
            self._soon.start()

    def at(self, seconds: float) -> Issue | None:
        """The mark at a moment, of several the first of those that begin last."""
        here = [issue for issue in self.found if issue.span.start - 1e-3 <= seconds < issue.span.end + 1e-3]
        return max(here, key=lambda issue: issue.span.start, default=None)

    def next(self, seconds: float, way: int) -> Issue | None:
        """The next mark after a moment (way 1) or before it (way -1); beyond the last the first."""
        if way > 0:
            return next(
                (issue for issue in self.found if issue.span.start > seconds + 1e-3), next(iter(self.found), None)
            )
        before = [issue for issue in self.found if issue.span.start < seconds - 1e-3]
        return before[-1] if before else (self.found[-1] if self.found else None)

    def fix(self, issue: Issue) -> None:
        """Do what mends a mark, if it is one still."""
        self.look()
        if issue.fix is not None and issue in self.found:
            self._document.apply(Together((issue.fix,), name=issue.fix_label))
            self.look()

    def fix_all(self, kind: IssueKind) -> None:
        """All of a kind, as one step."""
        self.look()
        fixes = tuple(issue.fix for issue in self.found if issue.kind is kind and issue.fix is not None)
        if fixes:
            self._document.apply(Together(fixes, name=_("Fix: {label}", label=kind.label)))
            self.look()

    def ignore(self, issue: Issue) -> None:
        """Say no more of it."""
        self._document.apply(IgnoreIssues((IgnoredIssue(issue.kind.value, issue.span),)))
        self.look()
