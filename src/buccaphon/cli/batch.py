"""`buccaphon batch`: every line of a manifest."""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path

import click
from rich.console import Console
from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn

from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Job, Outcome, require_apart
from buccaphon.batch.manifest import in_scenes, read_manifest
from buccaphon.batch.report import as_csv, pages_of
from buccaphon.batch.running import Workers, run
from buccaphon.cli.common import ANY_PATH
from buccaphon.cli.deliver import exports_named
from buccaphon.files import write_whole
from buccaphon.formats.listing import DEFAULT_LIST
from buccaphon.formats.writing import make_folder
from buccaphon.texts import N_, _


@click.command("batch")
@click.argument("manifest", type=ANY_PATH, metavar="MANIFEST.csv")
@click.option(
    "-o",
    "--out",
    required=True,
    type=ANY_PATH,
    metavar="FOLDER",
    help=N_("Output folder for all files and the report."),
)
@click.option("--list", "listed", type=ANY_PATH, metavar="LIST.toml", help=N_("An export list saved from the window."))
@click.option("--as", "idents", metavar="ID,ID...", help=N_("Format ids instead of a list; see `buccaphon formats`."))
@click.option(
    "--workers", default=0, type=click.IntRange(0, 256), metavar="N",
    help=N_("Number of processes, one core each.  [default: none, run in this process]"),
)  # fmt: skip
@click.option(
    "--scheduler",
    default="",
    metavar="ADDRESS",
    help=N_("Use a Dask cluster instead: address of its scheduler, such as tcp://host:8786."),
)
@click.option("--no-scenes", is_flag=True, help=N_("Write no scene files (.buccaphon) to be corrected in the window."))
def batch_command(
    manifest: Path, out: Path, listed: Path | None, idents: str | None, workers: int, scheduler: str, *, no_scenes: bool
) -> None:
    """Align, animate and write every line of MANIFEST.csv.

    Its columns are recording, script, language, character, motion, chart, fps, hold, start_frame, name, scene, begins,
    speaker and take; only recording and fps are needed. Rows of one scene make one file. Each line has a scene file beside
    its other files, to be corrected in the window; one that was changed by hand is never written over. Lines that are done
    already, with the same content and settings, are skipped, so an interrupted batch continues. A failing line does not stop
    the others. report.html and report.csv list what needs checking first.

    \b
    Examples:
      buccaphon batch lines.csv -o out/ --workers 4
      buccaphon batch lines.csv -o out/ --as keys-json,glb --scheduler tcp://farm:8786
    """
    rows = read_manifest(manifest)
    exports = replace(exports_named(listed, idents) or DEFAULT_LIST, folder="")
    jobs = [
        Job(first, exports, out.resolve(), has_scene=not no_scenes, more=tuple(more))
        for first, *more in in_scenes(rows)
    ]
    require_apart(jobs)
    make_folder(out)
    ledger = Ledger(out)
    with Progress(
        TextColumn("{task.description}"), BarColumn(30), MofNCompleteColumn(), TimeRemainingColumn(),
        console=Console(stderr=True), transient=True,
    ) as bar:  # fmt: skip
        task = bar.add_task("Lines", total=len(jobs))

        def told(done: int, _of: int, outcome: Outcome) -> None:
            bar.update(task, completed=done, description=outcome.title[:30])
            if outcome.failed:
                bar.console.print(
                    _("buccaphon: {title}: {failed}", title=outcome.title, failed=outcome.failed),
                    markup=False,
                    highlight=False,
                    soft_wrap=True,
                )

        outcomes = run(jobs, ledger, Workers(workers, scheduler), told)
    write_whole(out / "report.csv", as_csv(outcomes))
    for name, page in pages_of(outcomes, manifest.stem).items():
        write_whole(out / name, page)
    failed = sum(bool(outcome.failed) for outcome in outcomes)
    click.echo(
        _(
            "{done} of {all} lines are done. The report is {path}",
            done=len(outcomes) - failed,
            all=len(outcomes),
            path=out / "report.html",
        ),
        err=True,
    )
    if failed:
        sys.exit(2)
