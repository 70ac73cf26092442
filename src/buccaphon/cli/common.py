"""What the subcommands share: saying what was written, and what went wrong."""

from __future__ import annotations

from collections.abc import Callable, Collection
from functools import wraps
from pathlib import Path
from typing import Any

import click

from buccaphon.audio.peaks import Peaks
from buccaphon.errors import BuccaphonError, TargetError
from buccaphon.files import is_there
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.format import Files
from buccaphon.formats.pictures import Pictures
from buccaphon.formats.writing import names_of, write_files
from buccaphon.texts import N_, _

ANY_PATH = click.Path(path_type=Path, readable=False)  # whoever opens it says what is the matter, in our words


def format_options(command: Callable[..., None]) -> Callable[..., None]:
    """`--set NAME=VALUE`, as often as wanted: what can be chosen about a format; the command gets it as `options`."""

    @click.option(
        "--set",
        "chosen",
        multiple=True,
        metavar="NAME=VALUE",
        help=N_("An option of the format; `buccaphon formats ID` lists them."),
    )
    @wraps(command)
    def taking(*, chosen: tuple[str, ...], **rest: Any) -> None:
        command(options=dict(_pair(text) for text in chosen), **rest)

    return taking


def _pair(text: str) -> tuple[str, str]:
    name, sign, value = text.partition("=")
    if not sign:
        raise TargetError(
            _("--set {text}", text=text), _("it is not a name, = and a value"), _("Write --set tolerance=0.01")
        )
    return name.strip(), value.strip()


def pictures_of(delivery: Delivery, peaks: Peaks) -> Pictures:
    """Painted without a window. Raises KitError."""
    from buccaphon.painting.pictures.alone import pictures_alone  # noqa: PLC0415  (Qt is loaded only when something is painted)

    return pictures_alone(delivery, peaks)


def write_and_say(path: Path, files: Files, sources: Collection[Path] = ()) -> None:
    """Write a format's files: the first by the name that was asked for, the others beside it. sources: what they are made
    from, none of which is written over."""
    replaced = is_there(path)
    written = write_files(files, path.parent, main=path, sources=sources)
    click.echo(f"{_('Replaced') if replaced else _('Wrote')} {path}", err=True)
    if len(written) > 1:
        click.echo(_("Also wrote {names}", names=names_of(each.path for each in written[1:])), err=True)


def say_problem(problem: BuccaphonError) -> None:
    click.echo(f"buccaphon: {problem}", err=True)
