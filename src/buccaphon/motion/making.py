"""Making a bake's channels, and making them over: each stage is run again where something that it depends on is another."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Floats
from buccaphon.motion.channels import Channels
from buccaphon.motion.curve import Curve
from buccaphon.motion.hand import frames_of_difference
from buccaphon.motion.plan import Plan
from buccaphon.motion.stages import Draft, Finish, Level, Source, Stage, Stages, finish_together, stages_of
from buccaphon.motion.steps import AnyStep, touched_by
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.passages import Passage

Frames = tuple[int, int]  # from a first frame up to an end
Changed = Mapping[Source, Sequence[Frames]]
NOTHING: Changed = {}


@dataclass(frozen=True, eq=False)
class Motion:
    """All channels of a plan. stages: that made them. made: those that were cleaned up or drawn over, as they were before
    that. felt: where any of it is another than in what it was made over."""

    plan: Plan
    stages: Stages
    channels: Channels
    made: Mapping[str, Curve]
    felt: Sequence[Frames]


def make_channels(
    plan: Plan,
    passages: Sequence[Passage],
    exposures: Sequence[Exposure],
    changed: Changed = NOTHING,
    kept: Motion | None = None,
) -> Motion:
    """All channels: those of before, made anew where they may be others. changed: the frames in which that is so for what
    stages look at. kept: what is made over; None makes all at once."""
    stages = kept.stages if kept is not None and _ask_alike(kept.plan, plan) else stages_of(plan)
    work = _Work(plan, passages, exposures, stages, changed, kept)
    for level in stages.levels:
        for stage in level.stages:
            work.run(stage)
        work.finish(level)
    return work.done()


def _ask_alike(kept: Plan, plan: Plan) -> bool:
    """Whether two plans are made by the very same stages."""
    a, b = kept.settings, plan.settings
    same = kept.chart is plan.chart and kept.loud is plan.loud and kept.driving is plan.driving
    asked = (a.mixes, a.followers, a.steps, a.curves) == (b.mixes, b.followers, b.steps, b.curves)
    around = (a.rate, a.quiet, a.used, a.manners) == (b.rate, b.quiet, b.used, b.manners)
    return same and asked and around and (kept.score is None) == (plan.score is None)


class _Curves(dict[str, Curve]):
    """Curves by id. kept: of before, by id. Those that it has not are 0."""

    def __init__(self, idents: Iterable[str], kept: Mapping[str, Curve], frames: int) -> None:
        still = Curve(np.zeros(frames, np.float32))
        super().__init__((ident, kept.get(ident, still)) for ident in idents)

    def put(self, ident: str, first: int, part: Floats) -> list[Frames]:
        """Put a part into a curve from a frame on, and tell where it is another then."""
        before = self[ident]
        differs = _between((before[first : first + len(part)] != part).nonzero()[0])
        if differs:
            self[ident] = before.with_part(first, part)
        return [(first + a, first + b) for a, b in differs]


class _Work:
    """What is there and what is made anew. felt: where each curve may be another than before."""

    def __init__(
        self,
        plan: Plan,
        passages: Sequence[Passage],
        exposures: Sequence[Exposure],
        stages: Stages,
        changed: Changed,
        kept: Motion | None,
    ) -> None:
        self._plan, self._stages, self._changed, self._kept = plan, stages, changed, kept
        self._everywhere = [(0, plan.frames)]
        self._felt: dict[str, list[Frames]] = {}
        idents = [channel.id for channel in stages.channels]
        before = dict(zip(kept.channels.ids, kept.channels.kept, strict=True)) if kept is not None else {}
        made = kept.made if kept is not None else {}
        no_longer_finished = made.keys() - stages.finished.keys()
        self._curves = _Curves(idents, {**before, **{ident: made[ident] for ident in no_longer_finished}}, plan.frames)
        self._made = _Curves(stages.finished, {**before, **made}, plan.frames)
        self._draft = Draft(passages, exposures, self._curves, self._made)

    # --- running -------------------------------------------------------------------------------------------------------

    def run(self, stage: Stage) -> None:
        kept = self._kept
        was = kept.stages.by_id.get(stage.id) if kept is not None else None
        if was is not stage and (was is None or was.with_what != stage.with_what or was.gives != stage.gives):
            parts = self._everywhere
        else:
            parts = [part for source in stage.looks_at for part in self._changed.get(source, ())]
            parts += [part for ident in stage.follows for part in self._felt.get(ident, ())]
            parts = self._widened(parts, stage.reach)
            if parts and stage.lasts is not None:
                parts = joined([(first, stage.lasts(self._plan, self._draft, end)) for first, end in parts])
        felt: dict[str, list[Frames]] = {ident: [] for ident in stage.gives}
        for first, end in parts:
            for ident, part in zip(stage.gives, stage.run(self._plan, self._draft, first, end), strict=True):
                into = self._made if ident in self._made else self._curves
                felt[ident] += into.put(ident, first, part)
        self._felt.update(felt)

    def finish(self, level: Level) -> None:
        """Clean up what a level made, and lay what is drawn over it."""
        felt: dict[str, list[Frames]] = {finish.channel.id: [] for finish in level.finishes}
        for finishes in level.by_steps.values():
            for together, (first, end) in self._batches(finishes):
                made = finish_together(self._plan, together, self._draft, first, end)
                for finish, part in zip(together, made, strict=True):
                    felt[finish.channel.id] += self._curves.put(finish.channel.id, first, part)
        self._felt.update(felt)
        if self._kept is not None:
            no_longer = self._kept.stages.finished.keys() - self._stages.finished.keys()
            self._felt.update(dict.fromkeys(no_longer, self._everywhere))

    def _batches(self, finishes: Sequence[Finish]) -> Iterator[tuple[list[Finish], Frames]]:
        """Of those with the same steps, what is done together: in all frames of any of them; but where one of them has to be
        done everywhere, the others need not."""
        known: dict[tuple[Frames, ...], list[Frames]] = {}
        found: dict[bool, tuple[list[Finish], list[Frames]]] = {}
        for finish in finishes:
            if parts := self._where_to_finish(finish, known):
                together, everywhere = found.setdefault(parts == self._everywhere, ([], []))
                together.append(finish)
                everywhere += parts
        for together, parts in found.values():
            for part in joined(parts):
                yield together, part

    def _where_to_finish(self, finish: Finish, known: dict[tuple[Frames, ...], list[Frames]]) -> list[Frames]:
        """known: where the steps are felt of what was felt before them, for many channels are touched alike."""
        ident = finish.channel.id
        before = self._kept.stages.finished.get(ident) if self._kept is not None else None
        if before is None or (before is not finish and before.with_what != finish.with_what):
            return self._everywhere
        felt = tuple(self._felt.get(ident, ()))
        if felt not in known:
            known[felt] = self._touched_by(finish.steps, felt)
        parts = known[felt]
        drawn = None if before is finish else frames_of_difference(before.curve, finish.curve, self._plan.settings.rate)
        if drawn is not None:
            parts = joined([*parts, (min(drawn[0], self._plan.frames), min(drawn[1], self._plan.frames))])
        return parts

    def _touched_by(self, steps: Sequence[AnyStep], felt: Sequence[Frames]) -> list[Frames]:
        parts = [*felt, *(self._silence if steps else ())]
        rate, frames = self._plan.settings.rate, self._plan.frames
        return joined([touched_by(steps, first, end, rate, frames) for first, end in parts])

    @cached_property
    def _silence(self) -> list[Frames]:
        """Where something is said now and was not before, or the other way."""
        assert self._kept is not None
        return _between(np.flatnonzero(self._kept.plan.silent != self._plan.silent))

    def _widened(self, parts: Sequence[Frames], reach: int) -> list[Frames]:
        return joined([(max(first - reach, 0), min(end + reach, self._plan.frames)) for first, end in parts])

    def done(self) -> Motion:
        curves = tuple(self._curves[channel.id] for channel in self._stages.channels)
        channels = Channels(self._stages.channels, curves)
        if self._kept is not None and self._kept.channels.are(channels):
            channels = self._kept.channels
        felt = joined([part for parts in self._felt.values() for part in parts])
        if self._kept is None or not self._stages.gives_what(self._kept.stages):
            felt = self._everywhere
        return Motion(self._plan, self._stages, channels, dict(self._made), felt)


def _between(frames: npt.NDArray[np.intp]) -> list[Frames]:
    """The range from the first to the last of some rising frames."""
    return [(int(frames[0]), int(frames[-1]) + 1)] if len(frames) else []


def joined(parts: Sequence[Frames]) -> list[Frames]:
    """Ranges in order; those that meet are one."""
    found: list[Frames] = []
    for first, end in sorted(parts):
        if found and first <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        elif end > first:
            found.append((first, end))
    return found
