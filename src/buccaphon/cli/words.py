"""What the subcommands can be told about the words, and aligning with all of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import wraps
from pathlib import Path
from typing import Any

import click
from rich.console import Console
from rich.progress import BarColumn, Progress, TextColumn

from buccaphon.alignment.aligner import align
from buccaphon.alignment.loose import Difference, compare, mend_script
from buccaphon.alignment.recognise import recognise
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.recording import Recording
from buccaphon.cli.common import ANY_PATH
from buccaphon.cli.sound import Sound
from buccaphon.errors import RecordingError, ScriptError
from buccaphon.files import read_text
from buccaphon.formats.in_.wording import Wording, guides_for
from buccaphon.formats.registry import read_wording, script_for
from buccaphon.project.corrections import with_times
from buccaphon.score.records import Score
from buccaphon.speech.languages import ENGLISH, find_language
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon
from buccaphon.speech.lexicon_text import parse_lexicon
from buccaphon.speech.script import require_words, script_words
from buccaphon.texts import N_, _


def word_options(command: Callable[..., None]) -> Callable[..., None]:
    """The options about words; the command gets them as one `Said`."""

    @click.option(
        "--script", type=ANY_PATH,
        help=N_("The words that are said: text, .fountain, .srt or .vtt.  [default: the .txt beside it]"),
    )  # fmt: skip
    @click.option(
        "--language",
        default=ENGLISH,
        show_default=True,
        help=N_("Spoken language: a code such as es, de, fi, or a name."),
    )
    @click.option(
        "--held-to", type=click.Choice(["exact", "loose", "none"]), default="exact", show_default=True,
        help=N_("How closely the actor kept to the script. exact: word for word. loose: report words that "
                "were skipped, repeated or changed. none: recognise sounds without a script."),
    )  # fmt: skip
    @click.option(
        "--times",
        type=ANY_PATH,
        help=N_("A TextGrid, .srt, .vtt, .csv or .wav with markers that has known word times."),
    )
    @click.option(
        "--exact-times", is_flag=True, help=N_("Words begin and end exactly where --times says; else it is a guide.")
    )
    @click.option("--lexicon", type=ANY_PATH, help=N_("Your own pronunciations, as text."))
    @wraps(command)
    def taking(
        *, script: Path | None, language: str, held_to: str, times: Path | None, exact_times: bool, lexicon: Path | None,
        **rest: Any,
    ) -> None:  # fmt: skip
        own = parse_lexicon(read_text(lexicon, ScriptError), str(lexicon)) if lexicon else NO_ENTRIES
        command(said=Said(script, find_language(language).code, held_to, times, own, exact_times), **rest)

    return taking


@dataclass(frozen=True, slots=True)
class Said:
    """script, times: files; the script of a recording is the .txt beside it when None. held_to: exact, loose or none.
    exact: whether times hold as they are."""

    script: Path | None
    language: str
    held_to: str
    times: Path | None
    lexicon: Lexicon
    exact: bool = False

    @property
    def is_asked_for(self) -> bool:
        """Whether somebody named the words, or had them recognised."""
        return self.script is not None or self.held_to == "none"

    def score(self, path: Path, recording: Recording, sound: Sound) -> Score:
        """Align a recording with a progress line on stderr."""
        if sound.use is not None and sound.use.start >= recording.duration:
            reason = _("the recording lasts {duration:.2f} s", duration=recording.duration)
            raise RecordingError("--use", reason, _("Name a part inside it"))
        with Progress(
            TextColumn("{task.fields[name]}"), BarColumn(30), TextColumn("{task.description}"),
            console=Console(stderr=True), transient=True,
        ) as bar:  # fmt: skip
            task = bar.add_task("", total=1.0, name=recording.name)

            def report(share: float, what: str) -> bool:
                bar.update(task, completed=share, description=what)
                return True

            request = AlignmentRequest(
                recording,
                (),
                sound.used(recording.duration),
                sound.marked(recording.duration),
                self.language,
                self.lexicon,
            )
            if self.held_to == "none":
                return recognise(request, report)
            script = script_for(path, self.script)
            text = read_wording(script).text
            words = require_words(text, str(script))
            timed = read_wording(self.times) if self.times else Wording("")
            guides = guides_for(timed, words)
            request = replace(request, words=words, guides=guides)
            if self.held_to == "loose":
                request = _as_it_was_said(request, text, report)
            score = align(request, report)
            return with_times(score, timed.times) if self.exact else score


def _as_it_was_said(request: AlignmentRequest, text: str, report: Callable[[float, str], bool]) -> AlignmentRequest:
    """The request with the script mended; what differs is told on stderr."""
    comparison = compare(request, report)
    for finding in comparison.findings:
        missed = " ".join(word.bare for word in request.words[finding.first : finding.end])
        what = f"“{missed}” {finding.kind.value}" if missed else finding.kind.value
        click.echo(
            _("{name}: {what} at {start:.2f} s", name=request.recording.name, what=what, start=finding.span.start),
            err=True,
        )
    if not comparison.belongs:
        raise ScriptError(
            request.recording.name, _("hardly any words of the script were heard"), _("Check script and language")
        )
    others = tuple(finding.span for finding in comparison.findings if finding.kind is Difference.OTHER)
    words = script_words(mend_script(text, request.words, comparison.findings))
    return replace(request, words=words, not_speech=(*request.not_speech, *others), guides=())
