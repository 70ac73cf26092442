"""How the mirror shows the face."""

from __future__ import annotations

from dataclasses import replace

from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.mirror.look import Backdrop
from buccaphon.texts import N_, _


def toggle_window(desk: Desk) -> None:
    desk.mirror.toggle_window()


def toggle_company(desk: Desk) -> None:
    desk.mirror.toggle_company()


def toggle_mouth(desk: Desk) -> None:
    desk.mirror.set_view(desk.mirror.face.view.toggled())


def next_beside(desk: Desk) -> None:
    view = desk.mirror.face.view.next_beside()
    desk.mirror.set_view(view)
    desk.say(_("Beside the face: {label}.", label=view.beside.label))


def next_backdrop(desk: Desk) -> None:
    view = desk.mirror.face.view.next_backdrop()
    desk.mirror.set_view(view)
    desk.say(_("Background: {label}.", label=view.backdrop.label))


def choose_color(desk: Desk) -> None:
    """A colour behind the face."""
    view = desk.mirror.face.view
    color = desk.ask.color(_("Behind the face"), view.color)
    if color:
        desk.mirror.set_view(replace(view, backdrop=Backdrop.COLOR, color=color))


COMMANDS = (
    Command("mirror-window", "Character", N_("Open the mirror in its own window"), ("F9",), toggle_window),
    Command("mirror-company", "Character", N_("Mirror: all roles side by side, or one"), ("Ctrl+F9",), toggle_company),
    Command("mirror-mouth", "Character", N_("Mirror: mouth only, or the whole face"), ("Shift+C",), toggle_mouth),
    Command("mirror-beside", "Character", N_("Beside the face: nothing, the chart's mouth, the mouth before the last change"),
            ("Ctrl+Shift+C",), next_beside),
    Command("mirror-color", "Character", N_("Background colour…"), (), choose_color),
    Command("mirror-backdrop", "Character", N_("Background: dark, light, checkerboard, a colour"), (), next_backdrop),
)  # fmt: skip
