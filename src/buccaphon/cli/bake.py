"""`buccaphon bake`: mouths, jaw and weights for every frame."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import click

from buccaphon.alignment.speaking import spoken_in
from buccaphon.audio.peaks import build_peaks
from buccaphon.cli.common import ANY_PATH, format_options, write_and_say
from buccaphon.cli.sound import Sound, sound_options
from buccaphon.cli.words import Said, word_options
from buccaphon.errors import RecordingError
from buccaphon.files import require_writable
from buccaphon.formats.format import Needs, chosen_options
from buccaphon.formats.registry import format_for
from buccaphon.motion.mixes import read_mix
from buccaphon.mouths.chart import ChartDocument
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.manner import LONGEST_HOLD, Manner
from buccaphon.project.delivering import deliver
from buccaphon.project.derived import Derived
from buccaphon.project.edits.channels import PutMix
from buccaphon.project.state import State
from buccaphon.timing import FrameRate

HAVING = Needs.WORDS | Needs.FRAMES | Needs.SOURCE


@click.command("bake")
@click.argument("recording", type=ANY_PATH)
@click.option("--fps", required=True, help="The scene's frame rate: 24, 23.976, 24000/1001, 25, 29.97, 30, 60 ...")
@click.option("--chart", default="Ten", show_default=True, help="A shipped chart's name, or a chart file (.toml).")
@click.option("--hold", default=1, show_default=True, type=click.IntRange(1, LONGEST_HOLD), help="2 is 'on twos'.")
@click.option("--start-frame", default=0, show_default=True, help="The number of the first frame.")
@click.option("--loudness-only", is_flag=True, help="Open and shut by loudness; no script is needed.")
@click.option(
    "--mix", "mixes", multiple=True, metavar="TEXT", help='One more channel: "smile = spread - 0.3 jaw". Repeat.'
)
@click.option(
    "-o", "--out", required=True, type=ANY_PATH, metavar="OUT", help="A file; its suffix says how it is written."
)
@format_options
@word_options
@sound_options
def bake_command(
    recording: Path,
    fps: str,
    chart: str,
    hold: int,
    start_frame: int,
    loudness_only: bool,
    mixes: tuple[str, ...],
    out: Path,
    sound: Sound,
    said: Said,
    options: dict[str, str],
) -> None:
    """Choose a mouth for every frame of RECORDING, move the jaw, and write the keys.

    A .csv has one row a frame; a .json has keys only where something changes, and the rate as an exact fraction.
    `buccaphon formats` lists all.

    \b
    Examples:
      buccaphon bake call.wav --fps 24 --hold 2 -o call.csv
      buccaphon bake crowd.wav --fps 23.976 --loudness-only --chart Flap -o crowd.json
    """
    rate, mouths, chosen = FrameRate.parse(fps), find_chart(chart), format_for(out, HAVING)
    require_writable(out)
    asked = [read_mix(text) for text in mixes]
    how = chosen_options(chosen.options, options)
    heard = sound.read(recording)
    if loudness_only and heard.is_silent:
        raise RecordingError(str(recording), "it holds only silence", "Choose the take with the voice")
    score = None if loudness_only else said.score(recording, heard, sound)
    take = sound.take(recording, heard.duration, score)
    own = (ChartDocument(mouths.name, mouths.about, mouths.mouths),)
    state = State((take,), rate=rate, start_frame=start_frame, manner=Manner(hold=hold), chart=mouths.name, charts=own)
    for mix in asked:
        state = PutMix(mix).apply(state)
    derived = Derived(heard, build_peaks(heard))
    if loudness_only:
        derived.take_spoken(spoken_in(heard))
    delivery = replace(deliver(state, derived, recording.stem), place=out.with_suffix(""))
    write_and_say(out, chosen.files(delivery, how))
