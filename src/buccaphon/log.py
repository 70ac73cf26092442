"""The log: what was done and what went wrong, for whoever has to find a fault.

Every room writes to a logger of its name below "buccaphon" (`logging.getLogger("buccaphon.alignment")`). The last records are
kept in memory for *Copy details*; the window also writes warnings to a rotated file in the state folder. Neither holds what a
project is about: words in quotation marks and paths are replaced before a record is kept.
"""

from __future__ import annotations

import logging
import os
import re
import sys
from collections import deque
from pathlib import Path

KEPT = 500  # records in memory: some minutes of work
_FILES, _BYTES = 3, 512 << 10
_QUOTED = re.compile(r"“[^”]*”")
_PATH = re.compile(
    r"(?<![\w.<])~?/(?:(?![:;,] | \()[^\n'\"“”])+"
)  # spaces are part of paths: rather too much than too little
_SUFFIX = re.compile(r"\.\w{1,12}\b")
_OURS = str(Path(__file__).parents[1])  # the folder that the package lies in
LEVELS = ("debug", "info", "warning", "error")


def without_private_parts(text: str) -> str:
    """A text without quoted words, and with paths but for those of the program itself as what they end in."""
    text = text.replace(f"{_OURS}/", "")
    text = text.replace(f"{sys.prefix}/", "")
    return _PATH.sub(lambda found: "<path>" + "".join(_SUFFIX.findall(found[0])[-1:]), _QUOTED.sub("“…”", text))


class _Formatter(logging.Formatter):
    def __init__(self) -> None:
        super().__init__("%(asctime)s %(levelname)s %(name)s: %(message)s")

    def format(self, record: logging.LogRecord) -> str:
        return without_private_parts(super().format(record))


class Ring(logging.Handler):
    """The last records, as lines."""

    def __init__(self) -> None:
        super().__init__(logging.DEBUG)
        self.setFormatter(_Formatter())
        self.lines: deque[str] = deque(maxlen=KEPT)

    def emit(self, record: logging.LogRecord) -> None:
        self.lines.append(self.format(record))


RING = Ring()


def start(level: str = "") -> None:
    """Keep the last records; level: also write those of that level and above to standard error."""
    ours = logging.getLogger("buccaphon")
    ours.setLevel(logging.DEBUG if level == "debug" else logging.INFO)
    ours.propagate = False
    if RING not in ours.handlers:
        ours.addHandler(RING)
    if level:
        told = logging.StreamHandler(sys.stderr)
        told.setLevel(level.upper())
        told.setFormatter(_Formatter())
        ours.addHandler(told)


def start_file(folder: Path) -> None:
    """Write warnings and errors to a rotated file, too. A folder that cannot be written to is left alone."""
    from logging.handlers import RotatingFileHandler  # noqa: PLC0415  (slow, and for the window alone)

    try:
        folder.mkdir(parents=True, exist_ok=True)
        file = RotatingFileHandler(
            folder / "buccaphon.log", maxBytes=_BYTES, backupCount=_FILES - 1, encoding="utf-8", delay=True
        )
    except OSError as problem:
        logging.getLogger("buccaphon.log").info("no log file: %s", problem.strerror)
        return
    file.setLevel(logging.WARNING)
    file.setFormatter(_Formatter())
    logging.getLogger("buccaphon").addHandler(file)


def state_folder() -> Path:
    """For the log (XDG Base Directory Specification 0.8)."""
    return Path(os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state") / "buccaphon"


def last_lines() -> str:
    """The last records, the oldest first."""
    return "\n".join(RING.lines)
