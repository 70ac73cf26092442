"""Making a bake and updating it: after an edit only what it touched is recomputed, in place.

The result is always that of making it all at once; a property test holds this over every kind of edit.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import accumulate, compress, count
from operator import is_not

import numpy as np

from buccaphon.motion.channels import Channels
from buccaphon.motion.jaw import mouths_alone
from buccaphon.motion.making import Changed, Frames, Motion, make_channels
from buccaphon.motion.plan import Plan
from buccaphon.motion.record import Bake
from buccaphon.motion.shares import REACH
from buccaphon.motion.stages import Source
from buccaphon.mouths.by_loudness import choose_by_loudness
from buccaphon.mouths.choosing import Choice, choose_mouths
from buccaphon.mouths.exposures import Exposure, held_on
from buccaphon.mouths.laying import laid_at, laid_otherwise, lay_over
from buccaphon.mouths.passages import Passage, part_into_passages, part_passage
from buccaphon.mouths.reasons import Reason, reason_for
from buccaphon.mouths.segments import Kind


@dataclass(frozen=True, eq=False)
class Made:
    """A plan and what it gave. passages, choices: of a recording with words, as many of the one as of the other. machine: the
    held mouths before anything is laid over them. anew: from the first to the last frame that differs from the bake
    before."""

    plan: Plan
    passages: list[Passage]
    choices: list[Choice]
    machine: tuple[Exposure, ...]
    bake: Bake
    motion: Motion
    anew: Frames


def bake(plan: Plan) -> Bake:
    """Make it all at once."""
    return remake(None, plan).bake


def remake(kept: Made | None, plan: Plan) -> Made:
    """Make a bake, over what is kept of the last one as far as that goes."""
    if kept is None or not _chooses_alike(kept.plan, plan):
        return _made_at_once(plan)
    laid = laid_otherwise(kept.plan.laid, plan.laid)
    if plan.score is None:
        return _moved(plan, [], [], kept.machine, {Source.SOUNDS: laid, Source.MOUTHS: laid}, [], kept)
    passages, choices = list(kept.passages), list(kept.choices)
    exposures: tuple[Exposure, ...] = kept.machine
    heard, seen = list[Frames](), list[Frames]()
    changed = _changed_words(kept, plan)
    for first, last in reversed(_touched(kept, plan, changed)):
        anew, made = _chosen_anew(kept, plan, first, last)
        if difference := _where_mouths_differ(plan, anew[0].first, kept.choices[first : last + 1], made):
            seen.insert(0, difference)
            exposures = _with_part(exposures, _exposures(plan, anew, made))
        parted_alike = [len(p.words) for p in anew] == [len(p.words) for p in passages[first : last + 1]]
        passages[first : last + 1], choices[first : last + 1] = anew, made
        if not parted_alike:
            heard.append(_frames_of(plan, anew[0].first, anew[-1].end))
    heard += [_heard_near(kept, plan, number) for number in changed]
    heard, seen = heard + laid, seen + laid
    said = [_frames_of_word(each, number) for each in (kept.plan, plan) for number in changed]
    return _moved(plan, passages, choices, exposures, {Source.SOUNDS: heard, Source.MOUTHS: seen}, said, kept)


def why_shown(made: Made, exposure: Exposure) -> Reason | None:
    """Why a mouth is on show; None where there are no words to say it by."""
    grid, plan = made.plan.grid, made.plan
    cell = grid.cell_at(exposure.start)
    number = bisect_right(made.passages, cell, key=lambda passage: passage.first) - 1
    if number < 0:
        return None
    passage, choice = made.passages[number], made.choices[number]
    laid = laid_at(plan.laid, exposure.start)
    at = bisect_right(choice.placed, cell - passage.first, key=lambda placed: placed.cell) - 1
    kind = Kind.PAINTED if laid else choice.placed[at].kind if at >= 0 else Kind.REST
    near = [word for each in made.passages[max(number - 1, 0) : number + 2] for word in each.words]
    return reason_for(exposure, kind, near, plan.chart, plan.settings.rate)


def _made_at_once(plan: Plan) -> Made:
    if plan.score is None:
        passages, choices = [], []
        path = choose_by_loudness(mouths_alone(plan), plan.chart, plan.grid, always_opens=plan.has_threshold)
        exposures = held_on(plan.grid.edges, plan.frames, path, plan.chart.names)
    else:
        settings = plan.settings
        passages = part_into_passages(plan.score, settings.rate, plan.grid, settings.mouth_settings.of_choosing)
        choices = _choose(plan, passages)
        exposures = _exposures(plan, passages, choices)
    return _moved(plan, passages, choices, exposures, {}, [], None)


def _moved(
    plan: Plan,
    passages: list[Passage],
    choices: list[Choice],
    machine: tuple[Exposure, ...],
    changed: Changed,
    said: Sequence[Frames],
    kept: Made | None,
) -> Made:
    """Mouths with all channels. said: where words are others."""
    exposures = lay_over(machine, plan.laid, plan.chart, plan.settings.rate)
    if kept is not None and kept.machine is machine and kept.plan.laid == plan.laid:
        exposures = kept.bake.exposures
    motion = make_channels(plan, passages, exposures, changed, kept.motion if kept is not None else None)
    anew = [*said, *changed.get(Source.MOUTHS, ()), *motion.felt]
    rims = (min(first for first, _ in anew), max(end for _, end in anew)) if anew else (0, 0)
    return Made(plan, passages, choices, machine, _bake(plan, exposures, motion.channels), motion, rims)


def _choose(plan: Plan, passages: Sequence[Passage], before: Sequence[Choice] = ()) -> list[Choice]:
    settings = plan.settings
    mouth_settings = settings.mouth_settings.of_choosing
    return choose_mouths(passages, plan.chart, settings.rate, plan.grid, mouth_settings, before)


def _chooses_alike(kept: Plan, plan: Plan) -> bool:
    """Whether two plans differ in words that were moved, in what is painted, or in what no mouth is chosen by."""
    before, now = kept.settings, plan.settings
    if kept.chart != plan.chart or before.rate != now.rate or before.quiet != now.quiet or kept.frames != plan.frames:
        return False
    if kept.loud is not plan.loud or before.mouth_settings.of_choosing != now.mouth_settings.of_choosing:
        return False
    if kept.score is None or plan.score is None:
        same = kept.score is plan.score and kept.driven is plan.driven and kept.has_threshold == plan.has_threshold
        return same and before.mouth_settings == now.mouth_settings
    return len(kept.score.words) == len(plan.score.words) and kept.score.duration == plan.score.duration


def _changed_words(kept: Made, plan: Plan) -> list[int]:
    """Their numbers."""
    assert kept.plan.score is not None
    assert plan.score is not None
    return list(compress(count(), map(is_not, kept.plan.score.words, plan.score.words)))


def _heard_near(kept: Made, plan: Plan, number: int) -> Frames:
    """The frames whose pose a changed word can move."""
    assert kept.plan.score is not None
    assert plan.score is not None
    now, before, lead = plan.score.words[number], kept.plan.score.words[number], plan.lead
    rate = plan.settings.rate
    start, end = min(now.start, before.start), max(now.end, before.end)
    begin = max(rate.containing(max(start - REACH - lead, 0.0)) - 1, 0)
    return begin, min(rate.covering(max(end + REACH - lead, 0.0)) + 1, plan.frames)


def _frames_of_word(plan: Plan, number: int) -> Frames:
    """With the pauses beside it, which last otherwise when it moves."""
    assert plan.score is not None
    words, rate = plan.score.words, plan.settings.rate
    start = words[number - 1].end if number else 0.0
    end = words[number + 1].start if number + 1 < len(words) else plan.score.duration
    return rate.containing(start), rate.covering(end)


def _touched(kept: Made, plan: Plan, changed: Sequence[int]) -> list[tuple[int, int]]:
    """Which passages have to be made anew, as runs from a first to a last one. changed: numbers of words."""
    assert plan.score is not None
    # a changed word's own passage, and those of its neighbours: the gaps beside it may part passages now, or no longer
    last_word = len(plan.score.words) - 1
    near = {min(max(number + by, 0), last_word) for number in changed for by in (-1, 0, 1)}
    counts = list(accumulate((len(passage.words) for passage in kept.passages), initial=0))
    found = {bisect_right(counts, number) - 1 for number in near}
    return _in_runs(found)


def _in_runs(numbers: Iterable[int]) -> list[tuple[int, int]]:
    """Whole numbers as runs from a first to a last one."""
    found: list[tuple[int, int]] = []
    for number in sorted(numbers):
        if found and number <= found[-1][1] + 1:
            found[-1] = (found[-1][0], number)
        else:
            found.append((number, number))
    return found


def _chosen_anew(kept: Made, plan: Plan, first: int, last: int) -> tuple[list[Passage], list[Choice]]:
    """The passages in the place of those from number `first` to `last`, and their mouths."""
    assert plan.score is not None
    there = kept.passages
    begin = sum(len(passage.words) for passage in there[:first])
    words = plan.score.words[begin : begin + sum(len(passage.words) for passage in there[first : last + 1])]
    whole = replace(there[first], end=there[last].end, words=words, until=there[last].until)
    anew = part_passage(whole, plan.settings.rate, plan.grid, plan.settings.mouth_settings.of_choosing)
    return anew, _choose(plan, anew, kept.choices[first : last + 1])


def _exposures(plan: Plan, passages: Sequence[Passage], choices: Sequence[Choice]) -> tuple[Exposure, ...]:
    """The held mouths of some passages in a row, with their frames in the whole."""
    path, grid = _path(choices), plan.grid
    return held_on(grid.edges[passages[0].first : passages[-1].end + 1], plan.frames, path, plan.chart.names)


def _path(choices: Sequence[Choice]) -> list[int]:
    return [mouth for choice in choices for mouth in choice.mouths]


def _with_part(whole: tuple[Exposure, ...], part: tuple[Exposure, ...]) -> tuple[Exposure, ...]:
    """Held mouths with those of some frames replaced; equal ones that meet are one."""
    if not part:
        return whole
    first, end = part[0].start, part[-1].end
    before = whole[: bisect_left(whole, first, key=lambda each: each.start)]
    after = whole[bisect_right(whole, end, key=lambda each: each.end) :]
    if before and before[-1].end > first:
        before = (*before[:-1], replace(before[-1], end=first))
    if after and after[0].start < end:
        after = (replace(after[0], start=end), *after[1:])
    return _join(_join(before, part), after)


def _join(left: tuple[Exposure, ...], right: tuple[Exposure, ...]) -> tuple[Exposure, ...]:
    if left and right and left[-1].mouth == right[0].mouth:
        return (*left[:-1], replace(left[-1], end=right[0].end), *right[1:])
    return (*left, *right)


def _where_mouths_differ(plan: Plan, first: int, old: Sequence[Choice], new: Sequence[Choice]) -> Frames | None:
    """From the first to the last frame that shows another mouth now; first: the cell with which both begin."""
    cells = np.flatnonzero(np.not_equal(_path(old), _path(new)))
    return _frames_of(plan, first + int(cells[0]), first + int(cells[-1]) + 1) if len(cells) else None


def _frames_of(plan: Plan, first: int, end: int) -> Frames:
    """The frames of the cells from `first` up to `end`."""
    return int(plan.grid.edges[first]), min(int(plan.grid.edges[end]), plan.frames)


def _bake(plan: Plan, exposures: tuple[Exposure, ...], channels: Channels) -> Bake:
    said = plan.said or plan.score
    settings = plan.settings
    words = said.words if said else ()
    return Bake(
        settings.rate, settings.start_frame, plan.chart, plan.grid, exposures, channels, words, driven=plan.driven
    )
