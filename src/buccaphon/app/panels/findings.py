"""Where the actor did not keep to the script, and corrections that lost their word."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from buccaphon.app.session.session import Session
from buccaphon.app.widgets.parts import button, label
from buccaphon.painting.theme import Theme
from buccaphon.project.edits.script import ForgetLostPins
from buccaphon.texts import _
from buccaphon.timing import clock

_MOST = 6


class FindingsSection(QWidget):
    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._document, self._theme = session, session.document, theme
        self.mend_button = button(
            _("Update the script to what was said"),
            _("Puts words that were not said in brackets and repeats words that were said twice"),
        )
        self.forget_button = button(_("Clear list"), _("Clears this list; the recording is not changed"), "quiet")
        self.rows, self.lost_rows = QVBoxLayout(), QVBoxLayout()
        self._title, self._lost_title = (
            label(_("Differences from the script"), "heading"),
            label(_("Corrections whose word was removed"), "heading"),
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(4)
        for part in (self._title, self.rows, self.mend_button, self._lost_title, self.lost_rows, self.forget_button):
            column.addLayout(part) if isinstance(part, QVBoxLayout) else column.addWidget(part)
        self.mend_button.clicked.connect(session.rewording.mend)
        self.forget_button.clicked.connect(self._forget_lost)
        for signal in (session.comparing.compared, self._document.opened, self._document.changed):
            signal.connect(self.refresh)
        self.refresh()

    def refresh(self, _what: object = None) -> None:
        findings = self._session.comparing.comparison.findings
        take = self._document.state.take
        lost = take.without_word if take else ()
        clear_rows(self.rows)
        clear_rows(self.lost_rows)
        for finding in findings[:_MOST]:
            text = f"{self._session.comparing.describe(finding)}   {clock(finding.span.start)}"
            self.rows.addWidget(self._row(text, finding.span.start))
        for pin in lost[:_MOST]:
            self.lost_rows.addWidget(self._row(f"{pin.word}   {clock(pin.seconds)}", pin.seconds))
        for part in (self._title, self.mend_button):
            part.setVisible(bool(findings))
        for part in (self._lost_title, self.forget_button):
            part.setVisible(bool(lost))
        self.setVisible(bool(findings or lost))

    def _row(self, text: str, seconds: float) -> QPushButton:
        return place_row(text, self._theme.doubt, lambda: self._document.player.seek(seconds))

    def _forget_lost(self) -> None:
        self._document.apply(ForgetLostPins())


def place_row(text: str, color: str, go: Callable[[], None]) -> QPushButton:
    """A line of a list that leads to a place in the recording."""
    row = button(text, _("Go there and listen"), "quiet")
    row.setCursor(Qt.CursorShape.PointingHandCursor)
    row.setStyleSheet(f"text-align: left; color: {color};")
    row.clicked.connect(go)
    return row


def clear_rows(rows: QVBoxLayout) -> None:
    while rows.count():
        gone = rows.takeAt(0).widget()
        if gone is not None:
            gone.hide()
            gone.deleteLater()
