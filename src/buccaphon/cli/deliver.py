"""`buccaphon deliver`: all files of a list, for a project or a recording."""

from __future__ import annotations

import sys
from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import Path

import click

from buccaphon.cli.common import ANY_PATH, pictures_of, say_problem
from buccaphon.cli.line import Line, line_options
from buccaphon.cli.sound import Sound, sound_options
from buccaphon.cli.words import Said, word_options
from buccaphon.errors import ListError, ProjectError
from buccaphon.formats.delivering import NO_ROLES, Wanted, deliver_all, resolve_targets
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.listing import DEFAULT_LIST, Entry, ExportList, read_list, require_valid_list
from buccaphon.formats.lost import told_of
from buccaphon.project.delivering import called, characters_of, deliver_each, deliver_role, facts, facts_of, roles_of
from buccaphon.project.edits.roles import role_called
from buccaphon.project.exposing import expose_list
from buccaphon.project.file.relink import digest_of_any
from buccaphon.project.file.store import SUFFIX, open_project
from buccaphon.project.hearing import hear_scene
from buccaphon.project.markers import painted_by
from buccaphon.project.scene import Ensemble
from buccaphon.project.state import State
from buccaphon.project.take import Take
from buccaphon.texts import N_, _


@click.command("deliver")
@click.argument("source", type=ANY_PATH, metavar="PROJECT|RECORDING")
@line_options
@click.option("--list", "listed", type=ANY_PATH, metavar="LIST.toml", help=N_("An export list saved from the window."))
@click.option("--as", "idents", metavar="ID,ID...", help=N_("Format ids instead of a list; see `buccaphon formats`."))
@click.option("-o", "--out", required=True, type=ANY_PATH, metavar="FOLDER", help=N_("Output folder."))
@click.option("--role", "roles", multiple=True, metavar="NAME", help=N_("Only the files of this role of a scene."))
@word_options
@sound_options
def deliver_command(
    source: Path,
    line: Line,
    listed: Path | None,
    idents: str | None,
    out: Path,
    roles: tuple[str, ...],
    sound: Sound,
    said: Said,
) -> None:
    """Write all files of an export list for a project, or for a recording.

    A project has its rate, chart, character and list; a recording needs --fps, and --list or --as. Of a scene of several
    roles each has files with its name in theirs.

    \b
    Examples:
      buccaphon deliver market.buccaphon -o out/
      buccaphon deliver market.buccaphon --as glb,sheet-pdf,mp4 -o out/
      buccaphon deliver talk.buccaphon --role Maren -o out/
      buccaphon deliver call.wav --fps 24 --list studio.toml -o out/
    """
    exports = exports_named(listed, idents)
    if source.suffix.lower() == SUFFIX:
        ensemble, names = _of_project(source, line, exports, roles)
        title, state = source.stem, ensemble.state
        shown = ensemble.shown_by((names or ensemble.roles())[0])
        known, each_role = facts(shown, title), roles_of(ensemble, title, names)
        wanted = _wanted(state.exports, known, out, characters_of(shown), each_role)
        _tell_what_is_lost(wanted, deliver_role(ensemble, title, shown.role.name))
        done = deliver_each(ensemble, title, wanted, paint=lambda each: pictures_of(each, ensemble.peaks()))
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


def _wanted(
    exports: ExportList,
    known: Mapping[str, str],
    out: Path,
    characters: Sequence[str] = (),
    roles: Mapping[str, Mapping[str, str]] = NO_ROLES,
) -> list[Wanted]:
    wanted = resolve_targets(replace(exports, folder=""), known, out, characters=characters, roles=roles)
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


def _of_project(path: Path, line: Line, exports: ExportList | None, roles: Sequence[str]) -> tuple[Ensemble, list[str]]:
    """A scene with what was asked for otherwise, and which roles are written; words that are not aligned yet are."""
    state = open_project(path)
    if state.is_empty:
        raise ProjectError(str(path), _("there is no recording in it"), _("Add one first"))
    names = [_role_named(name, state) for name in roles]
    state = line.over(state, names)
    state = replace(state, exports=exports or state.exports)
    for each in state.lines:
        if each.take is not None and each.take.digest and each.take.path.is_file():
            _tell_if_another(each.take, path)
    ensemble = hear_scene(state)
    if line.mouths is not None or line.blank:
        role = names[0] if names else state.role.name
        (rows, markers), shown = line.painted(), ensemble.shown_by(role)
        bake, named = ensemble.derived(shown.line.key, role).bake(shown), str(line.mouths or path)
        if markers:
            edit = painted_by(markers, shown, bake, named, blank=line.blank)
        else:
            edit = expose_list(rows, shown, bake, named, blank=line.blank)
        ensemble = Ensemble(edit.apply(shown), ensemble.sounds)
    return ensemble, names


def _role_named(name: str, state: State) -> str:
    """Raises ProjectError."""
    found = role_called(state, name)
    if found is None:
        there = ", ".join(role.name or called(state, role.name) for role in state.roles)
        raise ProjectError(
            _("--role {name}", name=name), _("the scene has no role of that name"), _("There are {there}", there=there)
        )
    return found.name


def _tell_if_another(take: Take, project: Path) -> None:
    if digest_of_any(take.path) != take.digest:
        click.echo(
            _(
                "buccaphon: {name} was saved again since its words were timed: what is written may be out of time with it. "
                "Open {project} to align it again.",
                name=take.path.name,
                project=project.name,
            ),
            err=True,
        )
