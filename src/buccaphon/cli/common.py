"""What the subcommands share: saying what was written, and what went wrong."""

from __future__ import annotations

from pathlib import Path

import click

from buccaphon.errors import BuccaphonError
from buccaphon.formats.atomic import write_whole


def write_and_say(path: Path, content: bytes) -> None:
    replaced = path.exists()
    write_whole(path, content)
    click.echo(f"{'Replaced' if replaced else 'Wrote'} {path}", err=True)


def say_problem(problem: BuccaphonError) -> None:
    click.echo(f"buccaphon: {problem}", err=True)
