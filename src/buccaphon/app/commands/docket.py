"""The docket from the keyboard: the scenes of a folder, those first that need an eye, and on to the next one."""

from __future__ import annotations

from datetime import datetime
from functools import partial
from pathlib import Path

from buccaphon.app.commands import file
from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.session.session import Session
from buccaphon.batch.docket import DocketScene, Marks, Standing, next_after, read_docket
from buccaphon.errors import BuccaphonError
from buccaphon.texts import N_, _, ngettext


def show(desk: Desk) -> None:
    """The scenes of the open project's folder, or of one that is chosen."""
    path = desk.session.document.project.path
    folder = path.parent if path is not None else desk.ask.folder(_("A folder of scenes"), file.folder_of(desk))
    if folder is not None:
        show_folder(desk, folder)


def show_other(desk: Desk) -> None:
    folder = desk.ask.folder(_("A folder of scenes"), file.folder_of(desk))
    if folder is not None:
        show_folder(desk, folder)


def show_folder(desk: Desk, folder: Path) -> None:
    try:
        scenes = read_docket(folder)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
        return
    if not scenes:
        desk.say(_("There are no scenes in {folder}. `buccaphon batch` writes one for each line.", folder=folder.name))
        return
    choices = [
        Choice(scene.title, (said := _said_of(scene)), partial(file.open_path, desk, scene.path), said)
        for scene in scenes
    ]
    left = sum(scene.standing is Standing.TO_DO for scene in scenes)
    title = ngettext(
        "{folder}: {count} scene to look at", "{folder}: {count} scenes to look at", left, folder=folder.name
    )
    desk.chooser.ask(title, _("Search by name, person or state"), choices)


def done_next(desk: Desk) -> None:
    """Save the scene, mark it as looked at, and open the one that needs an eye most."""
    path = desk.session.document.project.path
    if path is not None:
        file.save(desk, partial(_go_on, desk, path))


def _go_on(desk: Desk, path: Path) -> None:
    try:
        mark = Marks(path.parent).put(path.name, Standing.LOOKED_AT)
        following = next_after(path, read_docket(path.parent), mark)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
        return
    if following is None:
        desk.say(_("All scenes in {folder} were looked at.", folder=path.parent.name))
    else:
        file.open_path(desk, following.path)
        desk.say(_("{done} is done. Next: {title}.", done=path.stem, title=following.title))


def _said_of(scene: DocketScene) -> str:
    found, mark, parts = scene.found, scene.mark, list[str]()
    if found is not None:
        if found.doubts:
            parts.append(ngettext("{count} uncertain word", "{count} uncertain words", found.doubts))
        if found.issues:
            parts.append(ngettext("{count} issue", "{count} issues", len(found.issues)))
        parts.append(_("{seconds:.1f} s", seconds=found.seconds))
    if mark is not None:
        day = datetime.fromtimestamp(mark.when).strftime("%Y-%m-%d %H:%M")
        parts.append(_("{state} by {who}, {day}", state=mark.standing.label, who=mark.who, day=day))
    else:
        parts.append(Standing.TO_DO.label)
    return " · ".join(parts)


def _saved_somewhere(session: Session) -> str:
    return "" if session.document.project.path is not None else _("Open a scene of a folder first.")


COMMANDS = (
    Command("docket", "File", N_("Scenes of this folder…"), ("Ctrl+Alt+L",), show),
    Command("docket-folder", "File", N_("Scenes of another folder…"), (), show_other),
    Command("done-next", "File", N_("Done, next scene"), ("Ctrl+Alt+Return",), done_next, _saved_somewhere),
)
