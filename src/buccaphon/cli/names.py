"""`buccaphon names`: which of a host's names stands for which mouth."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import click

from buccaphon.cli.common import ANY_PATH, write_and_say
from buccaphon.errors import KitError
from buccaphon.files import require_writable
from buccaphon.kits.casting import with_drawings
from buccaphon.kits.kit import Drawn, Kind, Kit, OtherFile
from buccaphon.kits.model.names import host_names
from buccaphon.kits.names.lists import read_list
from buccaphon.kits.names.matching import Matches, match_chart, match_pose
from buccaphon.kits.names.reasons import in_words
from buccaphon.kits.own.drawing import Role
from buccaphon.kits.own.entries import Entry
from buccaphon.kits.own.sorting import sort_drawings
from buccaphon.mouths.chart_file import find_chart
from buccaphon.texts import N_, _


@click.command("names")
@click.argument("names", type=ANY_PATH, metavar="PLACE")
@click.option("--chart", default="Ten", show_default=True, help=N_("A shipped chart's name, or a chart file (.toml)."))
@click.option("--to", "to", type=click.Choice(["mouths", "pose"]), default="mouths", show_default=True,
              help=N_("Match to the mouths of the chart, or to the parts of a pose."))  # fmt: skip
@click.option(
    "--own",
    is_flag=True,
    help=N_("Read PLACE as a character's own drawings, and write which of them shows each sound."),
)
@click.option("-o", "--out", type=ANY_PATH, metavar="OUT", help=N_("A .csv file; without it the table is printed."))
def names_command(names: Path, chart: str, to: str, own: bool, out: Path | None) -> None:
    """Match the names that a host uses for shapes, drawings or layers to mouths or to parts of a pose.

    PLACE is a text file with one name a line, a CSV file, or a glTF or VRM model whose shapes are taken. With --own it may
    also be a folder of drawings, a layered file or a sheet.

    The table has the columns target, name, sure (yes or no) and reason. A target may stand in several rows, the best first;
    names that match nothing are listed separately.

    With --own the columns are what, name and why. What is each English sound in IPA, silence, face, and unused for each
    drawing that is no mouth of the chart. An empty name shows nothing but the face; ? begins the reason of what needs a look.

    \b
    Examples:
      buccaphon names shapes.txt --chart Ten -o names.csv
      buccaphon names head.glb --to pose
      buccaphon names drawings --own -o own.csv
    """
    if out is not None:
        require_writable(out)
    if own:
        _put_out(_own_as_csv(_own_kit(names, chart)), out)
        return
    host = host_names(names)
    matches = match_pose(host) if to == "pose" else match_chart(host, find_chart(chart))
    if not matches.found:
        click.echo(
            _("No name in {names} could be matched to a mouth ({label}).", names=names, label=matches.listing.label),
            err=True,
        )
    elif matches.unused:
        click.echo(_("Not used: {names}", names=", ".join(matches.unused)), err=True)
    _put_out(as_csv(matches), out)


def _put_out(text: str, out: Path | None) -> None:
    if out is None:
        click.echo(text, nl=False)
    else:
        write_and_say(out, {out.name: text.encode()})


def _own_kit(place: Path, chart: str) -> Kit:
    """A character of the drawings in a place, or of a mere list of their names."""
    if place.suffix.lower() in (".txt", ".csv", ".tsv"):
        listed = read_list(place)
        found = sort_drawings([Entry(name) for name in listed])
        kit = Kit(place.stem, OtherFile(place), Drawn())
        return with_drawings(kit, tuple(found.drawings.values()), has_mouth=False)
    from buccaphon.painting.characters.loading import load_character  # noqa: PLC0415  (Qt is loaded only when pictures are read)

    kit = load_character(place, find_chart(chart))
    if kit.kind is not Kind.DRAWN:
        raise KitError(
            str(place), _("it is no set of drawings"), _("Name a folder of drawings, a layered file or a list of names")
        )
    return kit


def _own_as_csv(kit: Kit) -> str:
    if not kit.own:
        raise KitError(kit.name, _("none of its drawings is a mouth"), _("Name them: rest, ah, oh, mbp …"))
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(["what", "name", "why"])
    for what, answer in (*kit.table.answers.items(), ("silence", kit.table.rest)):
        why = in_words(answer.why)
        writer.writerow([what, answer.name, why if answer.sure else f"? {why}"])
    face = kit.main_face
    for drawing in kit.drawings:
        if drawing.role is not Role.MOUTH:
            writer.writerow(["face" if drawing is face else "unused", drawing.name, in_words(drawing.why)])
    return text.getvalue()


def as_csv(matches: Matches) -> str:
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(["target", "name", "sure", "reason"])
    for match in matches.found:
        writer.writerow([match.target, match.name, "yes" if match.sure else "no", in_words(match.why)])
    return text.getvalue()
