"""The stages that make a bake's channels, in the order they run.

A stage gives the values of its curves for some frames, from the whole plan and from what the stages before it have made.
`reach` says how many frames beyond those that changed it has to be run again for.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import Enum
from functools import cached_property, lru_cache, partial

import numpy as np

from buccaphon.arrays import Doubles, Floats, Same
from buccaphon.motion.channels import Channel, Origin
from buccaphon.motion.curve import Curve
from buccaphon.motion.followers import LOUDNESS, Follower, follow, in_order, next_decision
from buccaphon.motion.hand import HandCurve, lay_over
from buccaphon.motion.jaw import jaw_alone
from buccaphon.motion.mixes import Mix
from buccaphon.motion.plan import Plan
from buccaphon.motion.pose_channels import MOST_PER_DB, POSE_CHANNELS, Loud, loud_of, pose_channels
from buccaphon.motion.record import APERTURE, WEIGHT, frame_middles
from buccaphon.motion.shapes import Indices, frames_over, reach_of, weights_in_full
from buccaphon.motion.shares import REACH
from buccaphon.motion.steps import AnyStep, Around, FewerKeys, clean
from buccaphon.motion.weights import mouth_weights, weights_of
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.passages import Passage
from buccaphon.mouths.pose import ROUNDED_GAP, Pose
from buccaphon.score.records import Phone, Word
from buccaphon.threads import share
from buccaphon.timing import FrameRate

_PER_STRESS = 0.1  # of its size, by which a stressed vowel opens wider where stress counts whole
_EASE = 1 / 12  # seconds on either side of a painted mouth over which its pose comes and goes
_PRESS, _BITE = POSE_CHANNELS.index("press"), POSE_CHANNELS.index("bite")
_AT_ONCE = 4096  # frames of a pose that are made together: what is worked on stays near
_BY_LOUDNESS = ("jaw", "aperture")  # the first of the channels, which loudness alone drives
_HELD = frozenset(POSE_CHANNELS)  # what is held to its range whatever a hand draws


class Source(Enum):
    """What a stage can look at besides channels, and what can change in some frames and not in others."""

    SOUNDS = "the sounds around, and what is painted by hand"
    MOUTHS = "the mouths shown"


@dataclass(frozen=True, eq=False)
class Draft:
    """What has been made so far. passages, exposures: of the whole recording. curves: of the stages that have run, as they
    are followed. made: those that the clean-up or a hand changes, as they are before that."""

    passages: Sequence[Passage]
    exposures: Sequence[Exposure]
    curves: Mapping[str, Curve]
    made: Mapping[str, Curve]


Parts = tuple[Floats, ...]


@dataclass(frozen=True, eq=False)
class Stage:
    """id: of the stage. with_what: all else that its values depend on; while it is the same, only what changed is run again.
    gives: ids of the curves that it makes. looks_at, follows: a change of these sources and curves makes it run again there.
    run: the values of its curves for the frames from a first up to an end. reach: frames that a value depends on to either
    side. lasts: up to which frame a change that ends at one is felt, if further than it reaches."""

    id: str
    with_what: object
    gives: tuple[str, ...]
    run: Callable[[Plan, Draft, int, int], Parts]
    looks_at: tuple[Source, ...] = ()
    follows: tuple[str, ...] = ()
    reach: int = 0
    lasts: Callable[[Plan, Draft, int], int] | None = None


@dataclass(frozen=True, eq=False)
class Finish:
    """The clean-up of one channel, and what a hand draws over it. curve: None where nothing is drawn. thinned: steps after
    the others that only take keys out; what follows the channel does so as it is before them, or errors would add up."""

    channel: Channel
    steps: tuple[AnyStep, ...]
    curve: HandCurve | None
    used: tuple[int, int]
    thinned: tuple[AnyStep, ...] = ()

    @property
    def with_what(self) -> object:
        """All that it depends on besides what is drawn; while it is the same, only what changed is done again."""
        return self.channel, self.steps, self.thinned, self.used if self.steps else None


@dataclass(frozen=True, eq=False)
class Level:
    """Stages that do not follow each other, and the finishing of what they make."""

    stages: tuple[Stage, ...]
    finishes: tuple[Finish, ...]

    @cached_property
    def by_steps(self) -> dict[tuple[AnyStep, ...], list[Finish]]:
        """What can be finished together."""
        found: dict[tuple[AnyStep, ...], list[Finish]] = {}
        for finish in self.finishes:
            found.setdefault(finish.steps, []).append(finish)
        return found


@dataclass(frozen=True, eq=False)
class Stages:
    """levels: in the order they run. channels: what comes of them, as it is delivered."""

    levels: tuple[Level, ...]
    channels: tuple[Channel, ...]

    @cached_property
    def finished(self) -> dict[str, Finish]:
        """By the channels that the clean-up or a hand changes."""
        return {finish.channel.id: finish for level in self.levels for finish in level.finishes}

    @cached_property
    def thinned(self) -> dict[tuple[AnyStep, ...], list[Finish]]:
        """What can be thinned together."""
        found: dict[tuple[AnyStep, ...], list[Finish]] = {}
        for finish in self.finished.values():
            if finish.thinned:
                found.setdefault(finish.thinned, []).append(finish)
        return found

    @cached_property
    def by_id(self) -> dict[str, Stage]:
        return {stage.id: stage for level in self.levels for stage in level.stages}


def stages_of(plan: Plan) -> Stages:
    """The stages that a plan asks for: the pose, what is mixed from it, then what follows, each behind the one it follows. A
    channel's clean-up and what a hand draws over it come before anything follows it; only its keys are thinned last."""
    settings, pose = plan.settings, _pose_channels(plan)
    origin, known = pose[0].origin, {channel.id: channel for channel in pose}
    levels, channels = list[Level](), list[Channel]()

    def add(stages: Sequence[Stage], made: Sequence[Channel]) -> None:
        finishes = (_finish(plan, channel) for channel in made)
        levels.append(Level(tuple(stages), tuple(finish for finish in finishes if finish is not None)))
        channels.extend(made)
        known.update((channel.id, channel) for channel in made)

    idents = tuple(channel.id for channel in pose)
    reach, looks_at = _ease(settings.rate), [Source.SOUNDS]
    if settings.over is not None:
        reach = max(reach, reach_of(frames_over(settings.over, settings.rate)))
        looks_at.append(Source.MOUTHS)
    add([Stage("pose", _pose_is_made_with(plan), idents, _pose, tuple(looks_at), reach=reach)], pose)
    mixed = [Channel(mix.name, mix.name, origin, mix.low, mix.high, mix.rest) for mix in settings.mixes]
    add([_mix_stage(mix) for mix in settings.mixes], mixed)
    for followers in _by_depth(settings.followers):
        made = [_channel_of(follower, known.get(follower.follows), origin) for follower in followers]
        add([_follower_stage(plan, follower, follower.follows in known) for follower in followers], made)
    return Stages(tuple(levels), tuple(channels))


def _by_depth(followers: Sequence[Follower]) -> list[list[Follower]]:
    """Those that follow none of the others, those that follow one of these, and so on."""
    depth: dict[str, int] = {}
    found: list[list[Follower]] = []
    for follower in in_order(followers):
        at = depth[follower.name] = depth.get(follower.follows, -1) + 1
        found += [[] for _ in range(at + 1 - len(found))]
        found[at].append(follower)
    return found


def _mix_stage(mix: Mix) -> Stage:
    follows = tuple(ident for ident, _ in mix.terms)
    return Stage(f"mix {mix.name}", mix, (mix.name,), partial(_mixed, mix), follows=follows)


def _follower_stage(plan: Plan, follower: Follower, is_there: bool) -> Stage:
    drives: object = Same(plan.driving) if follower.follows == LOUDNESS else is_there
    return Stage(
        f"follower {follower.name}",
        (follower, drives),
        (follower.name,),
        partial(_following, follower),
        follows=(follower.follows,) if is_there else (),
        reach=follower.reach(plan.settings.rate),
        lasts=partial(_switch_lasts, follower) if follower.switch is not None else None,
    )


def _pose_is_made_with(plan: Plan) -> object:
    settings = plan.settings
    alone = Same(plan.driving) if plan.score is None else None
    return settings.rate, settings.mouth_settings, settings.quiet, settings.over, plan.chart, Same(plan.loud), alone


def _pose_channels(plan: Plan) -> tuple[Channel, ...]:
    origin = Origin.LOUDNESS if plan.score is None else Origin.SOUNDS
    parts = [Channel(name, name.title(), origin) for name in POSE_CHANNELS]
    rest = plan.chart.rest.name
    sizes = [1.0, *(each.opening for each in plan.settings.mouth_settings.all)]
    full = max(sizes) if plan.settings.over is not None else 1.0  # a shape of its own can be more than there
    weights = (
        Channel(f"{WEIGHT}{name}", name, origin, high=full, rest=float(name == rest)) for name in plan.chart.names
    )
    return (*parts, *weights)


def _pose(plan: Plan, draft: Draft, first: int, end: int) -> Parts:
    """All of the pose and the weights, as columns."""
    values = np.empty((len(POSE_CHANNELS) + len(plan.chart.mouths), end - first), np.float32)

    def make(at: int) -> None:
        until = min(at + _AT_ONCE, end)
        values[:, at - first : until - first] = _posed(plan, draft, at, until).T

    share(make, range(first, end, _AT_ONCE))
    return tuple(values)


def _posed(plan: Plan, draft: Draft, first: int, end: int) -> Floats:
    values = np.zeros((end - first, len(POSE_CHANNELS) + len(plan.chart.mouths)), np.float32)
    pose, weights = values[:, : len(POSE_CHANNELS)], values[:, len(POSE_CHANNELS) :]
    if plan.score is None:
        pose[:, : len(_BY_LOUDNESS)] = jaw_alone(plan, first, end)[:, None]
        if plan.settings.over is None:
            weights[:] = mouth_weights(draft.exposures, plan.chart, first, end)
        _go_to_painted(plan, values, first)
        _show_in_full(plan, draft, weights, first)
        return values
    middles = frame_middles(first, end, plan.settings.rate)
    times, mouth_settings = middles + plan.lead, plan.settings.mouth_settings
    opening, per_db = (
        mouth_settings.along("opening", middles),
        MOST_PER_DB * mouth_settings.along("by_loudness", middles),
    )
    phones = _phones_near(plan.score.words, float(times[0]) - 2 * REACH, float(times[-1]) + 2 * REACH)
    by_stress = _PER_STRESS * mouth_settings.along("by_stress", middles)
    posed = pose_channels(phones, times, _loud(plan), opening, per_db, by_stress)
    weights[:, plan.chart.rests] = 1.0
    if posed is not None:
        pose[:] = posed.values
        weights[:] = weights_of(posed, plan.chart)
    for span in plan.settings.quiet:
        edges = (max(plan.settings.rate.nearest(edge) - first, 0) for edge in (span.start, span.end))
        values[slice(*edges)] = _at_rest(plan)
    _go_to_painted(plan, values, first)
    _show_in_full(plan, draft, weights, first)
    return values


def _show_in_full(plan: Plan, draft: Draft, weights: Floats, first: int) -> None:
    """Where each mouth is a shape of its own, the weights of those on show."""
    settings = plan.settings
    if settings.over is None:
        return
    over, end = frames_over(settings.over, settings.rate), first + len(weights)
    by_hand = {laid.first for laid in plan.laid}
    weights[:] = weights_in_full(draft.exposures, plan.chart, over, by_hand, partial(_sizes, plan), (first, end))


def _sizes(plan: Plan, mouths: Indices, middles: Doubles) -> Doubles:
    """How large mouths are: as far as Opening lets them, but for rest and what touches, which are there whole. middles:
    frames."""
    opening = plan.settings.mouth_settings.along("opening", middles / float(plan.settings.rate.value))
    return np.where(plan.chart.contacts[mouths] | (mouths == plan.chart.rests), 1.0, opening)


def _at_rest(plan: Plan) -> list[float]:
    return [*(0.0 for _ in POSE_CHANNELS), *(float(mouth is plan.chart.rest) for mouth in plan.chart.mouths)]


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


def _ease(rate: FrameRate) -> int:
    return max(rate.nearest(_EASE), 1)


def _go_to_painted(plan: Plan, values: Floats, first: int) -> None:
    """Where a mouth is painted by hand the pose goes to that mouth's, eased over some frames on either side, but not over
    those on which lips or teeth of the machine's meet."""
    count, ease = len(values), _ease(plan.settings.rate)
    near = [each for each in plan.laid if each.end > first - ease and each.first < first + count + ease]
    if not near:
        return
    wanted = np.full(count + 2 * ease, -1)
    for each in near:
        begin, until = each.first - first + ease, each.end - first + ease
        wanted[max(begin, 0) : max(until, 0)] = each.mouth
    if (wanted < 0).all():
        return
    whole = np.eye(len(plan.chart.mouths), dtype=np.float32)
    parts = np.array([_as_channels(mouth.pose) for mouth in plan.chart.mouths], np.float32)
    poses = np.hstack([parts, whole])
    share = np.zeros(count, np.float32)
    target = values.copy()
    for away in range(ease, -1, -1):
        much = 1 - away / (ease + 1)
        for shifted in {away, -away}:
            shown = wanted[ease + shifted : ease + shifted + count]
            there = shown >= 0
            share[there] = much
            target[there] = poses[shown[there]]
    meets = (values[:, _PRESS] >= 1) | (values[:, _BITE] >= 1)
    share[meets & (wanted[ease : ease + count] < 0)] = 0
    values += share[:, None] * (target - values)


def _as_channels(pose: Pose) -> list[float]:
    """A mouth's pose as channels: the gap of its lips is what jaw, rounding, pressing and biting leave of it."""
    aperture = pose.jaw * (1 - ROUNDED_GAP * pose.round) * (1 - pose.press) * (1 - 0.8 * pose.bite)
    return [aperture if name == APERTURE else getattr(pose, name) for name in POSE_CHANNELS]


def _mixed(mix: Mix, plan: Plan, draft: Draft, first: int, end: int) -> Parts:
    del plan
    total = np.full(end - first, mix.plus, np.float32)
    for channel, factor in mix.terms:  # one by one: the same sum however many frames there are
        total += np.float32(factor) * draft.curves[channel][first:end]
    return (np.clip(total, mix.low, mix.high),)


@lru_cache(maxsize=1000)
def _channel_of(follower: Follower, driver: Channel | None, origin: Origin) -> Channel:
    low, high, rest = (driver.low, driver.high, driver.rest) if driver is not None else (0.0, 1.0, 0.0)
    least, most = follower.ends(low, high)
    came = Origin.LOUDNESS if follower.follows == LOUDNESS else driver.origin if driver is not None else origin
    steps = follower.switch is not None and follower.shake is None
    return Channel(follower.name, follower.name, came, least, most, follower.at(rest), follower.unit.written, steps)


def _driver(follower: Follower, plan: Plan, draft: Draft) -> Curve | Floats:
    if follower.follows == LOUDNESS:
        return plan.driving[: plan.frames]
    if follower.follows not in draft.curves:  # whom it follows may be gone
        return np.zeros(plan.frames, np.float32)
    return draft.curves[follower.follows]


def _following(follower: Follower, plan: Plan, draft: Draft, first: int, end: int) -> Parts:
    return (follow(follower, _driver(follower, plan, draft), plan.settings.rate, first, end),)


def _switch_lasts(follower: Follower, plan: Plan, draft: Draft, end: int) -> int:
    return next_decision(follower, _driver(follower, plan, draft), plan.settings.rate, end)


def _finish(plan: Plan, channel: Channel) -> Finish | None:
    """The clean-up of a channel and what is drawn over it; None where there is neither."""
    settings = plan.settings
    steps = tuple(step for step in settings.steps if step.is_for(channel.id))
    curve = next((each for each in settings.curves if each.channel == channel.id and each.points), None)
    if not steps and curve is None:
        return None
    shaping = len(steps)
    while curve is None and shaping and isinstance(steps[shaping - 1], FewerKeys):
        shaping -= 1
    return Finish(channel, steps[:shaping], curve, _used_frames(plan), steps[shaping:])


def finish_together(plan: Plan, finishes: Sequence[Finish], draft: Draft, first: int, end: int) -> Parts:
    """The frames from a first up to an end of channels that are cleaned up by the same steps: all at once is far quicker than
    one by one."""
    rate = plan.settings.rate
    curves = [draft.made[finish.channel.id] for finish in finishes]
    if steps := finishes[0].steps:
        around = Around.of([finish.channel for finish in finishes], rate, plan.silent, finishes[0].used)
        found = list(clean(steps, curves, first, end, around))
    else:
        found = [curve[first:end] for curve in curves]
    for number, finish in enumerate(finishes):
        if finish.curve is not None:
            found[number] = lay_over(finish.curve, found[number], first, rate)
            if finish.channel.id in _HELD or finish.channel.id.startswith(WEIGHT):
                found[number] = np.clip(found[number], finish.channel.low, finish.channel.high)
    return tuple(found)


def thin_together(plan: Plan, finishes: Sequence[Finish], draft: Draft, first: int, end: int) -> Parts:
    """The frames from a first up to an end of channels whose keys are made fewer by the same steps."""
    around = Around.of([finish.channel for finish in finishes], plan.settings.rate, plan.silent, finishes[0].used)
    return tuple(
        clean(finishes[0].thinned, [draft.curves[finish.channel.id] for finish in finishes], first, end, around)
    )


def _used_frames(plan: Plan) -> tuple[int, int]:
    used, rate = plan.settings.used, plan.settings.rate
    if used is None:
        return 0, plan.frames
    return max(rate.nearest(used.start), 0), min(rate.covering(used.end), plan.frames)
