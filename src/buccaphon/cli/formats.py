"""`buccaphon formats`: what can be written and read."""

from __future__ import annotations

from pathlib import Path

import click

from buccaphon.cli.common import ANY_PATH
from buccaphon.files import write_whole
from buccaphon.formats.describing import HOSTS
from buccaphon.formats.options import may_be, option_text
from buccaphon.formats.registry import FORMATS, READERS, format_named
from buccaphon.formats.writing import make_folder
from buccaphon.setting import settings_of, values_of
from buccaphon.texts import N_, _


@click.command("formats")
@click.argument("ident", required=False, metavar="[ID]")
@click.option(
    "--readers", type=ANY_PATH, metavar="FOLDER",
    help=N_("Save readers for the keys files (Python, JavaScript and the JSON schema) in FOLDER."),
)  # fmt: skip
def formats_command(ident: str | None, readers: Path | None) -> None:
    """List all formats by their ids, or the options of one.

    \b
    Examples:
      buccaphon formats
      buccaphon formats glb
      buccaphon formats --readers scripts/
    """
    if readers is not None:
        _write_readers(readers)
    elif ident is not None:
        _describe(ident)
    else:
        width = max(len(form.id) for form in FORMATS)
        click.echo(_("Out:"))
        for form in FORMATS:
            click.echo(f"  {form.id:<{width}}  {form.ending:<14}  {_(form.about)}")
        click.echo(_("In:"))
        for reader in READERS:
            click.echo(f"  {reader.id:<{width}}  {' '.join(reader.suffixes):<14}  {_(reader.about)}")


def _describe(ident: str) -> None:
    known = [form.id for form in FORMATS]
    if ident not in known:
        raise click.UsageError(_("There is no format {ident}. There are {known}.", ident=ident, known=", ".join(known)))
    form = format_named(ident)
    click.echo(
        _(
            "{name} ({ending}): {about}. Leaves out {loses}.",
            name=form.title,
            ending=form.ending,
            about=_(form.about),
            loses=_(form.loses),
        )
    )
    default = values_of(form.options())
    for name, each in settings_of(form.options).items():
        click.echo(f"  {name}={option_text(default[name])} ({may_be(form.options, name)})  {_(each.hint)}")


def _write_readers(folder: Path) -> None:
    make_folder(folder)
    for name in ("read_keys.py", "read_keys.mjs", "keys.schema.json", "README.md"):
        write_whole(folder / name, (HOSTS / name).read_bytes())
        click.echo(_("Wrote {folder}", folder=folder / name), err=True)
