"""The desk: everything that a command may use; and the command, a function of the desk with its record."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import IntEnum
from pathlib import Path

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QColorDialog, QFileDialog, QMessageBox, QWidget

from buccaphon.app.commands.shortcuts import Shortcuts
from buccaphon.app.docket.page import DocketPage
from buccaphon.app.finding.fields import Field
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.kitpage.page import KitPage
from buccaphon.app.mirror.mirror import Mirror
from buccaphon.app.overlays.chooser import Chooser
from buccaphon.app.overlays.inline_edit import InlineEdit
from buccaphon.app.overlays.key_edit import KeyEdit
from buccaphon.app.session.session import Session
from buccaphon.app.specimen.page import SpecimenPage
from buccaphon.texts import N_, _


class Step(IntEnum):
    """The steps of the rail, in the order of the work."""

    TAKE = 0
    SCRIPT = 1
    MOUTHS = 2
    MOTION = 3
    EXPORT = 4

    @property
    def id(self) -> str:
        return self.name.lower()

    @property
    def text(self) -> str:
        return (N_("Take"), N_("Script"), N_("Mouths"), N_("Motion"), N_("Export"))[self]

    @property
    def title(self) -> str:
        """In the language in use."""
        return _(self.text)


class View(IntEnum):
    """What stands in the middle of the window."""

    GALLEY = 0
    SPECIMEN = 1
    SHEET = 2
    KIT = 3
    DOCKET = 4


class Ask:
    """Asks for files and for a decision, in dialogs of the desktop."""

    def __init__(self, over: QWidget) -> None:
        self._over = over

    def file_to_open(self, title: str, folder: Path, kinds: str) -> Path | None:
        name, _rest = QFileDialog.getOpenFileName(self._over, title, str(folder), kinds)
        return Path(name) if name else None

    def file_to_write(self, title: str, begin: Path, kinds: str) -> Path | None:
        name, _rest = QFileDialog.getSaveFileName(self._over, title, str(begin), kinds)
        return Path(name) if name else None

    def folder(self, title: str, begin: Path) -> Path | None:
        name = QFileDialog.getExistingDirectory(self._over, title, str(begin))
        return Path(name) if name else None

    def color(self, title: str, begin: str) -> str:
        """As '#rrggbb'; '' when none was chosen."""
        found = QColorDialog.getColor(QColor(begin), self._over, title)
        return found.name() if found.isValid() else ""

    def whether_to_save(self, title: str) -> QMessageBox.StandardButton:
        choices = QMessageBox.StandardButton
        return QMessageBox.question(
            self._over,
            _("Save changes?"),
            _("Save changes to “{title}”?", title=title),
            choices.Save | choices.Discard | choices.Cancel,
            choices.Save,
        )


def _nothing(_session: Session) -> str:
    return ""


@dataclass(frozen=True, slots=True)
class Command:
    """keys: shortcuts in Qt's portable spelling, the first is shown. run: does it. needs: the sentence why it cannot be done
    now, "" when it can; menu and palette show it, and so does whoever tries. fields: what the {fields} of the text stand for;
    texts are translated."""

    id: str
    group: str
    text: str
    keys: tuple[str, ...]
    run: Callable[[Desk], None]
    needs: Callable[[Session], str] = _nothing
    fields: Mapping[str, str | int] = field(default_factory=dict)

    @property
    def label(self) -> str:
        """In the language in use."""
        told = {name: _(value) if isinstance(value, str) else value for name, value in self.fields.items()}
        return _(self.text, **told)


@dataclass(eq=False)
class Desk:
    """say: a notice. show_step: go to a step of the rail. write_channel: put it where a channel of one's own is written.
    show_motion: fold a part of the step Motion out. follower_sets, begin_followers: sets to begin from, and beginning
    from one. choose_last_export: show the file that was just put into the export list. show_view, view: what stands in
    the middle. set_theme: dress everything anew, by the theme's name. fold_side: fold the panel of the step away, or out
    again. fields: all that can be set, each with what brings it up. record: a scratch take, or its end. close: the
    window. shortcuts: which keys do what. found: the moments of all that the last search found, rising."""

    session: Session
    galley: GalleyView
    mirror: Mirror
    specimen: SpecimenPage
    kit_page: Callable[[], KitPage]
    docket_page: Callable[[], DocketPage]
    chooser: Chooser
    inline: InlineEdit
    key_edit: KeyEdit
    shortcuts: Shortcuts
    ask: Ask
    say: Callable[[str], None]
    show_step: Callable[[Step], None]
    write_channel: Callable[[], None]
    show_motion: Callable[[str], None]
    follower_sets: Callable[[], Mapping[str, Sequence[object]]]
    begin_followers: Callable[[str], None]
    choose_last_export: Callable[[], None]
    show_view: Callable[[View], None]
    view: Callable[[], View]
    set_theme: Callable[[str], None]
    fold_side: Callable[[], None]
    fields: Callable[[], Sequence[tuple[Callable[[], object], Field]]]
    record: Callable[[], None]
    close: Callable[[], object]
    commands: tuple[Command, ...] = ()
    found: tuple[float, ...] = field(default=())

    def do(self, command: Command) -> None:
        """Run a command, or say why it cannot be done now."""
        reason = command.needs(self.session)
        if reason:
            self.say(reason)
        else:
            command.run(self)

    def key_of(self, ident: str) -> str:
        """A command's key as it is written on keyboards here."""
        return self.shortcuts.written(ident)

    def go(self, seconds: float) -> None:
        """Put the playhead somewhere, and have it in view."""
        self.session.document.go(seconds)
        self.galley.show_time(seconds)
