"""Scenes: the docket of a season, read and filtered."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

import msgspec

from benchmarks.recording import resident
from benchmarks.report import bar, best
from buccaphon.batch.docket import Marks, read_docket
from buccaphon.batch.ledger import NAME
from buccaphon.batch.line import Outcome
from buccaphon.project.standing import Standing

_SCENES, _MARKED = 5000, 500


def run() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = season(Path(name))
        before = resident()
        bar("scenes.docket_opens_5000", best(lambda: read_docket(folder), 3), "s", 1.0)
        bar("scenes.docket_memory", resident() - before, "MB", 200)
        scenes = read_docket(folder)
        found = best(lambda: [each for each in scenes if "line 4" in each.title], 5)
        bar("scenes.docket_filters_5000", 1000 * found, "ms", 50)


def season(folder: Path) -> Path:
    """A folder as a batch leaves it, with some scenes that were looked at."""
    outcomes = []
    for number in range(_SCENES):
        scene = f"line {number}.buccaphon"
        (folder / scene).touch()
        issues = tuple(f"{at}.20 s: Press is too short for the p of plums" for at in range(number % 7))
        key, title, doubts = f"{number:064}", f"line {number}", number % 3
        outcomes.append(Outcome(key, title, "call.wav", "", 34, doubts, issues, 11.4, (scene,), scene))
    (folder / NAME).write_bytes(b"\n".join(map(msgspec.json.encode, outcomes)) + b"\n")
    marks = Marks(folder, "odile")
    for number in range(0, _SCENES, _SCENES // _MARKED):
        marks.put(f"line {number}.buccaphon", Standing.LOOKED_AT, float(number))
    os.sync()
    return folder
