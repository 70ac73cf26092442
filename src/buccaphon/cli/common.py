"""What the subcommands share: finding the script, aligning with progress, saying what was written."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import wraps
from pathlib import Path
from typing import Any

import click
from rich.console import Console
from rich.progress import BarColumn, Progress, TextColumn

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import Damage, read_recording
from buccaphon.audio.recording import Channel, Listen, Recording
from buccaphon.errors import BuccaphonError, RecordingError, ScriptError
from buccaphon.formats.atomic import write_whole
from buccaphon.score.records import Score
from buccaphon.speech.script import require_words
from buccaphon.timing import Span

Pair = tuple[float, float]


def script_for(recording: Path, script: Path | None) -> Path:
    """The script named, or the .txt beside the recording."""
    found = script or recording.with_suffix(".txt")
    if not found.is_file():
        reason = "there is no such file" if script else f"no script is named and there is no {found.name} beside it"
        raise ScriptError(str(script or recording), reason, "Name the words with --script FILE")
    return found


def read_script(path: Path) -> str:
    try:
        return path.read_text("utf-8-sig")
    except UnicodeDecodeError:
        raise ScriptError(str(path), "it is not UTF-8 text", "Save it as plain text in UTF-8") from None
    except OSError as problem:
        raise ScriptError(str(path), f"it cannot be read ({problem.strerror})", "Check its permissions") from None


def sound_options(command: Callable[..., None]) -> Callable[..., None]:
    """What both commands can be told about the recording; they get it as one `Sound`."""

    @click.option("--channel", default="mix", help="mix, loudest, or a channel's number from 1.  [default: mix]")
    @click.option("--use", nargs=2, type=float, metavar="FROM TO", help="Use only this part, in seconds.")
    @click.option(
        "--not-speech", nargs=2, type=float, multiple=True, metavar="FROM TO",
        help="Music, a horn, another voice: nothing is looked for there. May be given several times.",
    )  # fmt: skip
    @click.option("--keep-readable", is_flag=True, help="Use what can be read of a damaged file.")
    @wraps(command)
    def taking(
        *, channel: str, use: Pair | None, not_speech: tuple[Pair, ...], keep_readable: bool, **rest: Any
    ) -> None:
        spans = tuple(_span("--not-speech", pair) for pair in not_speech)
        damage = Damage.KEEP_READABLE if keep_readable else Damage.REFUSE
        command(sound=Sound(_channel(channel), _span("--use", use) if use else None, spans, damage), **rest)

    return taking


@dataclass(frozen=True, slots=True)
class Sound:
    """channel: what is listened to. use: the part that is looked at. not_speech: where nothing is said."""

    channel: Channel
    use: Span | None
    not_speech: tuple[Span, ...]
    damage: Damage

    def read(self, path: Path) -> Recording:
        recording = read_recording(path, self.damage)
        if isinstance(self.channel, int) and self.channel >= recording.channels:
            reason = f"it has no channel {self.channel + 1}, only {recording.channels}"
            raise RecordingError(str(path), reason, "Choose another channel, mix or loudest")
        return recording.listened_to(self.channel)

    def silent(self, duration: float) -> tuple[Span, ...]:
        """Where nothing counts: outside the used part, and what is not speech."""
        used = self.use or Span(0.0, duration)
        return (Span(0.0, used.start), Span(min(used.end, duration), duration), *self.not_speech)


def _channel(text: str) -> Channel:
    if text.isdigit() and int(text) >= 1:
        return int(text) - 1
    try:
        return Listen(text.lower())
    except ValueError:
        raise RecordingError(f"channel “{text}”", "there is no such choice", "Use mix, loudest, or 1, 2 …") from None


def _span(option: str, pair: Pair) -> Span:
    start, end = pair
    if not 0 <= start < end:
        reason = f"{start:g} to {end:g} s is not a stretch of time"
        raise RecordingError(option, reason, "Give two times in seconds, the earlier first")
    return Span(start, end)


def align_file(recording: Recording, script: Path, sound: Sound, language: str) -> Score:
    """Align with a progress line on stderr. language: its code."""
    if sound.use is not None and sound.use.start >= recording.duration:
        reason = f"the recording lasts {recording.duration:.2f} s"
        raise RecordingError("--use", reason, "Name a part inside it")
    words = require_words(read_script(script), str(script))
    with Progress(
        TextColumn("{task.fields[name]}"), BarColumn(30), TextColumn("{task.description}"),
        console=Console(stderr=True), transient=True,
    ) as bar:  # fmt: skip
        task = bar.add_task("", total=1.0, name=recording.name)

        def report(share: float, what: str) -> bool:
            bar.update(task, completed=share, description=what)
            return True

        return align(AlignmentRequest(recording, words, sound.use, sound.not_speech, language), report)


def write_and_say(path: Path, content: bytes) -> None:
    replaced = path.exists()
    write_whole(path, content)
    click.echo(f"{'Replaced' if replaced else 'Wrote'} {path}", err=True)


def say_problem(problem: BuccaphonError) -> None:
    click.echo(f"buccaphon: {problem}", err=True)
