"""One line of a batch, wherever it is worked on: what it is known by, and what comes of it."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

import msgspec

from buccaphon.batch.findings import found_in
from buccaphon.batch.manifest import Row
from buccaphon.batch.scene import scene_of
from buccaphon.errors import BuccaphonError, ListError
from buccaphon.formats.delivering import NO_ROLES, resolve_targets
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.listing import ExportList, list_as_text, stem
from buccaphon.formats.pictures import Pictures
from buccaphon.mouths.chart_file import find_chart
from buccaphon.project.delivering import deliver_each, facts, roles_of
from buccaphon.project.file.relink import digest_of_any
from buccaphon.project.file.store import SUFFIX, save_project
from buccaphon.project.state import State
from buccaphon.texts import _
from buccaphon.threads import work_alone
from buccaphon.timing import FrameRate

_MADE_BY = "2"  # raised when the same line would come out otherwise


class Outcome(msgspec.Struct, frozen=True):
    """key: the line's content and settings. failed: why nothing came of it, '' when it did. marks: what a supervisor would
    send back, in sentences. doubts: words whose times are unsure. seconds: of the recording. files: below the folder. scene:
    the one of them that opens in the window; digest: of it, as it was written. stamp: the line's settings, and how old and
    long its files are. speakers: the roles that have names."""

    key: str
    title: str
    recording: str
    failed: str = ""
    words: int = 0
    doubts: int = 0
    issues: tuple[str, ...] = ()
    seconds: float = 0.0
    files: tuple[str, ...] = ()
    scene: str = ""
    digest: str = ""
    stamp: str = ""
    speakers: tuple[str, ...] = ()

    @property
    def issue_count(self) -> int:
        """How much: what failed most of all."""
        return 1_000_000 if self.failed else len(self.issues) + self.doubts


@dataclass(frozen=True, slots=True)
class Job:
    """A row, or all rows of a scene, with where its files go, and which. more: the other rows of the scene. has_scene:
    whether a scene file is one of them. written: the digest of the scene file that is there, as a batch has written it;
    another one was changed by a hand since, and stays."""

    row: Row
    exports: ExportList
    folder: Path
    has_scene: bool = True
    written: str = ""
    more: tuple[Row, ...] = ()

    @property
    def rows(self) -> tuple[Row, ...]:
        return (self.row, *self.more)

    @property
    def title(self) -> str:
        return self.row.scene or self.row.title

    @property
    def scene(self) -> Path:
        """Where its scene file is written."""
        return self.folder / f"{stem('{title}', {'title': self.title})}{SUFFIX}"


def targets_of(job: Job) -> list[str]:
    """The files that a line will be written to, as far as that is known before it is read, in small letters: for some
    folders they are the same. Raises ListError for a name that cannot be."""
    row = job.row
    known = {
        "title": job.title,
        "take": row.take or row.recording.stem.replace("_", " "),
        "chart": row.chart if not row.chart.lower().endswith(".toml") else find_chart(row.chart).name,
        "character": row.kit.stem if row.kit is not None else "Marigold",
        "role": row.speaker or (row.kit.stem if row.kit is not None else "Marigold"),
        "fps": FrameRate.parse(row.rate).label,
    }
    speakers = dict.fromkeys(each.speaker for each in job.rows)
    roles = {name: {"role": name or "Marigold"} for name in speakers} if len(speakers) > 1 else NO_ROLES
    wanted = resolve_targets(job.exports, known, job.folder, roles=roles)
    found = [f"{each.place}{each.form.ending}".lower() for each in wanted]
    return [*found, *([str(job.scene).lower()] if job.has_scene else [])]


def require_apart(jobs: Sequence[Job]) -> None:
    """Raises ListError where two lines would be written over each other."""
    taken: dict[str, int] = {}
    for job in jobs:
        for target in targets_of(job):
            if target in taken:
                reason = _(
                    "rows {other} and {number} would both be written to {name}",
                    other=taken[target],
                    number=job.row.number,
                    name=Path(target).name,
                )
                raise ListError(
                    _("the batch"), reason, _("Name the files of the list by {title}, and each row its own")
                )
            taken[target] = job.row.number


def key_of(job: Job) -> str:
    """By what a line is known to be done: its content and settings, and not when that was. '' while a file is missing."""
    told = hashlib.sha256()
    try:
        files = [path for row in job.rows for path in _files_of(row)]
        if not all(path.exists() for path in files):
            return ""
        told.update("\0".join(digest_of_any(path) for path in files).encode())
        told.update(_told_of(job))
    except (OSError, BuccaphonError):
        return ""
    return told.hexdigest()


def stamp_of(job: Job) -> str:
    """By what a line is known to be the same without reading any of it: its settings, and how old and long its files are. ""
    while a file is missing."""
    told = hashlib.sha256()
    try:
        for path in [path for row in job.rows for path in _files_of(row)]:
            for each in (path, *(sorted(path.iterdir()) if path.is_dir() else ())):
                found = each.stat()
                told.update(f"{each}\0{found.st_size}\0{found.st_mtime_ns}\0".encode(errors="surrogateescape"))
        told.update(_told_of(job))
    except (OSError, BuccaphonError):
        return ""
    return told.hexdigest()


def _files_of(row: Row) -> list[Path]:
    """What a line is made from; raises OSError where one is missing."""
    files = [row.recording, *(each for each in (row.kit, row.motion) if each is not None)]
    if not row.script or _is_file(row.script):
        files.append(Path(row.script) if row.script else row.recording.with_suffix(".txt"))
    return files


def _is_file(text: str) -> bool:
    try:
        return Path(text).is_file()
    except OSError:  # the words themselves can be too long for a name
        return False


def _told_of(job: Job) -> bytes:
    """The settings of a line, or of all lines of a scene. Raises ChartError."""
    told = [text for row in job.rows for text in _told_of_row(row)]
    return "\0".join((_MADE_BY, *told, list_as_text(job.exports), str(job.has_scene))).encode()


def _told_of_row(row: Row) -> list[str]:
    chart = repr(find_chart(row.chart)) if row.chart.lower().endswith(".toml") else _shipped_chart(row.chart)
    plain = [row.script, row.language, row.rate, str(row.hold), str(row.start_frame), row.title, chart]
    in_scene = [row.scene, row.begins, row.speaker, row.take]
    return [*plain, *in_scene] if any(in_scene) else plain


@lru_cache(maxsize=64)
def _shipped_chart(name: str) -> str:
    return repr(find_chart(name))


def do_line_alone(job: Job) -> Outcome:
    """The same in a process that is one of several: each has a core to itself."""
    work_alone()
    return do_line(job)


def do_line(job: Job) -> Outcome:
    """Read, align, animate and write one line. Whatever is the matter with it is in what comes back."""
    row = job.row
    begun = Outcome(key_of(job), job.title, str(row.recording), stamp=stamp_of(job))
    try:
        return _done(job, begun)
    except BuccaphonError as problem:
        return msgspec.structs.replace(begun, failed=str(problem))
    except Exception as problem:  # one bad line never stops the others
        return msgspec.structs.replace(begun, failed=f"{row.recording.name}: {type(problem).__name__}: {problem}")


def _done(job: Job, begun: Outcome) -> Outcome:
    ensemble = scene_of(job.rows)
    state = ensemble.state

    def paint(line: Delivery) -> Pictures:
        from buccaphon.painting.pictures.alone import pictures_alone  # noqa: PLC0415  (Qt only when something is painted)

        return pictures_alone(line, ensemble.peaks())

    known, roles = facts(state, job.title), roles_of(ensemble, job.title)
    done = deliver_each(ensemble, job.title, resolve_targets(job.exports, known, job.folder, roles=roles), paint=paint)
    found = [each for number in range(len(state.lines)) for each in found_in(ensemble, number)]
    issues = tuple(text for text, is_doubt in found if not is_doubt)
    files = [str(each.path.relative_to(job.folder)) for each in done.written]
    scene = digest = ""
    if job.has_scene:
        scene, digest = job.scene.name, _write_scene(job, state)
        files.append(scene)
        if not digest:
            issues = (_("{name} was changed by hand, and is kept as it is", name=scene), *issues)
    return msgspec.structs.replace(
        begun,
        failed="; ".join(map(str, done.problems)),
        words=sum(len(line.take.score.words) for line in state.lines if line.take and line.take.score),
        doubts=sum(is_doubt for _text, is_doubt in found),
        issues=issues,
        seconds=round(sum(ensemble.lasts.values()), 3),
        files=tuple(files),
        scene=scene,
        digest=digest,
        speakers=tuple(name for name in ensemble.roles() if name),
    )


def _write_scene(job: Job, state: State) -> str:
    """Put a line's scene file there, unless somebody has changed the one that is. Its digest, or "" where it was kept."""
    there = job.scene
    if there.exists() and digest_of_any(there) != job.written:
        return ""
    save_project(replace(state, exports=replace(job.exports, folder="")), there)
    return digest_of_any(there)
