"""The lines of the scene: gone between, brought in, named, muted, taken out."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QAbstractSlider

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.commands.file import folder_of
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.session.session import Session
from buccaphon.audio.reading import SUFFIXES
from buccaphon.project.delivering import called
from buccaphon.project.edits.lines import ChangeLine, RemoveLine
from buccaphon.project.speakers import speaking
from buccaphon.texts import N_, _
from buccaphon.timing import clock


def step(desk: Desk, by: int) -> None:
    """With a single line the page is gone through instead."""
    if len(desk.session.document.state.lines) > 1:
        desk.session.lines.step(by)
        return
    bar, way = desk.galley.verticalScrollBar(), QAbstractSlider.SliderAction
    if bar is not None:
        bar.triggerAction(way.SliderPageStepAdd if by > 0 else way.SliderPageStepSub)


def choose(desk: Desk) -> None:
    """Go to a line by its name or its words."""
    state = desk.session.document.state
    choices = [
        Choice(
            line.title or _("Line {number}", number=number + 1),
            " · ".join(part for part in (clock(line.take.offset) if line.take else "", _begins(line.script)) if part),
            partial(desk.session.lines.open, number),
        )
        for number, line in enumerate(state.lines)
    ]
    desk.chooser.ask(_("Lines of the scene"), _("Search by name or words"), choices)


def _begins(script: str) -> str:
    words = script.split()
    return " ".join(words[:8]) + (" …" if len(words) > 8 else "")


def add(desk: Desk) -> None:
    """A recording with words of its own."""
    sounds = " ".join(f"*{suffix}" for suffix in SUFFIXES)
    path = desk.ask.file_to_open(
        _("Add a line"), folder_of(desk), _("Recordings ({sounds});;All files (*)", sounds=sounds)
    )
    if path:
        desk.session.opening.open_lines((path,))


def remove(desk: Desk) -> None:
    """Its files stay."""
    desk.session.document.apply(RemoveLine(desk.session.document.state.line.key))


def toggle_heard_only(desk: Desk) -> None:
    document = desk.session.document
    line = document.state.line
    name = _("The line moves a mouth") if line.heard_only else _("The line is heard only")
    document.apply(ChangeLine(line.key, heard_only=not line.heard_only, name=name))
    desk.say(_("It moves a mouth again.") if line.heard_only else _("It is heard, and moves no mouth."))


def mute(desk: Desk) -> None:
    document = desk.session.document
    line = document.state.line
    document.apply(
        ChangeLine(line.key, muted=not line.muted, name=_("Unmute the line") if line.muted else _("Mute the line"))
    )
    desk.say(_("Heard in the scene again.") if line.muted else _("Muted: left out when the scene is played."))


def show_next_role(desk: Desk) -> None:
    """The mouth of the next role that speaks in the line, else of the next one of the scene."""
    document, lines = desk.session.document, desk.session.lines
    state = document.state
    names = speaking(state) if len(speaking(state)) > 1 else tuple(role.name for role in state.roles)
    here = names.index(state.role.name) if state.role.name in names else -1
    role = names[(here + 1) % len(names)]
    lines.open(lines.where_speaking(role), role)
    desk.say(_("The mouth of {name}.", name=called(state, role)))


def _other_roles(session: Session) -> str:
    several = len(session.document.state.roles) > 1
    return "" if several else _("One role says everything. Give another speaker a character in Script.")


def _other_lines(session: Session) -> str:
    several = len(session.document.state.lines) > 1
    return "" if several else _("There is only one line. Drop another recording to add one.")


COMMANDS = (
    Command("next-line", "Scene", N_("Next line"), ("PgDown",), partial(step, by=1)),
    Command("previous-line", "Scene", N_("Previous line"), ("PgUp",), partial(step, by=-1)),
    Command("choose-line", "Scene", N_("Go to a line…"), ("Ctrl+Alt+G",), choose, _other_lines),
    Command("add-line", "Scene", N_("Add a recording as a line…"), ("Ctrl+Alt+N",), add),
    Command("next-role", "Scene", N_("Show the mouth of the next role"), ("Ctrl+Alt+F",), show_next_role, _other_roles),
    Command("remove-line", "Scene", N_("Remove this line from the scene"), (), remove, needs.take),
    Command("heard-only", "Scene", N_("This line: heard only, or moving a mouth"), (), toggle_heard_only, needs.take),
    Command("mute-line", "Scene", N_("Mute or unmute this line in the scene"), ("Ctrl+Alt+M",), mute, needs.take),
)
