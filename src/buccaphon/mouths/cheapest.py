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
            rims: Part(part.costs, tuple(found[number, rims].tolist())) if (number, rims) in found else known[rims]
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
class _Step:
    """One cell of the questions that have so many. stayed: (questions, mouths) whether a held mouth was held before. leavers:
    (questions, 2) the two mouths to leave. was_held: (questions, 2) whether they had been held."""

    stayed: Bools
    leavers: Ints
    was_held: Bools


def cheapest(questions: Sequence[Question]) -> list[Ints]:
    """The cheapest sequence of mouths for each question, (cells,), all of them in step.

    Two states a mouth: just shown (fresh), and shown before (held). A fresh mouth comes from whichever mouth is cheapest to
    leave, or the second cheapest if it is that one itself; only these two are remembered for each cell.
    """
    if not questions:
        return []
    order = sorted(range(len(questions)), key=lambda n: -len(questions[n].costs))
    asked = [questions[number] for number in order]
    paths = _backwards(asked, *_forwards(asked))
    found: list[Ints] = [paths[0]] * len(order)
    for place, number in enumerate(order):
        found[number] = paths[place]
    return found


def _forwards(asked: Sequence[Question]) -> tuple[list[_Step], Doubles, Doubles]:
    """The steps, and (questions, mouths) what each mouth costs at the end, fresh and held. asked: the longest first."""
    lengths, mouths = [len(question.costs) for question in asked], asked[0].costs.shape[1]
    costs, pops = _padded([question.costs for question in asked]), _padded([question.pops for question in asked])
    rows, forced = np.arange(len(asked)), dict[int, list[tuple[int, int]]]()
    for number, question in enumerate(asked):
        for cell, mouth in question.forced.items():
            forced.setdefault(cell, []).append((number, mouth))
    fresh, held = costs[0].copy(), np.full((len(asked), mouths), np.inf)
    fresh[:, 1:] += CHANGE  # a recording begins at rest unless something speaks at once
    steps, active = [], len(asked)
    for cell in range(1, lengths[0]):
        while lengths[active - 1] <= cell:
            active -= 1
        young, old, row = fresh[:active], held[:active], rows[:active]
        popping = young + pops[cell - 1, :active, None]
        for number, mouth in forced.get(cell - 1, ()):
            if number < active:
                popping[number, mouth] = young[number, mouth]
        leaving = np.minimum(popping, old)
        first = leaving.argmin(1)
        best = leaving[row, first]
        leaving[row, first] = np.inf
        second = leaving.argmin(1)
        two = np.stack([first, second], 1)
        were_held = old[row[:, None], two] <= popping[row[:, None], two]
        steps.append(_Step(old <= young, two, were_held))
        here = costs[cell, :active]
        held[:active] = np.minimum(young, old) + here
        fresh[:active] = here + (best + CHANGE)[:, None]
        fresh[row, first] = here[row, first] + leaving[row, second] + CHANGE
    return steps, fresh, held


def _backwards(asked: Sequence[Question], steps: Sequence[_Step], fresh: Doubles, held: Doubles) -> list[Ints]:
    is_held = held.min(1) <= fresh.min(1)
    mouth = np.where(is_held, held.argmin(1), fresh.argmin(1))
    paths = [np.zeros(len(question.costs), np.int_) for question in asked]
    whole = np.zeros((len(steps) + 1, len(asked)), np.int_)
    for cell in range(len(steps), 0, -1):
        step = steps[cell - 1]
        active = len(step.leavers)
        row = np.arange(active)
        shown, kept = mouth[:active], is_held[:active]
        whole[cell, :active] = shown
        which = (step.leavers[:, 0] == shown).astype(np.int_)
        mouth[:active] = np.where(kept, shown, step.leavers[row, which])
        is_held[:active] = np.where(kept, step.stayed[row, shown], step.was_held[row, which])
    whole[0] = mouth
    for number, path in enumerate(paths):
        path[:] = whole[: len(path), number]
    return paths


def _padded(arrays: Sequence[Doubles]) -> Doubles:
    """(longest, arrays, ...) side by side, cells first; what is beyond an array's end is 0."""
    padded = np.zeros((len(arrays[0]), len(arrays), *arrays[0].shape[1:]))
    for number, array in enumerate(arrays):
        padded[: len(array), number] = array
    return padded
