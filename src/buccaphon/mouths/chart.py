"""Mouth charts: which mouth stands for which sounds, and each mouth's pose."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from buccaphon.arrays import Bools, Doubles
from buccaphon.errors import ChartError
from buccaphon.mouths.pose import Pose, distances
from buccaphon.mouths.rules import RULES, is_meant
from buccaphon.speech.phones import PAUSE, SOUNDS, looks_like
from buccaphon.texts import _


@dataclass(frozen=True, slots=True)
class Mouth:
    """One mouth of a chart. sounds: IPA symbols it answers to. contact: lips or teeth meet, so it must be seen. rules: names
    of kinds of sounds that it answers to as well, where no mouth has the sound itself."""

    name: str
    pose: Pose
    sounds: tuple[str, ...]
    contact: bool = False
    rules: tuple[str, ...] = ()


@dataclass(frozen=True)
class ChartDocument:
    """A chart as its maker leaves it, perhaps half done. counts_from: the number of the first mouth in the host, 0 or 1.
    rests: which mouth silence is shown by, counted from 0 in the chart's order."""

    name: str
    about: str
    mouths: tuple[Mouth, ...]
    counts_from: int = 0
    rests: int = 0

    @cached_property
    def ruled_sounds(self) -> tuple[tuple[str, ...], ...]:
        """For each mouth the English sounds that it answers to by its rules alone."""
        answered = {sound for mouth in self.mouths for sound in mouth.sounds}
        by = {sound: ruled(self.mouths, sound) for sound in SOUNDS if sound not in answered}
        return tuple(tuple(s for s, n in by.items() if n == number) for number in range(len(self.mouths)))

    @cached_property
    def missing(self) -> tuple[str, ...]:
        """The English sounds that no mouth answers to."""
        answered = {sound for mouth in self.mouths for sound in mouth.sounds}
        return tuple(sorted(s for s in SOUNDS.keys() - answered if ruled(self.mouths, s) is None))

    @property
    def faults(self) -> tuple[tuple[str, str], ...]:
        """What keeps it from being whole: each with a remedy; none when it is."""
        found = []
        names = Counter(mouth.name for mouth in self.mouths)
        answers = Counter(sound for mouth in self.mouths for sound in mouth.sounds)
        twice = sorted(sound for sound, count in answers.items() if count > 1)
        if len(self.mouths) < 2:
            found.append(("it has fewer than two mouths", "Add an open and a closed mouth"))
        if any(count > 1 for count in names.values()):
            found.append(("two of its mouths have the same name", "Rename one"))
        unknown = sorted({rule for mouth in self.mouths for rule in mouth.rules} - RULES.keys())
        if unknown:
            found.append((f"there is no rule “{unknown[0]}”", f"Choose {', '.join(RULES)}"))
        elif self.missing:
            found.append((f"no mouth covers {' '.join(self.missing)}", "Add them to a mouth"))
        if twice:
            found.append((f"two mouths cover {' '.join(twice)}", "Leave each in one place"))
        if self.mouths and not 0 <= self.rests < len(self.mouths):
            found.append(("its resting mouth is none of its mouths", "Choose another"))
        return tuple(found)

    def whole(self) -> Chart:
        """Raises ChartError with the first of its faults when it is not whole."""
        return Chart(self.name, self.about, self.mouths, self.counts_from, self.rests)

    @property
    def document(self) -> ChartDocument:
        """The same, free to be half done."""
        return ChartDocument(self.name, self.about, self.mouths, self.counts_from, self.rests)

    def with_mouths(self, mouths: Iterable[Mouth]) -> ChartDocument:
        """The chart with other mouths, which may be half done. The resting one stays the same mouth wherever it is put; one
        that was renamed in its place rests on."""
        made = tuple(mouths)
        rests = self._where_rests(made)
        if rests is None:
            rests = self.rests if len(made) == len(self.mouths) else 0
        return ChartDocument(self.name, self.about, made, self.counts_from, rests)

    def _where_rests(self, mouths: Sequence[Mouth]) -> int | None:
        name = self.mouths[self.rests].name if self.rests < len(self.mouths) else None
        return next((number for number, mouth in enumerate(mouths) if mouth.name == name), None)

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
        for sound in self.with_mouths(mouths).missing:
            wanted = pattern.mouths[pattern.answer(sound)]
            answers[sound] = nearest_mouth(mouths, wanted.pose, wanted.contact)
        sounds = [tuple(sound for sound, number in answers.items() if number == n) for n in range(len(mouths))]
        known = [tuple(rule for rule in mouth.rules if rule in RULES) for mouth in mouths]
        made = (replace(m, sounds=s, rules=r) for m, s, r in zip(mouths, sounds, known, strict=True))
        return Chart(self.name, self.about, tuple(made), self.counts_from, self._where_rests(mouths) or 0)


@dataclass(frozen=True)
class Chart(ChartDocument):
    """Two mouths or more, of which one rests. Every English sound has exactly one mouth."""

    def __post_init__(self) -> None:
        for reason, remedy in self.faults:
            raise ChartError(_("chart {name}", name=self.name), reason, remedy)

    @property
    def rest(self) -> Mouth:
        return self.mouths[self.rests]

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
        found: Bools = self.contacts & (np.arange(len(self.mouths)) != self.rests)
        return found

    def answer(self, sound: str) -> int:
        """The index of the mouth for a sound of any language; for a pause that of the resting mouth."""
        if sound == PAUSE:
            return self.rests
        found = self._answers.get(sound)
        if found is None:
            found = ruled(self.mouths, sound)
            found = self.answer(looks_like(sound)) if found is None else found
            self._answers[sound] = found
        return found

    def standing_for(self, name: str, pose: Pose | None, contact: bool) -> int:
        """The index of the mouth of that name, or of the one that looks most like its pose: among those that touch as it
        does, where there are any. The resting mouth when nothing is known of it."""
        if name in self.names:
            return self.names.index(name)
        return self.rests if pose is None else nearest_mouth(self.mouths, pose, contact)

    def index(self, name: str) -> int:
        """The index of the mouth of that name; ChartError when there is none."""
        found = self.numbers.get(name)
        if found is None:
            raise ChartError(
                _("mouth “{name}”", name=name),
                _("chart {name} has no such mouth", name=self.name),
                _("It has {names}", names=", ".join(self.names)),
            )
        return found

    @cached_property
    def numbers(self) -> dict[str, int]:
        """The index of each mouth by its name."""
        return {name: number for number, name in enumerate(self.names)}


def ruled(mouths: Sequence[Mouth], sound: str) -> int | None:
    """The index of the first mouth with a rule that means a sound."""
    meant = (n for n, mouth in enumerate(mouths) if any(is_meant(rule, sound) for rule in mouth.rules))
    return next(meant, None)


def nearest_mouth(mouths: tuple[Mouth, ...] | list[Mouth], pose: Pose, contact: bool) -> int:
    """The index of the mouth that looks most like a pose, among those that touch as it does where there are any."""
    alike = [i for i, mouth in enumerate(mouths) if mouth.contact == contact]
    return min(alike or range(len(mouths)), key=lambda i: mouths[i].pose.distance(pose))
