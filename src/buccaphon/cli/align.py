"""`buccaphon align`: where each word and phone lies."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import click

from buccaphon.alignment.readiness import preload_models_in_background
from buccaphon.cli.common import ANY_PATH, format_options, say_problem, write_and_say
from buccaphon.cli.sound import Sound, sound_options
from buccaphon.cli.words import Said, word_options
from buccaphon.errors import BuccaphonError, TargetError
from buccaphon.files import is_folder, is_there, require_writable
from buccaphon.formats.delivery import Delivery, Source
from buccaphon.formats.format import Format, Needs
from buccaphon.formats.options import chosen_options
from buccaphon.formats.registry import format_for, format_named
from buccaphon.texts import N_, _


@click.command("align")
@click.argument("recordings", nargs=-1, required=True, type=ANY_PATH, metavar="RECORDING...")
@click.option(
    "-o", "--out", required=True, type=ANY_PATH, metavar="OUT",
    help=N_("A .TextGrid, .srt, .json or other file, or a folder for one TextGrid each."),
)  # fmt: skip
@format_options
@word_options
@sound_options
def align_command(recordings: tuple[Path, ...], out: Path, sound: Sound, said: Said, options: dict[str, str]) -> None:
    """Find where each word and speech sound lies in RECORDING and write the times.

    With several recordings, or a folder as OUT, each gets a TextGrid of the same name; failures are reported and the others
    are still done.

    \b
    Examples:
      buccaphon align call.wav --script call.txt -o call.TextGrid
      buccaphon align takes/*.flac -o aligned/
      buccaphon align ad_lib.wav --held-to loose -o ad_lib.TextGrid
    """
    if len(recordings) == 1 and out.suffix and not is_folder(out):
        chosen = format_for(out, Needs.WORDS | Needs.SOURCE)
        require_writable(out)
        _one(recordings[0], said, sound, out, chosen, chosen_options(chosen.options, options))
        return
    _into_folder(recordings, said, sound, out)


def _one(recording: Path, said: Said, sound: Sound, target: Path, chosen: Format, how: Any) -> None:
    preload_models_in_background()
    heard = sound.read(recording)
    score, source = said.score(recording, heard, sound), Source(recording, recording.stem)
    delivery = Delivery(recording.stem, score, source=source, sound=heard, place=target.with_suffix(""))
    write_and_say(target, chosen.files(delivery, how))


def _into_folder(recordings: tuple[Path, ...], said: Said, sound: Sound, folder: Path) -> None:
    stems = [recording.stem for recording in recordings]
    twice = sorted({stem for stem in stems if stems.count(stem) > 1})
    if twice:
        reason = _("several recordings are called {names} and would overwrite each other", names=", ".join(twice))
        raise TargetError(str(folder), reason, _("Align them in two runs"))
    if is_there(folder) and not is_folder(folder):
        raise TargetError(str(folder), _("it is a file, but several recordings need a folder"), _("Name a folder"))
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as problem:
        reason = _("the folder cannot be made ({reason})", reason=problem.strerror)
        raise TargetError(str(folder), reason, _("Choose another place")) from None
    failed = 0
    for recording in recordings:
        target = folder / f"{recording.stem}.TextGrid"
        try:
            require_writable(target)
            _one(recording, said, sound, target, format_named("textgrid"), None)
        except BuccaphonError as problem:
            say_problem(problem)
            failed += 1
    if failed:
        sys.exit(2)
