"""`buccaphon bake`: mouths, jaw and weights for every frame, as one file."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import click

from buccaphon.cli.common import ANY_PATH, format_options, pictures_of, write_and_say
from buccaphon.cli.line import Line, line_options
from buccaphon.cli.sound import Sound, sound_options
from buccaphon.cli.words import Said, word_options
from buccaphon.files import require_writable
from buccaphon.formats.format import Needs
from buccaphon.formats.options import chosen_options
from buccaphon.formats.registry import format_for
from buccaphon.texts import N_


@click.command("bake")
@click.argument("recording", type=ANY_PATH)
@line_options
@click.option(
    "-o",
    "--out",
    required=True,
    type=ANY_PATH,
    metavar="OUT",
    help=N_("Output file; its suffix selects the format."),
)
@format_options
@word_options
@sound_options
def bake_command(recording: Path, line: Line, out: Path, sound: Sound, said: Said, options: dict[str, str]) -> None:
    """Choose a mouth for every frame of RECORDING, move the jaw, and write the keys.

    A .csv has one row per frame; a .json has keys only where something changes, and the exact frame rate.
    `buccaphon formats` lists all.

    \b
    Examples:
      buccaphon bake call.wav --fps 24 --hold 2 -o call.csv
      buccaphon bake crowd.wav --fps 23.976 --loudness-only --chart Flap -o crowd.json
      buccaphon bake call.wav --fps 30 --character head.glb -o head_talks.glb
      buccaphon bake call.wav --fps 24 --mouths list.csv --blank -o call.json
    """
    look, chosen = line.look(), format_for(out, ~Needs(0))
    require_writable(out)
    how = chosen_options(chosen.options, options)
    delivery, derived = line.delivery(recording, look, sound, said)
    delivery = replace(delivery, place=out.with_suffix(""))
    if Needs.PICTURES in chosen.needs:
        delivery = replace(delivery, pictures=pictures_of(delivery, derived.peaks))
    write_and_say(out, chosen.files(delivery, how), delivery.sources)
