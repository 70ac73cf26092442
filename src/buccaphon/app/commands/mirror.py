"""How the mirror shows the face."""

from __future__ import annotations

from dataclasses import replace

from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.mirror.look import Backdrop


def toggle_window(desk: Desk) -> None:
    desk.mirror.toggle_window()


def toggle_mouth(desk: Desk) -> None:
    desk.mirror.set_view(desk.mirror.face.view.toggled())


def next_beside(desk: Desk) -> None:
    view = desk.mirror.face.view.next_beside()
    desk.mirror.set_view(view)
    desk.say(f"Beside the face: {view.beside.label}.")


def next_backdrop(desk: Desk) -> None:
    view = desk.mirror.face.view.next_backdrop()
    desk.mirror.set_view(view)
    desk.say(f"Background: {view.backdrop.label}.")


def choose_color(desk: Desk) -> None:
    """A colour behind the face."""
    view = desk.mirror.face.view
    color = desk.ask.color("Behind the face", view.color)
    if color:
        desk.mirror.set_view(replace(view, backdrop=Backdrop.COLOR, color=color))


COMMANDS = (
    Command("mirror-window", "Character", "Open the mirror in its own window", ("F9",), toggle_window),
    Command("mirror-mouth", "Character", "Mirror: mouth only, or the whole face", ("Shift+C",), toggle_mouth),
    Command("mirror-beside", "Character", "Beside the face: nothing, the chart's mouth, the mouth before the last change",
            ("Ctrl+Shift+C",), next_beside),
    Command("mirror-color", "Character", "Background colour…", (), choose_color),
    Command("mirror-backdrop", "Character", "Background: dark, light, checkerboard, a colour", (), next_backdrop),
)  # fmt: skip
