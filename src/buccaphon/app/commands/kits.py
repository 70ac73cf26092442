"""Characters: brought in, shown, set, named, saved, and packed with the project."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

from buccaphon.app.commands import needs
from buccaphon.app.commands.desk import Command, Desk, View
from buccaphon.app.commands.file import folder_of, open_path
from buccaphon.app.commands.look import toggle_view
from buccaphon.app.kitpage.page import KitPage
from buccaphon.app.overlays.chooser import Choice
from buccaphon.app.session import starting
from buccaphon.errors import BuccaphonError
from buccaphon.kits.kit import CutOut, Drawn, Kit, OtherFile, Reference
from buccaphon.kits.model.names import MODEL_SUFFIXES, host_names
from buccaphon.kits.store import SUFFIX as KIT_SUFFIX
from buccaphon.kits.store import save_kit
from buccaphon.painting.characters.loading import KIT_SUFFIXES, PICTURE_SUFFIXES
from buccaphon.project.edits.kits import PutKit, UseKit
from buccaphon.project.file.packing import PACK_SUFFIX
from buccaphon.texts import N_, _


def connect_page(desk: Desk, page: KitPage) -> None:
    """Have the page's wishes done."""
    page.left.connect(lambda: desk.show_view(View.GALLEY))
    page.bring_in.connect(lambda: bring_in(desk))
    page.picture_wanted.connect(partial(choose_picture, desk))
    page.list_wanted.connect(lambda: match_file(desk))


def bring_in(desk: Desk) -> None:
    """A folder, or a file."""
    choices = [
        Choice(_("A folder of drawings: PNG, SVG, WebP or JPEG"), "", partial(bring_in_folder, desk)),
        Choice(_("A layered file: OpenRaster or SVG"), "", partial(bring_in_file, desk)),
        Choice(_("A sprite sheet, or one picture to cut"), "", partial(bring_in_file, desk)),
        Choice(_("A 3D head: glTF, GLB or VRM"), "", partial(bring_in_file, desk)),
        Choice(_("A saved character (.buccakit)"), "", partial(bring_in_file, desk)),
    ]
    desk.chooser.ask(_("Add a character"), _("What kind of artwork is it?"), choices)


def bring_in_folder(desk: Desk) -> None:
    path = desk.ask.folder(_("A folder of drawings"), folder_of(desk))
    if path is not None:
        desk.session.opening.open(path)


def bring_in_file(desk: Desk) -> None:
    kinds = " ".join(f"*{suffix}" for suffix in (*KIT_SUFFIXES, KIT_SUFFIX))
    path = desk.ask.file_to_open(_("Add a character"), folder_of(desk), _("Characters ({kinds})", kinds=kinds))
    if path is not None:
        desk.session.opening.open(path)


def next_kit(desk: Desk) -> None:
    """The next of the project's characters; Marigold drawn by poses where there is none."""
    state = desk.session.document.state
    names = [kit.name for kit in state.kits]
    if not names:
        desk.say(_("No character yet. Press F8 to add one, or drop its folder or file here."))
        return
    after = names.index(state.kit) + 1 if state.kit in names else 0
    desk.session.document.apply(UseKit(names[after % len(names)], name=_("Show another character")))
    desk.say(f"{names[after % len(names)]}")


def save(desk: Desk) -> None:
    kit = desk.session.characters.kit
    if kit is None:
        return
    begin = folder_of(desk) / f"{kit.name.replace(' ', '_').replace(',', '')}{KIT_SUFFIX}"
    path = desk.ask.file_to_write(_("Save the character"), begin, _("A character (*{suffix})", suffix=KIT_SUFFIX))
    if path is None:
        return
    target = path if path.suffix == KIT_SUFFIX else path.with_name(path.name + KIT_SUFFIX)
    try:
        save_kit(kit, target)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
    else:
        desk.say(
            _("Saved: {name}. It refers to its artwork by relative paths, so keep them together.", name=target.name)
        )


def match_list(desk: Desk) -> None:
    """The host's names, pasted on the kit page."""
    desk.show_view(View.KIT)
    desk.kit_page().names.ask_for_list()


def match_file(desk: Desk) -> None:
    """The host's names in a text or CSV file."""
    models = " ".join(f"*{suffix}" for suffix in MODEL_SUFFIXES)
    path = desk.ask.file_to_open(
        _("The host's names"), folder_of(desk), _("Names, or a model (*.txt *.csv *.tsv {models})", models=models)
    )
    if path is None:
        return
    try:
        names = host_names(path)
    except BuccaphonError as problem:
        desk.session.document.report(problem)
        return
    desk.show_view(View.KIT)
    desk.kit_page().names.match_names(names)


def chart_of_names(desk: Desk) -> None:
    """A chart with a mouth for each of the character's drawings or shapes."""
    kit = desk.session.characters.kit
    if kit is None:
        return
    if not desk.session.characters.use_own_chart():
        desk.say(
            _(
                "Fewer than two mouths of {name} were recognised by name. Name its drawings rest, ah, oh, mbp …",
                name=kit.name,
            )
        )
        return
    desk.show_view(View.SPECIMEN)


def choose_picture(desk: Desk, use: str) -> None:
    """A picture for a use of the character in the mirror: face, piece, inside, reference."""
    kit = desk.session.characters.kit
    if kit is None:
        return
    kinds = " ".join(f"*{suffix}" for suffix in PICTURE_SUFFIXES)
    path = desk.ask.file_to_open(_("A picture"), folder_of(desk), _("Pictures ({kinds})", kinds=kinds))
    if path is not None:
        desk.session.document.attempt(
            PutKit(with_picture(kit, use, path), instead_of=kit.name, name=_("Change {name}", name=kit.name))
        )


def with_picture(kit: Kit, use: str, path: Path) -> Kit:
    file = OtherFile(path)
    if use == "reference":
        return replace(kit, reference=Reference(file))
    if use == "face" and isinstance(kit.look, Drawn):
        return replace(kit, look=replace(kit.look, face=file))
    if use == "piece" and isinstance(kit.look, CutOut):
        return replace(kit, look=replace(kit.look, piece=file))
    if use == "inside" and isinstance(kit.look, CutOut):
        return replace(kit, look=replace(kit.look, inside_picture=file))
    return kit


def write_templates(desk: Desk) -> None:
    """The chart's mouths as drawings to start from."""
    folder = desk.ask.folder(_("Choose a folder for the starter drawings"), folder_of(desk))
    if folder is not None:
        session = desk.session
        starting.write_templates(session.document, session.characters, session.jobs, folder, desk.specimen.theme)


def pack(desk: Desk) -> None:
    """The project with everything it uses, in one file."""
    begin = folder_of(desk) / f"{desk.session.document.title.replace(' ', '_')}{PACK_SUFFIX}"
    path = desk.ask.file_to_write(_("Pack the project"), begin, _("A pack (*{suffix})", suffix=PACK_SUFFIX))
    if path is not None:
        named = path if path.name.endswith(".zip") else path.with_name(path.name + PACK_SUFFIX)
        desk.session.saving.pack(named)


def unpack(desk: Desk) -> None:
    """Open a pack in a folder of its own."""
    path = desk.ask.file_to_open(_("Open a pack"), folder_of(desk), _("A pack (*{suffix} *.zip)", suffix=PACK_SUFFIX))
    if path is not None:
        open_path(desk, path)


COMMANDS = (
    Command("bring-in-kit", "Character", N_("Add a character…"), (), bring_in),
    Command("bring-in-folder", "Character", N_("Add a folder of drawings…"), (), bring_in_folder),
    Command("next-kit", "Character", N_("Next character"), ("C",), next_kit),
    Command("kit-page", "Character", N_("Character page"), ("F8",),
            partial(toggle_view, view=View.KIT)),
    Command("match-names", "Character", N_("Paste host names…"), (), match_list, needs.kit),
    Command("match-file", "Character", N_("Load host names from a file…"), (), match_file, needs.kit),
    Command("chart-of-kit", "Character", N_("New chart from this character's mouths"), (), chart_of_names, needs.kit),
    Command("save-kit", "Character", N_("Save the character…"), (), save, needs.kit),
    Command("templates", "Character", N_("Save starter drawings…"), (), write_templates),
    Command("pack", "File", N_("Pack the project with all it uses…"), (), pack, needs.take),
    Command("unpack", "File", N_("Open a packed project…"), (), unpack),
)  # fmt: skip
