"""Mouth charts: which mouth answers to which sounds, and each mouth's pose. Charts are TOML files."""

from __future__ import annotations

import tomllib
from collections import Counter
from dataclasses import dataclass
from functools import cached_property, lru_cache
from importlib import resources
from pathlib import Path

import msgspec
import numpy as np
import numpy.typing as npt

from buccaphon.errors import ChartError
from buccaphon.files import read_text
from buccaphon.mouths.pose import Pose, distances
from buccaphon.speech.phones import PAUSE, SOUNDS, looks_like

KEYS = "1234567890qweuiop"  # of the mouths, in order


@dataclass(frozen=True, slots=True)
class Mouth:
    """One mouth of a chart. sounds: IPA symbols it answers to. contact: lips or teeth meet, so it must be seen."""

    name: str
    pose: Pose
    sounds: tuple[str, ...]
    contact: bool = False


@dataclass(frozen=True)
class Chart:
    """Two mouths or more, the first one the resting mouth. Every English sound has exactly one mouth."""

    name: str
    about: str
    mouths: tuple[Mouth, ...]

    def __post_init__(self) -> None:
        names = [mouth.name for mouth in self.mouths]
        if len(names) < 2:
            raise ChartError(f"chart {self.name}", "it has fewer than two mouths", "Give it an open and a shut one")
        if len(set(names)) < len(names):
            raise ChartError(f"chart {self.name}", "two of its mouths have the same name", "Rename one")
        answered = [sound for mouth in self.mouths for sound in mouth.sounds]
        missing = sorted(SOUNDS.keys() - set(answered))
        if missing:
            raise ChartError(f"chart {self.name}", f"no mouth answers to {' '.join(missing)}", "Add them to a mouth")
        twice = sorted(sound for sound, count in Counter(answered).items() if count > 1)
        if twice:
            raise ChartError(f"chart {self.name}", f"two mouths answer to {' '.join(twice)}", "Leave each in one place")

    @property
    def rest(self) -> Mouth:
        return self.mouths[0]

    @cached_property
    def names(self) -> tuple[str, ...]:
        return tuple(mouth.name for mouth in self.mouths)

    @cached_property
    def _answers(self) -> dict[str, int]:
        return {sound: i for i, mouth in enumerate(self.mouths) for sound in mouth.sounds}

    @cached_property
    def distances(self) -> npt.NDArray[np.float64]:
        """(mouths, mouths): how different each two look."""
        return distances([mouth.pose for mouth in self.mouths])

    def answer(self, sound: str) -> int:
        """The index of the mouth for a sound of any language; for a pause that of the resting mouth."""
        if sound == PAUSE:
            return 0
        found = self._answers.get(sound)
        return self._answers[looks_like(sound)] if found is None else found

    def standing_for(self, name: str, pose: Pose | None, contact: bool) -> int:
        """The index of the mouth of that name, or of the one that looks most like its pose: among those that touch as it
        does, where there are any. The resting mouth when nothing is known of it."""
        if name in self.names:
            return self.names.index(name)
        if pose is None:
            return 0
        alike = [i for i, mouth in enumerate(self.mouths) if mouth.contact == contact]
        return min(alike or range(len(self.mouths)), key=lambda i: self.mouths[i].pose.distance(pose))

    def index(self, name: str) -> int:
        """The index of the mouth of that name; ChartError when there is none."""
        if name not in self.names:
            raise ChartError(
                f"mouth “{name}”", f"chart {self.name} has no such mouth", f"It has {', '.join(self.names)}"
            )
        return self.names.index(name)


class _MouthEntry(msgspec.Struct, forbid_unknown_fields=True):
    name: str
    pose: Pose
    sounds: str = ""
    contact: bool = False


class _ChartEntry(msgspec.Struct, forbid_unknown_fields=True):
    name: str
    mouth: list[_MouthEntry]
    about: str = ""


def parse_chart(text: str, subject: str) -> Chart:
    """Read a chart from TOML. `subject` names it in messages."""
    try:
        data = msgspec.convert(tomllib.loads(text), _ChartEntry)
        return Chart(data.name, data.about, tuple(_mouth(entry) for entry in data.mouth))
    except tomllib.TOMLDecodeError as problem:
        raise ChartError(subject, f"it is not valid TOML ({problem})", "Mend that line") from None
    except (ValueError, RecursionError) as problem:
        raise ChartError(
            subject, f"an entry is missing or wrong ({problem})", "Compare it with a shipped chart"
        ) from None


def _mouth(entry: _MouthEntry) -> Mouth:
    return Mouth(entry.name, entry.pose, tuple(entry.sounds.split()), entry.contact)


@lru_cache(maxsize=1)
def shipped_charts() -> dict[str, Chart]:
    """The charts that come with Buccaphon by name, fewest mouths first."""
    folder = resources.files("buccaphon.mouths").joinpath("charts")
    charts = [
        parse_chart(file.read_text("utf-8"), file.name) for file in folder.iterdir() if file.name.endswith(".toml")
    ]
    return {chart.name: chart for chart in sorted(charts, key=lambda chart: len(chart.mouths))}


def find_chart(name: str) -> Chart:
    """A shipped chart by name in any case, or the chart in a .toml file."""
    for chart in shipped_charts().values():
        if chart.name.lower() == name.lower():
            return chart
    path = Path(name)
    if path.suffix == ".toml":
        return parse_chart(read_text(path, ChartError), name)
    known = ", ".join(shipped_charts())
    raise ChartError(f"chart “{name}”", "there is no chart of that name", f"Choose {known}, or name a .toml file")
