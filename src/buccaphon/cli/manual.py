"""`buccaphon manual` and `buccaphon completion`: man pages and what shells complete, made from the commands themselves."""

from __future__ import annotations

from pathlib import Path

import click
from click.shell_completion import get_completion_class

from buccaphon import __version__
from buccaphon.cli.common import ANY_PATH
from buccaphon.files import write_whole
from buccaphon.formats.writing import make_folder
from buccaphon.texts import _, ngettext

_SHELLS = ("bash", "zsh", "fish")


@click.command("completion")
@click.argument("shell", type=click.Choice(_SHELLS))
@click.pass_context
def completion_command(ctx: click.Context, shell: str) -> None:
    """Print what SHELL needs to complete commands, options and their values.

    \b
    Examples:
      buccaphon completion bash >> ~/.bashrc
      buccaphon completion fish > ~/.config/fish/completions/buccaphon.fish
    """
    kind = get_completion_class(shell)
    assert kind is not None
    group = ctx.find_root().command
    click.echo(kind(group, {}, "buccaphon", "_BUCCAPHON_COMPLETE").source())


@click.command("manual")
@click.argument("folder", type=ANY_PATH)
@click.pass_context
def manual_command(ctx: click.Context, folder: Path) -> None:
    """Write a man page for each command into FOLDER.

    \b
    Examples:
      buccaphon manual ~/.local/share/man/man1
    """
    make_folder(folder)
    root = ctx.find_root().command
    assert isinstance(root, click.Group)
    pages = {"buccaphon": page(root, "buccaphon", ctx)}
    for name, command in commands_of(root, ctx).items():
        pages[f"buccaphon-{name}"] = page(command, _("buccaphon {name}", name=name), ctx)
    for name, text in pages.items():
        write_whole(folder / f"{name}.1", text.encode())
    click.echo(
        ngettext("Wrote {count} page into {folder}", "Wrote {count} pages into {folder}", len(pages), folder=folder),
        err=True,
    )


def commands_of(group: click.Group, ctx: click.Context) -> dict[str, click.Command]:
    """All of them by name."""
    named = ((name, group.get_command(ctx, name)) for name in group.list_commands(ctx))
    return {name: command for name, command in named if command is not None}


def page(command: click.Command, called: str, parent: click.Context) -> str:
    """A command as a man page (man(7))."""
    ctx = click.Context(command, info_name=called, parent=None, help_option_names=parent.help_option_names)
    about, *examples = (command.help or "").replace("\f", "").split("\b\n")
    first, _rest, rest = about.strip().partition("\n")
    usage = " ".join(command.collect_usage_pieces(ctx))
    lines = [
        f'.TH "{called.replace(" ", "-").upper()}" 1 "" "Buccaphon {__version__}"',
        ".SH NAME", f"{called.replace(' ', '-')} \\- {_told(first.rstrip('.'))}",
        ".SH SYNOPSIS", f".B {called}", _told(usage),
    ]  # fmt: skip
    if rest.strip():
        lines += [".SH DESCRIPTION", *(_told(line.strip()) or ".PP" for line in rest.strip().split("\n"))]
    told = [found for each in command.get_params(ctx) if (found := each.get_help_record(ctx)) is not None]
    if told:
        lines.append(".SH OPTIONS")
        for names, says in told:
            lines += [".TP", f".B {_told(names)}", _told(says)]
    if isinstance(command, click.Group):
        lines.append(".SH COMMANDS")
        for name, each in commands_of(command, ctx).items():
            lines += [".TP", f".B {name}", _told(each.get_short_help_str(200))]
    for example in examples:
        lines += [".SH EXAMPLES", ".nf", *map(_told, example.strip().split("\n")[1:]), ".fi"]
    return "\n".join(lines) + "\n"


def _told(text: str) -> str:
    """Text that is no request of the formatter's."""
    plain = text.replace("\\", "\\e").replace("-", "\\-").rstrip()
    return f"\\&{plain}" if plain.startswith((".", "'")) else plain
