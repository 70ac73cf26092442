"""The command `buccaphon` and how its failures are told: one sentence, exit code 2."""

from __future__ import annotations

import sys

import click

from buccaphon import __version__
from buccaphon.cli.align import align_command
from buccaphon.cli.bake import bake_command
from buccaphon.cli.batch import batch_command
from buccaphon.cli.deliver import deliver_command
from buccaphon.cli.formats import formats_command
from buccaphon.cli.listen import listen_command
from buccaphon.cli.manual import completion_command, manual_command
from buccaphon.cli.names import names_command
from buccaphon.cli.window import demo_command, open_command
from buccaphon.errors import BuccaphonError, Cancelled


class _Opening(click.Group):
    """A group in which a first word that is no command is a project or recording to open."""

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        known = args and (args[0] in self.commands or args[0] in ("--help", "--version", "-h"))
        completes = ctx.resilient_parsing  # a shell asks what there is
        return super().parse_args(ctx, args if known or completes else ["open", *args])

    def invoke(self, ctx: click.Context) -> object:
        try:
            return super().invoke(ctx)
        except BuccaphonError as problem:
            click.echo(f"buccaphon: {problem}", err=True)
        except click.UsageError as problem:
            where = problem.ctx.command_path if problem.ctx else "buccaphon"
            click.echo(f"buccaphon: {problem.format_message()} `{where} --help` says more.", err=True)
        except (Cancelled, KeyboardInterrupt):
            click.echo("buccaphon: stopped; nothing was written.", err=True)
        except BrokenPipeError:
            sys.stderr.close()
        sys.exit(2)


@click.group(cls=_Opening, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="buccaphon")
def main() -> None:
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


for _command in (
    align_command,
    bake_command,
    deliver_command,
    batch_command,
    formats_command,
    listen_command,
    names_command,
    completion_command,
    manual_command,
    demo_command,
    open_command,
):
    main.add_command(_command)
