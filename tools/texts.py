"""All texts that people read, as a template for translators (.pot): `python -m tools.texts [FILE]`."""

from __future__ import annotations

import sys
from inspect import cleandoc
from pathlib import Path

import click
from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import write_po

from buccaphon import __version__
from buccaphon.cli.main import main
from buccaphon.cli.manual import commands_of

_SOURCE = Path(__file__).parents[1] / "src" / "buccaphon"
_MARKS: dict[str, tuple[int, ...] | None] = {"_": None, "N_": None, "ngettext": (1, 2)}


def template() -> Catalog:
    """What is marked in the source, each text once with all its places."""
    found = Catalog(project="Buccaphon", version=__version__, charset="utf-8")
    for name, line, text, comments, _context in extract_from_dir(_SOURCE, keywords=_MARKS):
        found.add(text, locations=[(f"src/buccaphon/{name}", line)], auto_comments=comments)
    for command in (main, *commands_of(main, click.Context(main)).values()):
        found.add(cleandoc(command.help or ""), auto_comments=["Help of a command"])
    return found


def write(path: Path) -> None:
    with path.open("wb") as file:
        write_po(file, template(), width=0)


if __name__ == "__main__":
    write(Path(sys.argv[1] if len(sys.argv) > 1 else "buccaphon.pot"))
