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
from buccaphon.project.state import Line as SceneLine
from buccaphon.project.state import Role, State, one_line
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
QUARREL = Line("quarrel", "market_quarrel", ENGLISH)  # of two, in one recording
BANG = Line("barrel", "barrel_bang", ENGLISH)  # that is heard only
_FALLS = 3.55  # seconds of the quarrel at which the barrel falls


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


def demo_scene() -> Project:
    """A quarrel of two speakers in one recording, not yet aligned, and a bang; it counts as unchanged."""
    kits = (marigold_kits()[0], open_kit(recording_path().parent / f"timo_drawn{KIT_SUFFIX}"))
    roles = (Role("Marigold", kit=kits[0].name), Role("Timo", kit=kits[1].name))
    lines = (
        SceneLine((Take(recording_path(QUARREL)),), script=script_text(QUARREL), name=QUARREL.name, role="Marigold"),
        SceneLine(
            (Take(recording_path(BANG), offset=_FALLS),), name=BANG.name, role="Marigold", heard_only=True, key=1
        ),
    )
    return Project(State(lines, roles=roles, kits=kits))


def marigold_kits() -> tuple[Kit, ...]:
    """Marigold in all three kinds: drawn, a cut-out and a small head."""
    media = recording_path().parent
    return tuple(open_kit(media / f"marigold_{name}{KIT_SUFFIX}") for name in ("drawn", "cut", "head"))
