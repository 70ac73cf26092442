"""The cheapest sequences of mouths under costs for what is seen wrongly, for changes and for mouths that pop up and go."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from buccaphon.arrays import Bools, Doubles, Ints

CHANGE = 0.2
FORBIDDEN = 1e6

Rims = tuple[int, int, bool]
"""First and last cell of a part, counted from the start of the recording, and whether a passage begins with it."""


@dataclass(frozen=True, slots=True, eq=False)
class Question:
    """What a passage's mouths cost. costs: (cells, mouths). forced: cells with a mouth of their own, whose going after one
    cell is no pop. pops: (cells,) what it costs to leave a mouth that was shown in that cell only. first: where in the
    recording it begins."""

    costs: Doubles
    forced: Mapping[int, int]
    pops: Doubles
    first: int = 0


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """A passage's cells between two forced ones: what they cost, and the mouths that were chosen."""

    costs: Doubles
    path: tuple[int, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Choice:
    """mouths: one a cell of a passage. parts: what they were chosen in, to be taken over where it stays the same."""

    mouths: list[int]
    parts: dict[Rims, Part] = field(repr=False)


def choose_cheapest(questions: Sequence[Question], known: Mapping[Rims, Part]) -> list[Choice]:
    """The cheapest mouths of some passages, part by part: at a forced cell, whose leaving is no pop, it does not matter what
    came before.

    known: parts of an earlier choice; those that cost the same are taken over, so that after an edit only what lies between
    the two contacts around it is chosen anew.
    """
    cut = [_parted(question) for question in questions]
    asked: dict[tuple[int, Rims], Question] = {}
    for number, parts in enumerate(cut):
        for rims, part in parts.items():
            before = known.get(rims)
            if before is None or not np.array_equal(before.costs, part.costs):
                asked[number, rims] = part
    found = dict(zip(asked, cheapest([_begun(part, rims) for (_, rims), part in asked.items()]), strict=True))
    choices = []
    for number, parts in enumerate(cut):
        made = {
            rims: Part(part.costs, tuple(found[number, rims])) if (number, rims) in found else known[rims]
            for rims, part in parts.items()
        }
        mouths: list[int] = []
        for (first, _, _), chosen in made.items():
            mouths[first - questions[number].first :] = chosen.path
        choices.append(Choice(mouths, made))
    return choices


def _parted(question: Question) -> dict[Rims, Question]:
    """A passage in parts that overlap at its forced cells."""
    last_cell, parts = len(question.costs) - 1, {}
    ends = sorted({0, last_cell, *question.forced})
    for first, last in pairwise(ends) if len(ends) > 1 else [(0, 0)]:
        inside = {cell - first: question.forced[cell] for cell in (first, last) if cell in question.forced}
        costs, pops = question.costs[first : last + 1], question.pops[first : last + 1]
        rims = (question.first + first, question.first + last, first == 0)
        parts[rims] = Question(costs, inside, pops, rims[0])
    return parts


def _begun(part: Question, rims: Rims) -> Question:
    """A part as it is asked alone: its first cell was counted with the part before, so that only its mouth is open there."""
    if rims[2]:
        return part
    costs = part.costs.copy()
    costs[0, np.arange(costs.shape[1]) != part.forced[0]] += FORBIDDEN
    return Question(costs, part.forced, part.pops, part.first)


@dataclass(frozen=True, slots=True, eq=False)
class _Steps:
    """How the cheapest sequences go on, (cells, questions, mouths) each. stayed: whether a held mouth had been held in the
    cell before. left: the mouth that was left for this one. was_held: whether a mouth that is left had been held."""

    stayed: Bools
    left: Ints
    was_held: Bools


def cheapest(questions: Sequence[Question]) -> list[list[int]]:
    """The cheapest sequence of mouths for each question, one a cell, all of them in step.

    Two states a mouth: just shown (fresh), and shown before (held).
    """
    if not questions:
        return []
    order = sorted(range(len(questions)), key=lambda n: -len(questions[n].costs))
    steps, fresh, held = _forwards([questions[number] for number in order])
    found: list[list[int]] = [[]] * len(order)
    for place, number in enumerate(order):
        cells = len(questions[number].costs)
        found[number] = _backwards(steps, place, cells, fresh[place], held[place])
    return found


def _forwards(asked: Sequence[Question]) -> tuple[_Steps, Doubles, Doubles]:
    """The steps, and (questions, mouths) what each mouth costs at the end, fresh and held. asked: the longest first."""
    lengths = [len(question.costs) for question in asked]
    costs = _padded([question.costs for question in asked])
    pops = _padded([question.pops[:, None] for question in asked])
    steps = _Steps(np.empty(costs.shape, np.bool_), np.empty(costs.shape, np.int_), np.empty(costs.shape, np.bool_))
    forced = dict[int, list[tuple[int, int]]]()
    for number, question in enumerate(asked):
        for cell, mouth in question.forced.items():
            forced.setdefault(cell, []).append((number, mouth))
    changing = np.full((costs.shape[2], costs.shape[2]), CHANGE)
    np.fill_diagonal(changing, np.inf)
    fresh, held = costs[0].copy(), np.full(costs.shape[1:], np.inf)
    fresh[:, 1:] += CHANGE  # a recording begins at rest unless something speaks at once
    active = len(asked)
    for cell in range(1, lengths[0]):
        while lengths[active - 1] <= cell:
            active -= 1
        young, old, here = fresh[:active], held[:active], costs[cell, :active]
        leaving = young + pops[cell - 1, :active]
        for number, mouth in forced.get(cell - 1, ()):
            if number < active:
                leaving[number, mouth] = young[number, mouth]
        np.less_equal(old, young, out=steps.stayed[cell, :active])
        np.less_equal(old, leaving, out=steps.was_held[cell, :active])
        np.minimum(leaving, old, out=leaving)
        changed = leaving[:, None, :] + changing
        changed.argmin(2, out=steps.left[cell, :active])
        np.minimum(young, old, out=old)
        old += here
        np.add(here, changed.min(2), out=young)
    return steps, fresh, held


def _backwards(steps: _Steps, place: int, cells: int, fresh: Doubles, held: Doubles) -> list[int]:
    """The mouths of one question, from what each mouth costs in its last cell."""
    stayed, left, was_held = (each[:cells, place].tolist() for each in (steps.stayed, steps.left, steps.was_held))
    is_held = bool(held.min() <= fresh.min())
    mouth = int((held if is_held else fresh).argmin())
    path = [mouth]
    for cell in range(cells - 1, 0, -1):
        if is_held:
            is_held = stayed[cell][mouth]
        else:
            mouth = left[cell][mouth]
            is_held = was_held[cell][mouth]
        path.append(mouth)
    path.reverse()
    return path


def _padded(arrays: Sequence[Doubles]) -> Doubles:
    """(longest, arrays, ...) side by side, cells first; what is beyond an array's end is 0."""
    padded = np.zeros((len(arrays[0]), len(arrays), *arrays[0].shape[1:]))
    for number, array in enumerate(arrays):
        padded[: len(array), number] = array
    return padded
