"""`buccaphon demo` and `buccaphon [PROJECT]`: the window."""

from __future__ import annotations

import os
import sys
from pathlib import Path

import click

from buccaphon.cli.common import ANY_PATH
from buccaphon.texts import N_, _


@click.command("demo")
@click.option("--spanish", is_flag=True, help=N_("Open her Spanish line instead."))
@click.option("--scene", is_flag=True, help=N_("Open a scene of two speakers and a bang instead."))
def demo_command(*, spanish: bool, scene: bool) -> None:
    """Open the window on the demo: Marigold's stall call, aligned and talking.

    \b
    Examples:
      buccaphon demo
      buccaphon demo --spanish
      buccaphon demo --scene
    """
    _open_window("demo scene" if scene else "spanish demo" if spanish else "demo", ())


@click.command("open")
@click.argument("files", nargs=-1, type=ANY_PATH, metavar="[FILES]...")
def open_command(files: tuple[Path, ...]) -> None:
    """Open the window, on a project (a .buccaphon file), recordings, drawings or a character if FILES are named.

    \b
    Examples:
      buccaphon open market.buccaphon
      buccaphon open call.wav drawings/
    """
    _open_window("open", files)


def _open_window(what: str, paths: tuple[Path, ...]) -> None:
    if not _has_screen():
        click.echo(
            _(
                "buccaphon: there is no display here, so no window can be shown. Run it on a desktop, over "
                "`ssh -X`, or make a picture of it: BUCCAPHON_SHOT=galley.png QT_QPA_PLATFORM=offscreen "
                "buccaphon demo"
            ),
            err=True,
        )
        sys.exit(2)
    from buccaphon.app.start import run  # noqa: PLC0415  (Qt is loaded only when a window is wanted)

    sys.exit(run(what, paths))


def _has_screen() -> bool:
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM"))
