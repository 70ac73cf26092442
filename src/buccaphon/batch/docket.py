"""The docket: the scenes of a folder with what a batch has found of each, and who has looked at them and when.

Who looked is kept in files beside the scenes, one for each person and machine, to which lines are only ever added: what
several people say at the same time on one shared folder is all there, and no lock can stay behind. Of one scene the latest
counts.
"""

from __future__ import annotations

import getpass
import os
import re
import socket
import time
from collections.abc import Iterable
from dataclasses import dataclass, replace
from pathlib import Path

import msgspec

from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Outcome
from buccaphon.errors import TargetError
from buccaphon.project.file.store import SUFFIX
from buccaphon.project.standing import Standing
from buccaphon.texts import _

_MARKS = "docket.*.jsonl"
_HEAD = 200  # bytes at the beginning of a scene's file
_STANDING = re.compile(rb'"standing":\s*"([\w-]+)"')
_ODD = re.compile(r"[^\w-]+")


class Mark(msgspec.Struct, frozen=True):
    """scene: the name of its file. who: said so. when: seconds since 1970."""

    scene: str
    standing: Standing
    who: str
    when: float


@dataclass(frozen=True, slots=True)
class DocketScene:
    """path: of the scene. found: what came of it in a batch; None where no batch was. mark: the latest; None for none. kept:
    what its own file says, where there is no mark."""

    path: Path
    found: Outcome | None = None
    mark: Mark | None = None
    kept: Standing = Standing.TO_DO

    @property
    def title(self) -> str:
        return self.found.title if self.found is not None else self.path.stem

    @property
    def standing(self) -> Standing:
        return self.mark.standing if self.mark is not None else self.kept

    @property
    def needs(self) -> tuple[bool, int, str]:
        """By which those that need an eye most come first: what nobody has looked at, and what has most marks."""
        count = self.found.issue_count if self.found is not None else 0
        return self.standing is not Standing.TO_DO, -count, self.path.name


class Marks:
    """Of a folder, as one person writes them."""

    def __init__(self, folder: Path, who: str = "") -> None:
        self._folder = folder
        self.who = who or _user()
        name = _ODD.sub("_", f"{self.who}@{socket.gethostname()}")
        self._path = folder / f"docket.{name}.jsonl"

    def put(self, scene: str, standing: Standing, when: float | None = None) -> Mark:
        """Raises TargetError."""
        mark = Mark(scene, standing, self.who, time.time() if when is None else when)
        try:
            # one write to the end of a file, which the system keeps apart from those of other processes
            file = os.open(self._path, os.O_WRONLY | os.O_APPEND | os.O_CREAT, 0o666)
            try:
                os.write(file, msgspec.json.encode(mark) + b"\n")
                os.fsync(file)
            finally:
                os.close(file)
        except OSError as problem:
            reason = _("it cannot be written ({reason})", reason=problem.strerror)
            raise TargetError(str(self._path), reason, _("Free space there, or change its permissions")) from None
        return mark


def read_marks(folder: Path) -> dict[str, Mark]:
    """The latest mark of each scene, by the name of its file, whoever said it. A line that was cut off is passed over. Raises
    TargetError for marks that cannot be read."""
    found: dict[str, Mark] = {}
    for path in sorted(folder.glob(_MARKS)):
        try:
            lines = path.read_bytes().splitlines()
        except OSError as problem:
            raise _unreadable(path, problem) from None
        for line in lines:
            try:
                mark = msgspec.json.decode(line, type=Mark)
            except (msgspec.DecodeError, UnicodeDecodeError):
                continue
            before = found.get(mark.scene)
            if before is None or (mark.when, mark.who) >= (before.when, before.who):
                found[mark.scene] = mark
    return found


def read_docket(folder: Path) -> list[DocketScene]:
    """The scenes of a folder, those first that need an eye most. Raises TargetError for a folder that cannot be read."""
    found = {outcome.scene: outcome for outcome in Ledger(folder).outcomes if outcome.scene}
    marks = read_marks(folder)
    try:
        names = [entry.name for entry in os.scandir(folder) if entry.name.endswith(SUFFIX)]
    except OSError as problem:
        raise _unreadable(folder, problem) from None
    scenes = [DocketScene(folder / name, found.get(name), marks.get(name)) for name in names]
    return in_need([replace(scene, kept=_kept_in(scene.path)) if _is_unknown(scene) else scene for scene in scenes])


def _is_unknown(scene: DocketScene) -> bool:
    """Whether only its own file can tell how far somebody has come: it was brought here from another folder."""
    return scene.mark is None and scene.found is None


def _kept_in(path: Path) -> Standing:
    """What a scene's file says at its head."""
    try:
        with path.open("rb") as file:
            found = _STANDING.search(file.read(_HEAD))
    except OSError:
        return Standing.TO_DO  # whoever opens it says what is the matter
    kinds = {each.value.encode(): each for each in Standing}
    return kinds.get(found[1], Standing.TO_DO) if found is not None else Standing.TO_DO


def _unreadable(path: Path, problem: OSError) -> TargetError:
    reason = _("it cannot be read ({reason})", reason=problem.strerror)
    return TargetError(str(path), reason, _("Change its permissions, or choose another folder"))


def in_need(scenes: Iterable[DocketScene]) -> list[DocketScene]:
    """Those first that need an eye most."""
    return sorted(scenes, key=lambda scene: scene.needs)


def next_after(path: Path, scenes: Iterable[DocketScene], mark: Mark) -> DocketScene | None:
    """The scene that needs an eye most once another one has a mark; None when all were looked at."""
    left = [replace(scene, mark=mark) if scene.path == path else scene for scene in scenes]
    return next((scene for scene in in_need(left) if scene.standing is Standing.TO_DO and scene.path != path), None)


def _user() -> str:
    try:
        return getpass.getuser()
    except (OSError, KeyError):  # nobody of that number, as in some containers
        return "somebody"
