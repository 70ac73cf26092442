"""`buccaphon deliver`: all files of a list, for a project or a recording."""

from __future__ import annotations

import sys
from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import Path

import click

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.cli.common import ANY_PATH, pictures_of, say_problem
from buccaphon.cli.line import Line, line_options
from buccaphon.cli.sound import Sound, sound_options
from buccaphon.cli.words import Said, word_options
from buccaphon.errors import ListError, ProjectError
from buccaphon.formats.delivering import Wanted, deliver_all, resolve_targets
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.listing import DEFAULT_LIST, Entry, ExportList, read_list, require_valid_list
from buccaphon.formats.lost import told_of
from buccaphon.project.delivering import characters_of, deliver, deliver_each, facts, facts_of
from buccaphon.project.derived import Derived
from buccaphon.project.exposing import expose_list
from buccaphon.project.file.relink import digest_of_any
from buccaphon.project.file.store import SUFFIX, open_project
from buccaphon.project.markers import painted_by
from buccaphon.project.state import State
from buccaphon.speech.script import script_words
from buccaphon.texts import N_, _


@click.command("deliver")
@click.argument("source", type=ANY_PATH, metavar="PROJECT|RECORDING")
@line_options
@click.option("--list", "listed", type=ANY_PATH, metavar="LIST.toml", help=N_("An export list saved from the window."))
@click.option("--as", "idents", metavar="ID,ID...", help=N_("Format ids instead of a list; see `buccaphon formats`."))
@click.option("-o", "--out", required=True, type=ANY_PATH, metavar="FOLDER", help=N_("Output folder."))
@word_options
@sound_options
def deliver_command(
    source: Path, line: Line, listed: Path | None, idents: str | None, out: Path, sound: Sound, said: Said
) -> None:
    """Write all files of an export list for a project, or for a recording.

    A project has its rate, chart, character and list; a recording needs --fps, and --list or --as.

    \b
    Examples:
      buccaphon deliver market.buccaphon -o out/
      buccaphon deliver market.buccaphon --as glb,sheet-pdf,mp4 -o out/
      buccaphon deliver call.wav --fps 24 --list studio.toml -o out/
    """
    exports = exports_named(listed, idents)
    if source.suffix.lower() == SUFFIX:
        state, derived = _of_project(source, line, exports)
        title = source.stem
        delivery = deliver(state, derived, title)
        wanted = _wanted(state.exports, facts(state, title), out, characters_of(state))
        _tell_what_is_lost(wanted, delivery)
        done = deliver_each(state, derived, title, wanted, paint=lambda each: pictures_of(each, derived.peaks))
    else:
        delivery, derived = line.delivery(source, line.look(), sound, said)
        wanted = _wanted(exports or DEFAULT_LIST, facts_of(delivery), out)
        _tell_what_is_lost(wanted, delivery)
        done = deliver_all(delivery, wanted, paint=lambda each: pictures_of(each, derived.peaks))
    for each in done.written:
        click.echo(f"{_('Wrote') if each.changed else _('Unchanged')} {each.path}", err=True)
    for problem in done.problems:
        say_problem(problem)
    if done.problems:
        sys.exit(2)


def _tell_what_is_lost(wanted: Sequence[Wanted], delivery: Delivery) -> None:
    if delivery.bake is not None:
        for ident in dict.fromkeys(each.form.id for each in wanted):
            for line in told_of(ident, delivery):
                click.echo(line, err=True)


def _wanted(exports: ExportList, known: Mapping[str, str], out: Path, characters: Sequence[str] = ()) -> list[Wanted]:
    wanted = resolve_targets(replace(exports, folder=""), known, out, characters=characters)
    if not wanted:
        raise ListError(_("the export list"), _("no file in it is switched on"), _("Name formats with --as"))
    return wanted


def exports_named(listed: Path | None, idents: str | None) -> ExportList | None:
    """The list of a file, or of formats by their ids; None where neither was named. Raises ListError."""
    if listed is not None and idents is not None:
        raise click.UsageError(_("Give --list or --as, not both."))
    if listed is not None:
        return read_list(listed)
    if idents is None:
        return None
    found = ExportList(tuple(Entry(ident.strip()) for ident in idents.split(",") if ident.strip()))
    require_valid_list(found)
    return found


def _of_project(path: Path, line: Line, exports: ExportList | None) -> tuple[State, Derived]:
    """With what was asked for otherwise; the words of the take that is shown are aligned where that was not done yet."""
    state = open_project(path)
    take = state.take
    if take is None:
        raise ProjectError(str(path), _("there is no recording in it"), _("Add one first"))
    state = line.over(state)
    state = replace(state, exports=exports or state.exports)
    if take.digest and take.path.is_file() and digest_of_any(take.path) != take.digest:
        click.echo(
            _(
                "buccaphon: {name} was saved again since its words were timed: what is written may be out of time with it. "
                "Open {project} to align it again.",
                name=take.path.name,
                project=path.name,
            ),
            err=True,
        )
    heard = read_recording(take.path).listened_to(take.channel)
    derived = Derived(heard, build_peaks(heard))
    state = _aligned(state, derived)
    derived = derived.knowing_all(state)
    if line.mouths is not None or line.blank:
        (rows, markers), bake, named = line.painted(), derived.bake(state), str(line.mouths or path)
        if markers:
            state = painted_by(markers, state, bake, named, blank=line.blank).apply(state)
        else:
            state = expose_list(rows, state, bake, named, blank=line.blank).apply(state)
    return state, derived


def _aligned(state: State, derived: Derived) -> State:
    take = state.take
    words = script_words(state.script)
    if take is None or take.score is not None or not words:
        return state
    used = take.used(derived.recording.duration)
    request = AlignmentRequest(derived.recording, words, used, take.not_speech, state.language, state.lexicon)
    return state.with_take(replace(take, score=align(request)))
