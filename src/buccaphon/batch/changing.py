"""Scene files changed where nobody looks on: aligned anew, given another chart, rate or character, and delivered; one process
a core."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, replace
from multiprocessing import get_context
from pathlib import Path

import msgspec

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.batch.findings import found_in
from buccaphon.batch.line import Outcome
from buccaphon.errors import BuccaphonError
from buccaphon.formats.delivering import resolve_targets
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.pictures import Pictures
from buccaphon.mouths.chart_file import find_chart, shipped_charts
from buccaphon.project.carrying import known_pins
from buccaphon.project.delivering import characters_of, deliver_each, facts, roles_of
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.script import TakeAlignment
from buccaphon.project.file.safekeeping import keep_version
from buccaphon.project.file.store import open_project, require_valid_to_save, save_project
from buccaphon.project.hearing import hear_scene
from buccaphon.project.scene import Ensemble
from buccaphon.project.state import State
from buccaphon.speech.script import script_words
from buccaphon.texts import _
from buccaphon.threads import work_alone
from buccaphon.timing import FrameRate


@dataclass(frozen=True, slots=True)
class Change:
    """What is done to a scene, in this order; what is None or False is left as it is. chart: a name or a file, for all roles.
    character: a file, for a scene's only role or its first. versions: where the file of before is kept."""

    align: bool = False
    chart: str | None = None
    rate: str | None = None
    character: Path | None = None
    deliver: bool = False
    versions: Path | None = None

    @property
    def changes_scene(self) -> bool:
        return self.align or any(each is not None for each in (self.chart, self.rate, self.character))


@dataclass(frozen=True, slots=True)
class Changed:
    """What came of it. found: what needs a look now, for the ledger; None where it failed. failed: why, in a sentence."""

    path: Path
    found: Outcome | None = None
    failed: str = ""
    files: tuple[str, ...] = ()


def change_all(
    paths: Sequence[Path], change: Change, known: Sequence[Outcome | None], workers: int
) -> Iterator[Changed]:
    """Do it to all of them, each as it is done. known: what was found of each before. workers: processes; 0 for this one."""
    jobs = list(zip(paths, known, strict=True))
    if not workers:
        yield from (change_scene(path, change, before) for path, before in jobs)
        return
    pool = ProcessPoolExecutor(min(workers, len(jobs)), get_context("spawn"))
    try:
        futures = {pool.submit(_alone, path, change, before): path for path, before in jobs}
        for future in as_completed(futures):
            try:
                yield future.result()
            except BrokenProcessPool:
                yield Changed(futures[future], failed=_("{name}: its process died", name=futures[future].name))
    finally:
        pool.shutdown(wait=False, cancel_futures=True)


def _alone(path: Path, change: Change, before: Outcome | None) -> Changed:
    work_alone()
    return change_scene(path, change, before)


def change_scene(path: Path, change: Change, before: Outcome | None = None) -> Changed:
    """Whatever is the matter with it is in what comes back; the file stays as it was then."""
    try:
        return _changed(path, change, before)
    except BuccaphonError as problem:
        return Changed(path, failed=str(problem))
    except Exception as problem:  # one bad scene never stops the others
        return Changed(path, failed=f"{path.name}: {type(problem).__name__}: {problem}")


def _changed(path: Path, change: Change, before: Outcome | None) -> Changed:
    state = _with_look(open_project(path), change)
    if change.align:
        state = _aligned_anew(state)
    ensemble = hear_scene(state)
    state = ensemble.state
    if change.changes_scene:
        require_valid_to_save(state, path)
        if change.versions is not None:
            keep_version(path, change.versions)
        save_project(state, path)
    files = _delivered(ensemble, path) if change.deliver else ()
    issues = [each for number in range(len(state.lines)) for each in found_in(ensemble, number)]
    base = before or Outcome(f"scene {path.name}", path.stem, "", scene=path.name, files=(path.name,))
    found = msgspec.structs.replace(
        base,
        failed="",
        words=sum(len(line.take.score.words) for line in state.lines if line.take and line.take.score),
        doubts=sum(is_doubt for _text, is_doubt in issues),
        issues=tuple(text for text, is_doubt in issues if not is_doubt),
        seconds=round(sum(ensemble.lasts.values()), 3),
        speakers=tuple(name for name in ensemble.roles() if name),
    )
    return Changed(path, found, files=files)


def _with_look(state: State, change: Change) -> State:
    if change.rate is not None:
        state = replace(state, rate=FrameRate.parse(change.rate))
    if change.chart is not None:
        chart = find_chart(change.chart)
        charts = state.charts
        if chart.name not in shipped_charts():
            charts = (*(each for each in charts if each.name != chart.name), chart.document)
        roles = tuple(replace(role, chart=chart.name) for role in state.roles)
        state = replace(state, roles=roles, charts=charts)
    if change.character is not None:
        from buccaphon.painting.characters.loading import load_character  # noqa: PLC0415  (Qt only where there is a character)

        first = state.at_line(0, state.roles[0].name)
        state = PutKit(load_character(change.character, first.chart_in_use)).apply(first).at_rest
    return state


def _aligned_anew(state: State) -> State:
    """All lines that have words, with what was pinned by hand where it was put."""
    for number, line in enumerate(state.lines):
        words, take = script_words(line.script), line.take
        if take is None or line.heard_only or not words:
            continue
        here = state.at_line(number)
        heard = read_recording(take.path).listened_to(take.channel)
        pins = known_pins(take, words)
        used = take.used(heard.duration)
        request = AlignmentRequest(heard, words, used, take.not_speech, line.language, state.lexicon, pins)
        state = TakeAlignment(align(request), line.script).apply(here).at_line(state.open_line)
    return state


def _delivered(ensemble: Ensemble, path: Path) -> tuple[str, ...]:
    """Write the scene's export list, below its own folder."""
    state, title = ensemble.state, path.stem

    def paint(line: Delivery) -> Pictures:
        from buccaphon.painting.pictures.alone import pictures_alone  # noqa: PLC0415  (Qt only when something is painted)

        return pictures_alone(line, ensemble.peaks())

    shown = ensemble.shown_by(ensemble.roles()[0])
    roles = roles_of(ensemble, title)
    wanted = resolve_targets(
        state.exports, facts(shown, title), path.parent, characters=characters_of(shown), roles=roles
    )
    done = deliver_each(ensemble, title, wanted, paint=paint)
    if done.problems:
        raise done.problems[0]
    return tuple(str(each.path) for each in done.written)
