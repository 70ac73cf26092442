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
from buccaphon.motion.jaw import jaw_alone
from buccaphon.motion.plan import Plan
from buccaphon.motion.pose_channels import MOST_PER_DB, POSE_CHANNELS, Loud, loud_of, pose_channels
from buccaphon.motion.record import APERTURE, WEIGHT, frame_middles
from buccaphon.motion.shares import REACH
from buccaphon.motion.weights import mouth_weights, weights_of
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.passages import Passage
from buccaphon.mouths.pose import Pose
from buccaphon.score.records import Phone, Word

_EASE = 2  # frames on either side of a painted mouth over which its pose comes and goes
_BY_LOUDNESS = ("jaw", "aperture")  # the first of the channels, which loudness alone drives


@dataclass(frozen=True, eq=False)
class Draft:
    """What has been made so far. passages, exposures: of the whole recording. channels: of the stages that have run."""

    passages: Sequence[Passage]
    exposures: Sequence[Exposure]
    channels: Channels


class Source(Enum):
    """What a stage can look at, and what can change in some frames and not in others."""

    SOUNDS = "the sounds around, and what is painted by hand"
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


def _pose_channels(plan: Plan) -> tuple[Channel, ...]:
    origin = Origin.LOUDNESS if plan.score is None else Origin.SOUNDS
    parts = [Channel(name, name.title(), origin) for name in POSE_CHANNELS]
    return (*parts, *(Channel(f"{WEIGHT}{name}", name, origin) for name in plan.chart.names))


def _pose(plan: Plan, draft: Draft, first: int, end: int) -> Floats:
    values = np.zeros((end - first, len(POSE_CHANNELS) + len(plan.chart.mouths)), np.float32)
    pose, weights = values[:, : len(POSE_CHANNELS)], values[:, len(POSE_CHANNELS) :]
    if plan.score is None:
        pose[:, : len(_BY_LOUDNESS)] = jaw_alone(plan)[first:end, None]
        weights[:] = mouth_weights(draft.exposures, plan.chart, plan.frames)[first:end]
        return values
    middles = frame_middles(first, end, plan.settings.rate)
    times, manners = middles + plan.lead, plan.settings.manners
    opening, per_db = manners.along("opening", middles), MOST_PER_DB * manners.along("by_loudness", middles)
    phones = _phones_near(plan.score.words, float(times[0]) - 2 * REACH, float(times[-1]) + 2 * REACH)
    posed = pose_channels(phones, times, _loud(plan), plan.score.duration, opening, per_db)
    weights[:, 0] = 1.0
    if posed is not None:
        pose[:] = posed.values
        weights[:] = weights_of(posed.line, posed.shares, posed.touching, posed.size, plan.chart)
    for span in plan.settings.quiet:
        edges = (max(plan.settings.rate.nearest(edge) - first, 0) for edge in (span.start, span.end))
        values[slice(*edges)] = _at_rest(plan)
    _go_to_painted(plan, values, first)
    return values


def _at_rest(plan: Plan) -> list[float]:
    return [*(0.0 for _ in POSE_CHANNELS), 1.0, *(0.0 for _ in plan.chart.mouths[1:])]


def _phones_near(words: Sequence[Word], start: float, end: float) -> list[Phone]:
    """The sounds of the words that are said in a stretch of time."""
    first = bisect_left(words, start, key=lambda word: word.end)
    last = bisect_right(words, end, key=lambda word: word.start)
    return [phone for word in words[first:last] for phone in word.phones]


def _loud(plan: Plan) -> Loud:
    """Measured once for a recording: its usual level does not change while words are moved."""
    global _measured  # noqa: PLW0603  (the last one; whoever needs another measures again)
    if _measured is None or _measured.level is not plan.loud:
        _measured = loud_of(plan.loud, float(plan.settings.rate.value))
    return _measured


_measured: Loud | None = None


def _go_to_painted(plan: Plan, values: Floats, first: int) -> None:
    """Where a mouth is painted by hand the pose goes to that mouth's, eased over some frames on either side."""
    if not plan.painted:
        return
    count = len(values)
    edges = plan.grid.edges
    wanted = np.full(count + 2 * _EASE, -1)
    for cell, mouth in plan.painted.items():
        begin, until = int(edges[cell]) - first + _EASE, int(edges[cell + 1]) - first + _EASE
        wanted[max(begin, 0) : max(until, 0)] = mouth
    if (wanted < 0).all():
        return
    whole = np.eye(len(plan.chart.mouths), dtype=np.float32)
    parts = np.array([_as_channels(mouth.pose) for mouth in plan.chart.mouths], np.float32)
    poses = np.hstack([parts, whole])
    share = np.zeros(count, np.float32)
    target = values.copy()
    for away in range(_EASE, -1, -1):
        near = 1 - away / (_EASE + 1)
        for shifted in {away, -away}:
            shown = wanted[_EASE + shifted : _EASE + shifted + count]
            there = shown >= 0
            share[there] = near
            target[there] = poses[shown[there]]
    values += share[:, None] * (target - values)


def _as_channels(pose: Pose) -> list[float]:
    """A mouth's pose as channels: the gap of its lips is what jaw, rounding, pressing and biting leave of it."""
    aperture = pose.jaw * (1 - 0.4 * pose.round) * (1 - pose.press) * (1 - 0.8 * pose.bite)
    return [aperture if name == APERTURE else getattr(pose, name) for name in POSE_CHANNELS]


def _mix_channels(plan: Plan) -> tuple[Channel, ...]:
    origin = Origin.LOUDNESS if plan.score is None else Origin.SOUNDS
    return tuple(Channel(mix.name, mix.name, origin, mix.low, mix.high, mix.rest) for mix in plan.settings.mixes)


def _mixed(plan: Plan, draft: Draft, first: int, end: int) -> Floats:
    values = np.empty((end - first, len(plan.settings.mixes)), np.float32)
    for column, mix in enumerate(plan.settings.mixes):
        total = np.full(end - first, mix.plus, np.float32)
        for channel, factor in mix.terms:  # one by one: the same sum however many frames there are
            total += np.float32(factor) * draft.channels.curve(channel)[first:end]
        values[:, column] = np.clip(total, mix.low, mix.high)
    return values


STAGES = (
    Stage("pose", (Source.SOUNDS,), _pose_channels, _pose, reach=_EASE),
    Stage("mixes", (Source.SOUNDS,), _mix_channels, _mixed, reach=_EASE),
)
