"""The command `buccaphon` and how its failures are told: one sentence, exit code 2."""

from __future__ import annotations

import sys
from importlib import import_module
from inspect import cleandoc

import click

from buccaphon import __version__
from buccaphon.errors import BuccaphonError, Cancelled
from buccaphon.log import LEVELS, start
from buccaphon.texts import N_, _

_MODULES = {
    "align": "align", "bake": "bake", "deliver": "deliver", "batch": "batch", "formats": "formats", "listen": "listen",
    "names": "names", "completion": "manual", "manual": "manual", "demo": "window", "open": "window",
}  # fmt: skip


class _Opening(click.Group):
    """A group in which a first word that is no command is a project or recording to open. A command is loaded when it
    is asked for: together they take as long as aligning a short line."""

    def list_commands(self, _ctx: click.Context) -> list[str]:
        return sorted(_MODULES)

    def get_command(self, _ctx: click.Context, name: str) -> click.Command | None:
        if name not in _MODULES:
            return None
        command: click.Command = getattr(import_module(f"buccaphon.cli.{_MODULES[name]}"), f"{name}_command")
        return _in_the_language_in_use(command)

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        known = args and (args[0] in _MODULES or args[0] in ("--help", "--version", "-h", "--log"))
        completes = ctx.resilient_parsing  # a shell asks what there is
        if args and args[0] == "--version" and {"-v", "--verbose"} & set(args[1:]):
            from buccaphon.about import devices, versions  # noqa: PLC0415  (rarely asked for)

            click.echo("\n".join([*versions(), *devices()]))
            ctx.exit()
        return super().parse_args(ctx, args if known or completes else ["open", *args])

    def invoke(self, ctx: click.Context) -> object:
        try:
            return super().invoke(ctx)
        except BuccaphonError as problem:
            click.echo(f"buccaphon: {problem}", err=True)
        except click.UsageError as problem:
            where = problem.ctx.command_path if problem.ctx else "buccaphon"
            click.echo(
                _(
                    "buccaphon: {message} See `{where} --help`.",
                    message=problem.format_message(),
                    where=where,
                ),
                err=True,
            )
        except ValueError as problem:
            if "null byte" not in str(problem) and not isinstance(problem, UnicodeEncodeError):
                raise
            click.echo(_("buccaphon: a name in it has characters that no file can have. Check the command."), err=True)
        except (Cancelled, KeyboardInterrupt):
            click.echo(_("buccaphon: stopped; nothing was written."), err=True)
        except BrokenPipeError:
            sys.stderr.close()
        sys.exit(2)


def _in_the_language_in_use(command: click.Command) -> click.Command:
    command.help = _(cleandoc(command.help)) if command.help else None
    for option in command.params:
        if isinstance(option, click.Option) and option.help:
            option.help = _(option.help)
    return command


@click.group(cls=_Opening, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="buccaphon")
@click.option("--log", "level", type=click.Choice(LEVELS), help=N_("Report what is done, from this level on."))
def main(level: str | None) -> None:
    """Buccaphon turns recorded dialogue into timed mouth animation.

    Without a command it opens the window, on a PROJECT or a recording if one is named.

    \b
    Examples:
      buccaphon demo
      buccaphon market.buccaphon
      buccaphon align call.wav -o call.TextGrid
      buccaphon bake call.wav --fps 24 --hold 2 -o call.csv
      buccaphon deliver market.buccaphon -o out/
      buccaphon batch lines.csv -o out/ --workers 4
      buccaphon names shapes.txt --chart Ten
    """
    start(level or "")
