"""The stages that make a bake's channels, in the order they run.

A stage gives the values of its channels for some frames, from the whole plan and from what the stages before it have made.
`reach` says how many frames beyond those that changed it has to be run again for.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import Enum

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.motion.channels import Channel, Channels, Origin
from buccaphon.motion.jaw import NEIGHBOURS, jaw_from_loudness, jaw_from_sounds
from buccaphon.motion.plan import Plan
from buccaphon.motion.record import JAW, WEIGHT, frame_middles
from buccaphon.motion.weights import mouth_weights
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.passages import Passage
from buccaphon.score.records import Phone


@dataclass(frozen=True, eq=False)
class Draft:
    """What has been made so far. passages, exposures: of the whole recording. channels: of the stages that have run."""

    passages: Sequence[Passage]
    exposures: Sequence[Exposure]
    channels: Channels


class Source(Enum):
    """What a stage can look at, and what can change in some frames and not in others."""

    SOUNDS = "the words and sounds of whole passages"
    MOUTHS = "the mouths on show"


@dataclass(frozen=True, slots=True)
class Stage:
    """looks_at: a change of what makes it run again there. channels: which it makes for a plan. run: their values for the
    frames from a first up to an end, (end - first, n). reach: frames that a value depends on to either side."""

    name: str
    looks_at: tuple[Source, ...]
    channels: Callable[[Plan], tuple[Channel, ...]]
    run: Callable[[Plan, Draft, int, int], Floats]
    reach: int = 0


def _jaw_channels(plan: Plan) -> tuple[Channel, ...]:
    return (Channel(JAW, "Jaw", Origin.LOUDNESS if plan.score is None else Origin.SOUNDS),)


def _jaw(plan: Plan, draft: Draft, first: int, end: int) -> Floats:
    if plan.score is None:
        return jaw_from_loudness(plan.loud)[first:end, None]
    edges, lead = plan.grid.edges, plan.settings.manners.everywhere.lead
    parts = []
    for passage in _passages_in(plan, draft, first, end):
        begin, until = max(int(edges[passage.first]), first), min(int(edges[passage.end]), plan.frames, end)
        if begin >= until:
            continue
        shown = _cut(draft.exposures, begin, until)
        middles = frame_middles(begin, until, plan.settings.rate)
        phones = _phones_near(passage, float(middles[0]) + min(lead, 0.0), float(middles[-1]) + max(lead, 0.0))
        parts.append(jaw_from_sounds(phones, plan.chart, shown, plan.loud[begin:until], middles, lead))
    return np.concatenate(parts)[:, None]


def _phones_near(passage: Passage, start: float, end: float) -> list[Phone]:
    """The sounds of a passage that are said from one moment to another, and those around that still pull."""
    phones = [phone for word in passage.words for phone in word.phones]
    first = bisect_left(phones, start, key=lambda phone: phone.end) - NEIGHBOURS - 1
    last = bisect_right(phones, end, key=lambda phone: phone.start) + NEIGHBOURS + 1
    return phones[max(first, 0) : last]


def _weight_channels(plan: Plan) -> tuple[Channel, ...]:
    return tuple(Channel(f"{WEIGHT}{name}", name, Origin.MOUTHS) for name in plan.chart.names)


def _weights(plan: Plan, draft: Draft, first: int, end: int) -> Floats:
    begin, until = max(first - 1, 0), min(end + 1, plan.frames)
    weights = mouth_weights(_cut(draft.exposures, begin, until), plan.chart, until - begin)
    return weights[first - begin : end - begin]


STAGES = (
    Stage("jaw", (Source.SOUNDS, Source.MOUTHS), _jaw_channels, _jaw),
    Stage("weights", (Source.MOUTHS,), _weight_channels, _weights, reach=1),
)


def _passages_in(plan: Plan, draft: Draft, first: int, end: int) -> Sequence[Passage]:
    """The passages that have any of the frames from `first` up to `end`."""
    edges, passages = plan.grid.edges, draft.passages
    begin = bisect_right(passages, first, key=lambda passage: int(edges[passage.end]))
    until = bisect_left(passages, end, key=lambda passage: int(edges[passage.first]))
    return passages[begin:until]


def _cut(exposures: Sequence[Exposure], first: int, end: int) -> list[Exposure]:
    """The exposures in the frames from `first` up to `end`, counted from there."""
    begin = bisect_right(exposures, first, key=lambda exposure: exposure.end)
    until = bisect_left(exposures, end, key=lambda exposure: exposure.start)
    return [Exposure(e.mouth, max(e.start, first) - first, min(e.end, end) - first) for e in exposures[begin:until]]
