"""What was done: one line of JSON for each, written as soon as it is done, so that an interrupted batch
continues."""

from __future__ import annotations

import os
import time
from collections.abc import Iterable
from pathlib import Path

import msgspec

from buccaphon.batch.line import Outcome
from buccaphon.errors import TargetError
from buccaphon.texts import _

NAME = "batch.ledger.jsonl"
_TO_DISK = 1.0  # seconds after which a line survives the machine, too; the program it survives at once


class Ledger:
    """Of a folder. A line that was cut off in the middle is passed over."""

    def __init__(self, folder: Path) -> None:
        self._folder, self._path = folder, folder / NAME
        self._known: dict[str, Outcome] = {}
        self._stamped: dict[str, Outcome] = {}
        self._scenes: dict[str, str] = {}
        self._file: int | None = None
        self._on_disk = 0.0
        try:
            content = self._path.read_bytes() if self._path.exists() else b""
        except OSError as problem:
            raise TargetError(
                str(self._path),
                _("it cannot be read ({reason})", reason=problem.strerror),
                _("Choose another folder"),
            ) from None
        decode = msgspec.json.Decoder(Outcome).decode
        for line in content.splitlines():
            try:
                outcome = decode(line)
            except (msgspec.DecodeError, UnicodeDecodeError):
                continue
            self._remember(outcome)
        self._torn = bool(content) and not content.endswith(b"\n")

    def done(self, key: str) -> Outcome | None:
        """What came of a line of that content and settings, if it went well and all its files are still there."""
        return self._if_there(self._known.get(key) if key else None)

    def done_with(self, stamp: str) -> Outcome | None:
        """The same of a line whose files are as old and as long as they were then: none of them need be read."""
        return self._if_there(self._stamped.get(stamp) if stamp else None)

    def _if_there(self, found: Outcome | None) -> Outcome | None:
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
        if outcome.stamp:
            self._stamped[outcome.stamp] = outcome
        if outcome.digest:
            self._scenes[outcome.scene] = outcome.digest

    def put(self, outcome: Outcome) -> None:
        """Raises TargetError."""
        self._remember(outcome)
        line = (b"\n" if self._torn else b"") + msgspec.json.encode(outcome) + b"\n"
        try:
            if self._file is None:
                self._file = os.open(self._path, os.O_WRONLY | os.O_APPEND | os.O_CREAT, 0o666)
            while line:
                line = line[os.write(self._file, line) :]
            if time.monotonic() - self._on_disk > _TO_DISK:
                os.fsync(self._file)
                self._on_disk = time.monotonic()
        except OSError as problem:
            raise TargetError(
                str(self._path),
                _("it cannot be written ({reason})", reason=problem.strerror),
                _("Free space there"),
            ) from None
        self._torn = False

    def close(self) -> None:
        """All of it is on the disk then. It can still be read, and be written to."""
        if self._file is not None:
            os.fsync(self._file)
            os.close(self._file)
            self._file = None

    def __del__(self) -> None:
        if self._file is not None:
            os.close(self._file)
