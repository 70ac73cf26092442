"""The demo's line and recording, and the project made of them."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from buccaphon.project.edits import AddTake
from buccaphon.project.project import Project
from buccaphon.project.state import Take

CHARACTER = "Marigold"


def recording_path() -> Path:
    """The stall call's sound file inside the package."""
    return Path(str(resources.files("buccaphon.demo").joinpath("media", "stall_call.flac")))


def script_text() -> str:
    return recording_path().with_suffix(".txt").read_text("utf-8").strip()


def demo_project() -> Project:
    """A project with the stall call and its script, not yet aligned; it counts as unchanged."""
    fresh = Project()
    return Project(AddTake(Take(recording_path(), "stall call"), script_text()).apply(fresh.state))
