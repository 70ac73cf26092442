"""`buccaphon listen`: a stand-in for a program that is sent the line as it plays."""

from __future__ import annotations

import time

import click

from buccaphon.errors import TargetError
from buccaphon.formats.osc import Bundle
from buccaphon.texts import N_, _


@click.command("listen")
@click.option("--port", default=9000, show_default=True, type=click.IntRange(0, 65_535), help=N_("Where to listen."))
@click.option("--count", default=0, help=N_("Stop after this many bundles.  [default: never]"))
def listen_command(port: int, count: int) -> None:
    """Print what is sent while a line plays (step Export, Live), one bundle per line, with how early it arrived.

    Ctrl+C ends.

    \b
    Examples:
      buccaphon listen
      buccaphon listen --port 9001 --count 24
    """
    from buccaphon.app.live.peer import Peer, in_words  # noqa: PLC0415

    left = [count]

    def heard(bundle: Bundle, when: float) -> None:
        early = f"{1000 * (bundle.seconds - when):+6.1f} ms" if bundle.seconds else "  " + _("at once")
        click.echo(f"{early}  {in_words(bundle)}")
        left[0] -= 1

    try:
        peer = Peer(heard, port)
    except OSError as problem:
        reason = _("the port cannot be opened ({reason})", reason=problem.strerror)
        raise TargetError(_("port {port}", port=port), reason, _("Choose another with --port")) from None
    click.echo(_("Listening at 127.0.0.1:{port}", port=peer.port), err=True)
    peer.start()
    try:
        while not count or left[0] > 0:
            time.sleep(0.02)
    finally:
        peer.finish()
