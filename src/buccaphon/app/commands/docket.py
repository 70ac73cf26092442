"""The docket from the keyboard: the scenes of a folder, what is done to several of them, and the next one."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from buccaphon.app.commands import file
from buccaphon.app.commands.desk import Command, Desk, View
from buccaphon.app.docket.page import DocketPage
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.session.session import Session
from buccaphon.app.settings import DELIVER_DONE
from buccaphon.batch.changing import Change
from buccaphon.batch.docket import Marks
from buccaphon.batch.ledger import NAME as LEDGER
from buccaphon.errors import BuccaphonError
from buccaphon.kits.store import SUFFIX as KIT_SUFFIX
from buccaphon.mouths.chart_file import SUFFIX as CHART_SUFFIX
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.project.edits.scene import SetStanding
from buccaphon.project.standing import Standing
from buccaphon.texts import N_, _, ngettext
from buccaphon.timing import FrameRate

_OF_A_BATCH = ("report.csv", "report.html", LEDGER)
_RATES = ("12", "23.976", "24", "25", "29.97", "30", "48", "50", "59.94", "60")


def show(desk: Desk) -> None:
    """The scenes of the open scene's folder, or of one that is chosen; from the page, back to the line."""
    if desk.view() is View.DOCKET:
        desk.show_view(View.GALLEY)
        return
    path, known = desk.session.document.project.path, desk.session.docketing.folder
    folder = path.parent if path is not None else known
    if folder is None:
        show_other(desk)
    else:
        show_folder(desk, folder)


def show_other(desk: Desk) -> None:
    folder = desk.ask.folder(_("A folder of scenes"), file.folder_of(desk))
    if folder is not None:
        show_folder(desk, folder)


def show_folder(desk: Desk, folder: Path) -> None:
    try:
        desk.session.docketing.open(folder)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
        return
    if not desk.session.docketing.scenes:
        desk.say(_("There are no scenes in {folder}. `buccaphon batch` writes one for each line.", folder=folder.name))
        return
    desk.docket_page().refresh()
    desk.show_view(View.DOCKET)


def show_report(desk: Desk, paths: Sequence[Path]) -> bool:
    """The scenes of a batch whose report or ledger is opened; False where the paths are anything else."""
    if len(paths) != 1 or paths[0].name not in _OF_A_BATCH or not (paths[0].parent / LEDGER).exists():
        return False
    show_folder(desk, paths[0].parent)
    return True


def connect_page(desk: Desk, page: DocketPage) -> None:
    """Have the page's wishes done."""
    page.left.connect(lambda: desk.show_view(View.GALLEY))
    page.wanted.connect(partial(open_scene, desk))
    page.folder_wanted.connect(partial(show_other, desk))
    page.align_wanted.connect(lambda: change(desk, Change(align=True)))
    page.deliver_wanted.connect(lambda: change(desk, Change(deliver=True)))
    page.chart_wanted.connect(partial(choose_chart, desk))
    page.rate_wanted.connect(partial(choose_rate, desk))
    page.character_wanted.connect(partial(choose_character, desk))


def open_scene(desk: Desk, path: Path) -> None:
    """Return on a row: the scene is in the galley."""

    def go_on() -> None:
        desk.session.opening.open(path)
        desk.show_view(View.GALLEY)

    file.leave(desk, go_on)


def change(desk: Desk, what: Change) -> None:
    """Do it to the chosen scenes, in the background."""
    chosen = desk.docket_page().chosen()
    if chosen:
        desk.session.docketing.change(chosen, what)
    else:
        desk.say(_("Choose some scenes first."))


def choose_chart(desk: Desk) -> None:
    charts = [
        Choice(name, chart.about, partial(change, desk, Change(chart=name))) for name, chart in shipped_charts().items()
    ]
    own = Choice(_("A chart file…"), _("Your own chart"), partial(_choose_chart_file, desk))
    desk.chooser.ask(_("Chart for the chosen scenes"), _("Search by name"), [*charts, own])


def _choose_chart_file(desk: Desk) -> None:
    path = desk.ask.file_to_open(
        _("A mouth chart"), file.folder_of(desk), _("Mouth charts (*{suffix})", suffix=CHART_SUFFIX)
    )
    if path:
        change(desk, Change(chart=str(path)))


def choose_rate(desk: Desk) -> None:
    choices = [
        Choice(_("{label} fps", label=FrameRate.parse(rate).label), "", partial(change, desk, Change(rate=rate)))
        for rate in _RATES
    ]
    desk.chooser.ask(_("Frame rate for the chosen scenes"), _("Search"), choices)


def choose_character(desk: Desk) -> None:
    kinds = _("Characters (*{kit} *.glb *.gltf *.vrm *.ora *.png);;All files (*)", kit=KIT_SUFFIX)
    path = desk.ask.file_to_open(_("Character for the chosen scenes"), file.folder_of(desk), kinds)
    if path:
        change(desk, Change(character=path))


def done_next(desk: Desk) -> None:
    """Save the scene, mark it as looked at, export it if that is wished, and open the one that needs an eye most."""
    path = desk.session.document.project.path
    if path is not None:
        document = desk.session.document
        document.apply(SetStanding(Standing.LOOKED_AT, name=_("Mark as looked at")))
        file.save(desk, partial(_go_on, desk, path))


def _go_on(desk: Desk, path: Path) -> None:
    docketing = desk.session.docketing
    try:
        mark = Marks(path.parent).put(path.name, Standing.LOOKED_AT)
        following = docketing.following(path, mark)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
        return
    if DELIVER_DONE.read():
        docketing.change([path], Change(deliver=True))
    if following is None:
        desk.say(_("All scenes in {folder} were looked at.", folder=path.parent.name))
        return
    file.leave(desk, partial(desk.session.opening.open, following.path))
    left = sum(scene.standing is Standing.TO_DO for scene in docketing.scenes)
    more = ngettext("{count} scene to look at", "{count} scenes to look at", left)
    desk.say(_("{done} is done. Next: {title}, {more}.", done=path.stem, title=following.title, more=more))


def _saved_somewhere(session: Session) -> str:
    return "" if session.document.project.path is not None else _("Open a scene of a folder first.")


COMMANDS = (
    Command("docket", "File", N_("Scenes of this folder…"), ("Ctrl+Alt+L",), show),
    Command("docket-folder", "File", N_("Scenes of another folder…"), (), show_other),
    Command("done-next", "File", N_("Done, next scene"), ("Ctrl+Alt+Return",), done_next, _saved_somewhere),
)
