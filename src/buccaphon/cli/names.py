"""`buccaphon names`: which of a host's names stands for which mouth."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import click

from buccaphon.cli.common import ANY_PATH, write_and_say
from buccaphon.files import require_writable
from buccaphon.kits.model.names import host_names
from buccaphon.kits.names.matching import Matches, match_chart, match_pose
from buccaphon.kits.names.reasons import in_words
from buccaphon.mouths.chart_file import find_chart
from buccaphon.texts import N_, _


@click.command("names")
@click.argument("names", type=ANY_PATH, metavar="LIST")
@click.option("--chart", default="Ten", show_default=True, help=N_("A shipped chart's name, or a chart file (.toml)."))
@click.option("--to", "to", type=click.Choice(["mouths", "pose"]), default="mouths", show_default=True,
              help=N_("Match to the mouths of the chart, or to the parts of a pose."))  # fmt: skip
@click.option("-o", "--out", type=ANY_PATH, metavar="OUT", help=N_("A .csv file; without it the table is printed."))
def names_command(names: Path, chart: str, to: str, out: Path | None) -> None:
    """Match the names that a host uses for shapes, drawings or layers to mouths or to parts of a pose.

    LIST is a text file with one name a line, a CSV file, or a glTF or VRM model whose shapes are taken.

    The table has the columns target, name, sure (yes or no) and reason. A target may stand in several rows, the best first;
    names that match nothing are listed separately.

    \b
    Examples:
      buccaphon names shapes.txt --chart Ten -o names.csv
      buccaphon names head.glb --to pose
    """
    if out is not None:
        require_writable(out)
    host = host_names(names)
    matches = match_pose(host) if to == "pose" else match_chart(host, find_chart(chart))
    if not matches.found:
        click.echo(
            _("No name in {names} could be matched to a mouth ({label}).", names=names, label=matches.listing.label),
            err=True,
        )
    elif matches.unused:
        click.echo(_("Not used: {names}", names=", ".join(matches.unused)), err=True)
    if out is None:
        click.echo(as_csv(matches), nl=False)
    else:
        write_and_say(out, {out.name: as_csv(matches).encode()})


def as_csv(matches: Matches) -> str:
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(["target", "name", "sure", "reason"])
    for match in matches.found:
        writer.writerow([match.target, match.name, "yes" if match.sure else "no", in_words(match.why)])
    return text.getvalue()
