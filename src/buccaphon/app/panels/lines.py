"""The lines of the scene in the Take panel: which is open, what it is called and whose it is, and where each lies."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QComboBox, QListWidget, QListWidgetItem, QVBoxLayout

from buccaphon.app.session.session import Session
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.parts import Fields, button, fit_rows, label, quiet_row
from buccaphon.app.widgets.section import Section
from buccaphon.project.delivering import called
from buccaphon.project.edits.lines import ChangeLine, RemoveLine
from buccaphon.project.state import Line
from buccaphon.setting import settings_of
from buccaphon.texts import _
from buccaphon.timing import clock

_MOST_ROWS = 6
_LINE = settings_of(Line)


class LinesSection(Section):
    """Seen once there are two lines."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._document = session, session.document
        self.lines = QListWidget()
        self.lines.setAccessibleName(_("Lines of the scene"))
        self.lines.setToolTip(_("Click a line to open it · Page Up, Page Down"))
        self.role = QComboBox()
        self.role.setToolTip(_("Who says the words that the script gives to nobody else"))
        self.form = Form({name: _LINE[name] for name in ("name", "heard_only", "muted")})
        self.remove_button = button(
            _("Remove the line"), _("Remove it from the scene; its files stay on disk"), "quiet"
        )
        self._of_role = Fields()
        self._of_role.add(_("Role"), self.role)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(label(_("Lines of the scene"), "heading"))
        column.addWidget(self.lines)
        column.addWidget(self._of_role)
        column.addWidget(self.form)
        column.addLayout(quiet_row(self.remove_button))
        self.lines.itemClicked.connect(self._open)
        self.lines.itemActivated.connect(self._open)
        self.role.activated.connect(lambda _row: self._change("role", self.role.currentData()))
        self.form.changed.connect(self._change)
        self.form.let_go.connect(self._document.end_gesture)
        self.remove_button.clicked.connect(lambda: self._document.apply(RemoveLine(self._document.state.line.key)))
        self.follow(self._document.opened, self._document.changed, self._document.sound_ready)
        self._document.changed.connect(self._show_or_hide)
        self._document.opened.connect(self._show_or_hide)
        self._show_or_hide()

    def _show_or_hide(self, _what: object = None) -> None:
        self.setVisible(len(self._document.state.lines) > 1)

    def refresh(self) -> None:
        state = self._document.state
        told = [_told(line, number) for number, line in enumerate(state.lines)]
        with QSignalBlocker(self.lines):
            if told != [self.lines.item(row).text() for row in range(self.lines.count())]:
                self.lines.clear()
                for text, line in zip(told, state.lines, strict=True):
                    item = QListWidgetItem(text)
                    item.setToolTip(" ".join(line.script.split()) or text)
                    self.lines.addItem(item)
            self.lines.setCurrentRow(state.open_line)
        fit_rows(self.lines, _MOST_ROWS)
        self._of_role.setVisible(len(state.roles) > 1 and not state.line.heard_only)
        with QSignalBlocker(self.role):
            self.role.clear()
            for role in state.roles:
                self.role.addItem(called(state, role.name), role.name)
            self.role.setCurrentIndex(self.role.findData(state.role_named(state.line.role).name))
        line = state.line
        self.form.fill({"name": line.title, "heard_only": line.heard_only, "muted": line.muted})

    def _open(self, item: QListWidgetItem) -> None:
        self._session.lines.open(self.lines.row(item))

    def _change(self, name: str, value: Any) -> None:
        line = self._document.state.line
        if name == "name":
            text = value.strip()
            if text not in ("", line.title):
                self._document.apply(ChangeLine(line.key, title=text, name=_(_LINE["name"].change)))
        elif name == "role":
            self._document.apply(ChangeLine(line.key, role=value, name=_("Give the line to another role")))
        elif name == "heard_only":
            self._document.apply(ChangeLine(line.key, heard_only=bool(value), name=_(_LINE[name].label)))
        else:
            self._document.apply(ChangeLine(line.key, muted=bool(value), name=_(_LINE[name].label)))
        self.refresh()


def _told(line: Line, number: int) -> str:
    name = line.title or _("Line {number}", number=number + 1)
    at = clock(line.take.offset) if line.take is not None else ""
    marks = [text for text, is_so in ((_("heard only"), line.heard_only), (_("muted"), line.muted)) if is_so]
    return "  ".join(part for part in (at, name, f"({', '.join(marks)})" if marks else "") if part)
