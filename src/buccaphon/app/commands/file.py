"""Files: opening, saving, exporting, and leaving without losing anything."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from datetime import datetime
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QMessageBox

import buccaphon
from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.overlays.empty_page import recent_projects
from buccaphon.app.places import safe_folder
from buccaphon.app.session.dropping import what_they_are
from buccaphon.app.session.opening import LEXICON_SUFFIX
from buccaphon.audio.reading import SUFFIXES
from buccaphon.demo.line import NIGHT_CALL, STALL_CALL, Line, demo_project, demo_scene
from buccaphon.errors import BuccaphonError
from buccaphon.files import write_whole
from buccaphon.formats.registry import WORDING_SUFFIXES
from buccaphon.mouths.chart_file import SUFFIX as CHART_SUFFIX
from buccaphon.project.file.safekeeping import Kept, versions
from buccaphon.project.file.store import SUFFIX, open_project
from buccaphon.project.project import Project
from buccaphon.speech.lexicon_text import lexicon_as_text
from buccaphon.texts import N_, _


def ask_and_open(desk: Desk) -> None:
    sounds = " ".join(f"*{suffix}" for suffix in SUFFIXES)
    kinds = _(
        "Recordings and projects ({sounds} *{suffix});;A mouth chart (*{charts});;All files (*)",
        sounds=sounds,
        suffix=SUFFIX,
        charts=CHART_SUFFIX,
    )
    path = desk.ask.file_to_open(_("Open"), folder_of(desk), kinds)
    if path:
        open_path(desk, path)


def open_path(desk: Desk, path: Path) -> None:
    """Open a project (asking about unsaved changes first), unpack one, or bring in a recording, words, a chart or a
    character."""
    if path.suffix.lower() == ".zip":
        folder = desk.ask.folder(_("Unpack into an empty folder"), path.parent)
        if folder is not None:
            leave(desk, lambda: desk.session.saving.unpack(path, folder, desk.session.opening.open))
    elif path.suffix.lower() == SUFFIX:
        leave(desk, lambda: desk.session.opening.open(path))
    else:
        desk.session.opening.open(path)


def open_all(desk: Desk, paths: Iterable[Path], at: float | None = None) -> None:
    """Several at once: a project first, then what comes into it, several recordings as lines. What cannot be opened is told
    with its reason. at: seconds of the scene at which each of those lines begins; None for one after another."""
    dropped = what_they_are(paths)

    def bring_in() -> None:
        recordings = [path for path in dropped.recordings if path not in known_recordings()]
        if len(recordings) > 1:
            desk.session.opening.open_lines(sorted(recordings, key=lambda path: path.name.lower()), at)
            recordings = []
        for path in (*recordings, *dropped.characters, *dropped.others):
            desk.session.opening.open(path)
        if dropped.drawings:
            desk.session.opening.bring_in_drawings(dropped.drawings)
        if dropped.says_unread:
            desk.say(dropped.says_unread)

    def known_recordings() -> set[Path]:
        lines = desk.session.document.state.lines if dropped.projects else ()
        return {take.path for line in lines for take in line.takes}

    if not dropped.projects:
        bring_in()
        return
    project = dropped.projects[0]
    if project.suffix.lower() == ".zip":
        open_path(desk, project)
        if dropped.says_unread:
            desk.say(dropped.says_unread)
        return

    def go_on() -> None:
        desk.session.opening.open(project)
        bring_in()

    leave(desk, go_on)


def new_scene(desk: Desk) -> None:
    """An empty page, with a name and words of its own. What was open is saved or let go first."""
    leave(desk, lambda: desk.session.opening.open_prepared(Project()))


def open_recent(desk: Desk) -> None:
    """A project that was open lately."""
    found = [path for path in recent_projects() if path.exists()]
    if not found:
        desk.say(_("No projects were open lately. Ctrl+O opens one."))
        return
    choices = [Choice(path.stem, str(path.parent), partial(open_path, desk, path)) for path in found]
    desk.chooser.ask(_("Recent projects"), _("Search by name or folder"), choices)


def open_demo(desk: Desk, line: Line = STALL_CALL) -> None:
    leave(desk, lambda: desk.session.opening.open_prepared(demo_project(line)))


def open_demo_scene(desk: Desk) -> None:
    leave(desk, lambda: desk.session.opening.open_prepared(demo_scene()))


def save(desk: Desk, then: Callable[[], None] = lambda: None) -> None:
    """Save, and go on when it is done."""
    path = desk.session.document.project.path
    if path:
        desk.session.saving.save(path, then)
    else:
        save_as(desk, then)


def save_as(desk: Desk, then: Callable[[], None] = lambda: None) -> None:
    begin = folder_of(desk) / f"{desk.session.document.title.replace(' ', '_')}{SUFFIX}"
    path = desk.ask.file_to_write(_("Save the project"), begin, _("Buccaphon project (*{suffix})", suffix=SUFFIX))
    if path:
        desk.session.saving.save(path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX), then)


def leave(desk: Desk, then: Callable[[], None]) -> None:
    """Go on once the project may be left: it is unchanged, or the user saved it or let it go."""
    document = desk.session.document
    if not document.project.is_changed:
        then()
        return
    answer = desk.ask.whether_to_save(document.title)
    if answer == QMessageBox.StandardButton.Save:
        save(desk, lambda: leave(desk, then))  # and asks again if something was done while it was saved
    elif answer == QMessageBox.StandardButton.Discard:
        then()


def close(desk: Desk) -> None:
    desk.close()


def ask_for_words(desk: Desk) -> None:
    kinds = " ".join(f"*{suffix}" for suffix in WORDING_SUFFIXES)
    filters = _(
        "Scripts, subtitles and times ({kinds});;A lexicon (*{suffix} *.txt)",
        kinds=kinds,
        suffix=LEXICON_SUFFIX,
    )
    path = desk.ask.file_to_open(_("Import words"), folder_of(desk), filters)
    if path:
        desk.session.opening.bring_in_words(path)


def write_lexicon(desk: Desk) -> None:
    """The project's pronunciations and one's own, as text."""
    lexicon = desk.session.document.state.lexicon.over(desk.session.lexicon.always)
    begin = folder_of(desk) / f"words{LEXICON_SUFFIX}"
    path = desk.ask.file_to_write(_("Save the lexicon"), begin, _("Lexicon (*{suffix})", suffix=LEXICON_SUFFIX))
    if path:
        write_and_say(desk, path, lexicon_as_text(lexicon).encode())


def show_versions(desk: Desk) -> None:
    """Earlier versions of the saved project."""
    path = desk.session.document.project.path
    found = versions(path, safe_folder()) if path else []
    if path is None or not found:
        desk.say(_("There are no earlier versions yet. One is kept every time you save."))
        return
    choices = [Choice(when, "", partial(_open_version, desk, path, file)) for when, file in found]
    desk.chooser.ask(_("Earlier versions"), _("Search by date"), choices)


def _open_version(desk: Desk, path: Path, file: Path) -> None:
    """Open a version under the project's name; it counts as changed, and the newest stays on the disk until saved."""

    def go_on() -> None:
        try:
            project = Project(open_project(file, path.parent), path)
        except BuccaphonError as problem:
            desk.session.document.report(problem)
            return
        project.count_as_changed()
        desk.session.opening.open_prepared(project)

    leave(desk, go_on)


def show_kept(desk: Desk) -> None:
    """What earlier sessions left without saving."""
    safekeeping = desk.session.safekeeping
    found = safekeeping.left_behind()
    if not found:
        desk.say(_("Nothing is left of an earlier session that was not saved."))
        return

    def go_on(kept: Kept) -> None:
        leave(desk, partial(safekeeping.open, kept))

    choices = [Choice(kept.title, when(kept.path), partial(go_on, kept)) for kept in found]
    desk.chooser.ask(_("Work that was not saved"), _("Kept when Buccaphon ended without saving"), choices)


def when(path: Path) -> str:
    """The day and time at which a file was written."""
    try:
        return datetime.fromtimestamp(path.stat().st_mtime).strftime("%Y-%m-%d %H:%M")
    except OSError:
        return ""


def write_and_say(desk: Desk, path: Path, content: bytes) -> None:
    """Write something small that was asked for."""
    try:
        write_whole(path, content)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
    else:
        desk.say(_("Saved: {name}", name=path.name))


def save_frame(desk: Desk) -> None:
    """The frame at the playhead as a picture."""
    document = desk.session.document
    number = document.frame + document.state.first_number
    begin = folder_of(desk) / f"{document.title.replace(' ', '_')}.{number:04d}.png"
    path = desk.ask.file_to_write(_("Save this frame as a picture"), begin, _("PNG (*.png)"))
    if path is None:
        return
    try:
        content = desk.session.exporting.still()
    except BuccaphonError as problem:
        document.report(problem)
    else:
        write_and_say(desk, path if path.suffix else path.with_suffix(".png"), content)


def folder_of(desk: Desk) -> Path:
    """Where dialogs begin: at the project or its recording, unless that is part of the application."""
    project = desk.session.document.project
    known = project.path or (project.state.take.path if project.state.take else None)
    inside = Path(buccaphon.__file__).parent
    return known.parent if known and inside not in known.parents else Path.home()


COMMANDS = (
    Command("open", "File", N_("Open a recording or project…"), ("Ctrl+O",), ask_and_open),
    Command("new-scene", "File", N_("New scene"), ("Ctrl+N",), new_scene),
    Command("open-recent", "File", N_("Open a recent project…"), ("Ctrl+Alt+O",), open_recent),
    Command("close-scene", "File", N_("Close the scene"), ("Ctrl+F4",), new_scene, needs.something_open),
    Command("open-demo", "File", N_("Open the demo"), ("Ctrl+D",), open_demo),
    Command(
        "open-demo-line",
        "File",
        N_("Open the demo's Spanish line"),
        ("Ctrl+Shift+D",),
        partial(open_demo, line=NIGHT_CALL),
    ),
    Command("open-demo-scene", "File", N_("Open the demo's scene of two speakers"), ("Ctrl+Alt+D",), open_demo_scene),
    Command("save", "File", N_("Save"), ("Ctrl+S",), save),
    Command("save-as", "File", N_("Save as…"), ("Ctrl+Shift+S",), save_as),
    Command("save-frame", "File", N_("Save this frame as a picture…"), (), save_frame, needs.recording),
    Command("quit", "File", N_("Close the window"), ("Ctrl+Q",), close),
    Command("versions", "File", N_("Earlier versions…"), (), show_versions),
    Command("kept-work", "File", N_("Open work that was not saved…"), (), show_kept),
    Command("words", "File", N_("Import words…"), ("Ctrl+Shift+O",), ask_for_words),
    Command("lexicon-out", "File", N_("Save the lexicon as a text file…"), (), write_lexicon, needs.own_pronunciation),
)
