"""Mouth charts: which mouth answers to which sounds, and each mouth's pose."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from buccaphon.arrays import Bools, Doubles
from buccaphon.errors import ChartError
from buccaphon.mouths.pose import Pose, distances
from buccaphon.speech.phones import PAUSE, SOUNDS, looks_like


@dataclass(frozen=True, slots=True)
class Mouth:
    """One mouth of a chart. sounds: IPA symbols it answers to. contact: lips or teeth meet, so it must be seen."""

    name: str
    pose: Pose
    sounds: tuple[str, ...]
    contact: bool = False


@dataclass(frozen=True)
class ChartDocument:
    """A chart as its maker leaves it, perhaps half done. The first mouth is the resting one."""

    name: str
    about: str
    mouths: tuple[Mouth, ...]

    @cached_property
    def missing(self) -> tuple[str, ...]:
        """The English sounds that no mouth answers to."""
        answered = {sound for mouth in self.mouths for sound in mouth.sounds}
        return tuple(sorted(SOUNDS.keys() - answered))

    @property
    def faults(self) -> tuple[tuple[str, str], ...]:
        """What keeps it from being whole: each with a remedy; none when it is."""
        found = []
        names = Counter(mouth.name for mouth in self.mouths)
        answers = Counter(sound for mouth in self.mouths for sound in mouth.sounds)
        twice = sorted(sound for sound, count in answers.items() if count > 1)
        if len(self.mouths) < 2:
            found.append(("it has fewer than two mouths", "Give it an open and a shut one"))
        if any(count > 1 for count in names.values()):
            found.append(("two of its mouths have the same name", "Rename one"))
        if self.missing:
            found.append((f"no mouth answers to {' '.join(self.missing)}", "Add them to a mouth"))
        if twice:
            found.append((f"two mouths answer to {' '.join(twice)}", "Leave each in one place"))
        return tuple(found)

    def whole(self) -> Chart:
        """Raises ChartError with the first of its faults when it is not whole."""
        return Chart(self.name, self.about, self.mouths)

    def as_far_as_it_goes(self, pattern: Chart) -> Chart:
        """A whole chart made of what is there: what no mouth answers to yet is answered by the one that looks most like that
        of another chart, what two answer to by the first. With fewer than two mouths it is that other chart."""
        mouths = list({mouth.name: mouth for mouth in reversed(self.mouths)}.values())[::-1]
        if len(mouths) < 2:
            return pattern
        answers: dict[str, int] = {}
        for number, mouth in enumerate(mouths):
            for sound in mouth.sounds:
                answers.setdefault(sound, number)
        for sound in self.missing:
            wanted = pattern.mouths[pattern.answer(sound)]
            answers[sound] = nearest_mouth(mouths, wanted.pose, wanted.contact)
        sounds = [tuple(sound for sound, number in answers.items() if number == n) for n in range(len(mouths))]
        return Chart(self.name, self.about, tuple(replace(m, sounds=s) for m, s in zip(mouths, sounds, strict=True)))


@dataclass(frozen=True)
class Chart(ChartDocument):
    """Two mouths or more, the first one the resting mouth. Every English sound has exactly one mouth."""

    def __post_init__(self) -> None:
        for reason, remedy in self.faults:
            raise ChartError(f"chart {self.name}", reason, remedy)

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
    def distances(self) -> Doubles:
        """(mouths, mouths): how different each two look."""
        return distances([mouth.pose for mouth in self.mouths])

    @cached_property
    def contacts(self) -> Bools:
        """(mouths,) whether lips or teeth meet in each."""
        return np.array([mouth.contact for mouth in self.mouths])

    @cached_property
    def touching(self) -> tuple[bool, ...]:
        """For each mouth whether lips or teeth meet in it."""
        return tuple(mouth.contact for mouth in self.mouths)

    @cached_property
    def shut(self) -> Bools:
        """(mouths,) the contacts but for the resting mouth."""
        return self.contacts & (np.arange(len(self.mouths)) > 0)

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
        return 0 if pose is None else nearest_mouth(self.mouths, pose, contact)

    def index(self, name: str) -> int:
        """The index of the mouth of that name; ChartError when there is none."""
        if name not in self.names:
            raise ChartError(
                f"mouth “{name}”", f"chart {self.name} has no such mouth", f"It has {', '.join(self.names)}"
            )
        return self.names.index(name)


def nearest_mouth(mouths: tuple[Mouth, ...] | list[Mouth], pose: Pose, contact: bool) -> int:
    """The index of the mouth that looks most like a pose, among those that touch as it does where there are any."""
    alike = [i for i, mouth in enumerate(mouths) if mouth.contact == contact]
    return min(alike or range(len(mouths)), key=lambda i: mouths[i].pose.distance(pose))
