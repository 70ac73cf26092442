"""Drawings to start from: the chart's mouths in a folder, to be drawn over."""

from __future__ import annotations

from pathlib import Path

from buccaphon.app.session.characters import CharacterLoader
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.errors import Cancelled, TargetError
from buccaphon.files import is_there, write_whole
from buccaphon.kits.kit import CutOut
from buccaphon.painting.characters.drawn import DrawnCharacter
from buccaphon.painting.templates import Sheet, sheet_for, templates
from buccaphon.painting.theme import Theme
from buccaphon.progress import Progress
from buccaphon.texts import _, ngettext


def _sheet_of(characters: CharacterLoader) -> Sheet:
    kit, character = characters.kit, characters.character
    if kit is None or character is None:
        return Sheet()
    if isinstance(character, DrawnCharacter):
        box = character.mouths_box
        return sheet_for(*character.size(), (box.center().x(), box.center().y(), box.width()))
    line = kit.look.lip_line if isinstance(kit.look, CutOut) else ()
    if not line:
        return Sheet()
    middle = line[len(line) // 2]
    return sheet_for(*character.size(), (*middle, abs(line[-1][0] - line[0][0])))


def write_templates(document: Document, characters: CharacterLoader, jobs: Jobs, folder: Path, theme: Theme) -> None:
    """The chart's mouths as drawings to start from, into a folder; nothing there is written over. They are of the size of the
    character's face, where one is shown, with the mouths where its own are."""
    chart, sheet = document.chart, _sheet_of(characters)

    def work(progress: Progress) -> list[str]:
        files = templates(chart, lambda role: theme.color(role).name(), sheet)
        there = [name for name in files if is_there(folder / name)]
        if there:
            raise TargetError(str(folder), _("{there} is there already", there=there[0]), _("Choose an empty folder"))
        for number, (name, content) in enumerate(files.items()):
            if not progress(number / len(files), name):
                raise Cancelled
            write_whole(folder / name, content)
        return list(files)

    def done(written: list[str]) -> None:
        document.said.emit(
            ngettext(
                "{count} starter drawing saved in {name}. Draw over them, then add the folder as a character.",
                "{count} starter drawings saved in {name}. Draw over them, then add the folder as a character.",
                len(written),
                name=folder.name,
            )
        )

    jobs.start(Slot.EXPORT, _("Writing drawings to start from"), work, done)
