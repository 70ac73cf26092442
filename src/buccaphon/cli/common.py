"""What the subcommands share: finding the script, aligning with progress, saying what was written."""

from __future__ import annotations

from pathlib import Path

import click
from rich.console import Console
from rich.progress import BarColumn, Progress, TextColumn

from buccaphon.alignment.aligner import AlignmentRequest, align
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError, ScriptError
from buccaphon.formats.atomic import write_whole
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import ENGLISH
from buccaphon.speech.script import require_words


def check_language(language: str) -> None:
    """Only English can be aligned so far; say so rather than align another language wrongly."""
    if language.lower() not in (ENGLISH, "en"):
        raise ScriptError(f"language “{language}”", "it cannot be aligned yet", f"Use --language {ENGLISH}")


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


def align_file(recording: Recording, script: Path) -> Score:
    """Align with a progress line on stderr."""
    words = require_words(read_script(script), str(script))
    with Progress(
        TextColumn("{task.fields[name]}"), BarColumn(30), TextColumn("{task.description}"),
        console=Console(stderr=True), transient=True,
    ) as bar:  # fmt: skip
        task = bar.add_task("", total=1.0, name=recording.name)

        def report(share: float, what: str) -> bool:
            bar.update(task, completed=share, description=what)
            return True

        return align(AlignmentRequest(recording, words), report)


def write_and_say(path: Path, content: bytes) -> None:
    replaced = path.exists()
    write_whole(path, content)
    click.echo(f"{'Replaced' if replaced else 'Wrote'} {path}", err=True)


def say_problem(problem: BuccaphonError) -> None:
    click.echo(f"buccaphon: {problem}", err=True)
