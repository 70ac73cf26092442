"""What was done: one line of JSON for each, written as soon as it is done, so that an interrupted batch
continues."""

from __future__ import annotations

import os
from collections.abc import Iterable
from pathlib import Path

import msgspec

from buccaphon.batch.line import Outcome
from buccaphon.errors import TargetError
from buccaphon.texts import _

NAME = "batch.ledger.jsonl"


class Ledger:
    """Of a folder. A line that was cut off in the middle is passed over."""

    def __init__(self, folder: Path) -> None:
        self._folder, self._path = folder, folder / NAME
        self._known: dict[str, Outcome] = {}
        self._scenes: dict[str, str] = {}
        try:
            lines = self._path.read_bytes().splitlines() if self._path.exists() else []
        except OSError as problem:
            raise TargetError(
                str(self._path),
                _("it cannot be read ({reason})", reason=problem.strerror),
                _("Choose another folder"),
            ) from None
        for line in lines:
            try:
                outcome = msgspec.json.decode(line, type=Outcome)
            except (msgspec.DecodeError, UnicodeDecodeError):
                continue
            self._remember(outcome)
        self._torn = bool(lines) and not self._path.read_bytes().endswith(b"\n")

    def done(self, key: str) -> Outcome | None:
        """What came of a line of that content and settings, if it went well and all its files are still there."""
        found = self._known.get(key) if key else None
        if found is None or found.failed or not all((self._folder / name).exists() for name in found.files):
            return None
        return found

    @property
    def outcomes(self) -> Iterable[Outcome]:
        """What came of all lines, in the order in which they were first done."""
        return self._known.values()

    def scene_digest(self, name: str) -> str:
        """Of a scene file as it was last written here; "" where none was."""
        return self._scenes.get(name, "")

    def _remember(self, outcome: Outcome) -> None:
        self._known[outcome.key] = outcome
        if outcome.digest:
            self._scenes[outcome.scene] = outcome.digest

    def put(self, outcome: Outcome) -> None:
        """Raises TargetError."""
        self._remember(outcome)
        try:
            with self._path.open("ab") as file:
                file.write((b"\n" if self._torn else b"") + msgspec.json.encode(outcome) + b"\n")
                file.flush()
                os.fsync(file.fileno())
        except OSError as problem:
            raise TargetError(
                str(self._path),
                _("it cannot be written ({reason})", reason=problem.strerror),
                _("Free space there"),
            ) from None
        self._torn = False
