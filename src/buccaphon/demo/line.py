"""The demo's line and recording, and the project made of them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from importlib import resources
from pathlib import Path

from buccaphon.formats.listing import DEFAULT_LIST
from buccaphon.kits.kit import Kit
from buccaphon.kits.store import SUFFIX as KIT_SUFFIX
from buccaphon.kits.store import open_kit
from buccaphon.project.edits.takes import AddTake
from buccaphon.project.project import Project
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.speech.languages import ENGLISH


@dataclass(frozen=True, slots=True)
class Line:
    """One of Marigold's lines. file: its sound and script inside the package, without a suffix."""

    name: str
    file: str
    language: str


STALL_CALL = Line("stall call", "stall_call", ENGLISH)
STALL_CALL_AGAIN = Line("stall call again", "stall_call_again", ENGLISH)  # a second take: slower, louder
NIGHT_CALL = Line("night call", "night_call", "es")


def recording_path(line: Line = STALL_CALL) -> Path:
    """The line's sound file inside the package."""
    return Path(str(resources.files("buccaphon.demo").joinpath("media", f"{line.file}.flac")))


def script_text(line: Line = STALL_CALL) -> str:
    path = recording_path(STALL_CALL if line is STALL_CALL_AGAIN else line)
    return path.with_suffix(".txt").read_text("utf-8").strip()


def demo_project(line: Line = STALL_CALL) -> Project:
    """A project with one of the lines and its script, not yet aligned; it counts as unchanged."""
    take = Take(recording_path(line), line.name)
    kits = marigold_kits()
    exports = replace(DEFAULT_LIST, each=False)  # they are one character in three kinds
    state = one_line(language=line.language, kits=kits, kit=kits[0].name, exports=exports)
    return Project(AddTake(take, script_text(line)).apply(state))


def marigold_kits() -> tuple[Kit, ...]:
    """Marigold in all three kinds: drawn, a cut-out and a small head."""
    media = recording_path().parent
    return tuple(open_kit(media / f"marigold_{name}{KIT_SUFFIX}") for name in ("drawn", "cut", "head"))
