"""What the subcommands share: saying what was written, and what went wrong."""

from __future__ import annotations

from pathlib import Path

import click

from buccaphon.errors import BuccaphonError
from buccaphon.files import is_there, write_whole

ANY_PATH = click.Path(path_type=Path, readable=False)  # whoever opens it says what is the matter, in our words


def write_and_say(path: Path, content: bytes) -> None:
    replaced = is_there(path)
    write_whole(path, content)
    click.echo(f"{'Replaced' if replaced else 'Wrote'} {path}", err=True)


def say_problem(problem: BuccaphonError) -> None:
    click.echo(f"buccaphon: {problem}", err=True)
