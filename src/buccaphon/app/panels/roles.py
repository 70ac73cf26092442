"""Who speaks: each speaker whom the script names, with the character that says it. A name becomes a role once it is given
one; until then it shares the role of the line."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QComboBox, QGridLayout, QPushButton, QWidget

from buccaphon.app.session.session import Session
from buccaphon.app.widgets.parts import label
from buccaphon.app.widgets.section import Section
from buccaphon.project.delivering import called
from buccaphon.project.edits import Edit, Together
from buccaphon.project.edits.kits import UseKit
from buccaphon.project.edits.roles import AddRole, RemoveRole, RenameRole, role_called
from buccaphon.project.speakers import names_in
from buccaphon.project.state import State
from buccaphon.texts import _

_SHARED = "\0shared"  # not the name of any character
_MOST_ROWS = 12


class RolesSection(Section):
    """Seen where a script names two speakers, or the scene has two roles."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._document = session, session.document
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(5)
        self._grid.setColumnStretch(1, 1)
        self._shown: object = None
        self.names: dict[str, QPushButton] = {}
        self.characters: dict[str, QComboBox] = {}
        self.follow(self._document.opened, self._document.changed)
        self._document.changed.connect(self._show_or_hide)
        self._document.opened.connect(self._show_or_hide)
        self._show_or_hide()

    def _show_or_hide(self, _what: object = None) -> None:
        self.setVisible(len(_speakers(self._document.state)) > 1)

    def refresh(self) -> None:
        state = self._document.state
        rows, kits = _speakers(state)[:_MOST_ROWS], tuple(kit.name for kit in state.kits)
        shown = (rows, kits, tuple((role.name, role.kit) for role in state.roles), state.role.name)
        if shown == self._shown:
            return
        self._shown = shown
        self.names.clear()
        self.characters.clear()
        while (item := self._grid.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        self._grid.addWidget(label(_("Who speaks"), "heading"), 0, 0, 1, 2)
        for number, name in enumerate(rows, 1):
            self._grid.addWidget(self._name(name, state), number, 0)
            self._grid.addWidget(self._character(name, state), number, 1)
        self._grid.addWidget(
            label(_("Give a speaker a character, and only what they say moves its mouth."), "hint"),
            len(rows) + 1,
            0,
            1,
            2,
        )

    def _name(self, name: str, state: State) -> QWidget:
        role = role_called(state, name)
        text = called(state, role.name) if role is not None else name.title()
        made = self.names[name] = QPushButton(text)
        made.setProperty("role", "quiet")
        made.setCheckable(True)
        made.setChecked(role is not None and role.name == state.role.name)
        made.setEnabled(role is not None)
        made.setToolTip(_("Show this mouth in the galley and the mirror, to correct it"))
        if role is not None:
            made.clicked.connect(partial(self._show, role.name))
        return made

    def _character(self, name: str, state: State) -> QWidget:
        role = role_called(state, name)
        box = self.characters[name] = QComboBox()
        box.setAccessibleName(_("Character of {name}", name=name.title() or called(state, "")))
        box.setToolTip(_("The character whose mouth says it"))
        if role is None or role is not state.roles[0]:
            box.addItem(_("shares {name}", name=called(state, state.roles[0].name)), _SHARED)
        box.addItem(_("Marigold, by poses"), "")
        for kit in state.kits:
            box.addItem(kit.name, kit.name)
        box.setCurrentIndex(box.findData(_SHARED if role is None else role.kit))
        box.activated.connect(lambda _row: self._give(name, box.currentData()))
        return box

    def _show(self, role: str) -> None:
        lines = self._session.lines
        lines.open(lines.where_speaking(role), role)

    def _give(self, name: str, kit: str) -> None:
        """A character for a speaker, who has a role then; or none any more."""
        state = self._document.state
        role = role_called(state, name)
        if role is None and kit != _SHARED:
            self._document.apply(
                Together(tuple(_made(name, kit, state)), name=_("A character for {name}", name=name.title()))
            )
        elif role is not None and kit == _SHARED:
            self._document.apply(RemoveRole(role.name))
        elif role is not None and kit != role.kit:
            lines = self._session.lines
            here, shown = state.open_line, state.line.role_on_show
            lines.open(lines.where_speaking(role.name), role.name)
            self._document.apply(UseKit(kit))
            lines.open(here, shown)
        self.refresh()


def _speakers(state: State) -> tuple[str, ...]:
    """The roles that the scene has, then those whom a script names besides; '' is the first role while it has no name."""
    found = {role.name.casefold(): role.name for role in state.roles}
    named = [name for line in state.lines for name in names_in(line.script)]
    for name in named:
        found.setdefault(name.casefold(), name)
    if state.roles[0].name == "" and (len(found) < 3 or len(state.roles) == 1):
        # while no role has a name the speakers alone are listed: all of them share the first
        return tuple(name for name in found.values() if name)
    return tuple(found.values())


def _made(name: str, kit: str, state: State) -> list[Edit]:
    """A role for a speaker. The first role gets the name of the other speaker, where there is just one."""
    edits: list[Edit] = []
    others = [other for other in _speakers(state) if other and other.casefold() != name.casefold()]
    if state.roles[0].name == "" and len(state.roles) == 1 and others:
        edits.append(RenameRole("", others[0].title()))
    return [*edits, AddRole(name.title(), kit)]
