"""Making a bake's channels, and making them over: each stage is rerun where one of its inputs changed."""

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
from buccaphon.motion.stages import (
    Draft,
    Finish,
    Level,
    Source,
    Stage,
    Stages,
    finish_together,
    stages_of,
    thin_together,
)
from buccaphon.motion.steps import AnyStep, touched_by
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.passages import Passage

Frames = tuple[int, int]  # from a first frame up to an end
Changed = Mapping[Source, Sequence[Frames]]
Felt = dict[str, list[Frames]]  # by ident
NOTHING: Changed = {}


@dataclass(frozen=True, eq=False)
class Motion:
    """All channels of a plan. stages: that made them. made: those that were cleaned up or drawn over, as they were before
    that. followed: those that were thinned, likewise. felt: where any of it is another than in what it was made over."""

    plan: Plan
    stages: Stages
    channels: Channels
    made: Mapping[str, Curve]
    followed: Mapping[str, Curve]
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
    work.thin()
    return work.done()


def _ask_alike(kept: Plan, plan: Plan) -> bool:
    """Whether two plans are made by the very same stages."""
    a, b = kept.settings, plan.settings
    same = kept.chart is plan.chart and kept.loud is plan.loud and kept.driven is plan.driven
    asked = (a.mixes, a.followers, a.steps, a.curves) == (b.mixes, b.followers, b.steps, b.curves)
    around = (a.rate, a.quiet, a.used, a.mouth_settings, a.over) == (b.rate, b.quiet, b.used, b.mouth_settings, b.over)
    return same and asked and around and (kept.score is None) == (plan.score is None)


class _Curves(dict[str, Curve]):
    """Curves by id. kept: of before, by id. Those that it has not are 0."""

    def __init__(self, idents: Iterable[str], kept: Mapping[str, Curve], frames: int) -> None:
        still = Curve(np.zeros(frames, np.float32))
        super().__init__((ident, kept.get(ident, still)) for ident in idents)

    def put(self, idents: Sequence[str], first: int, parts: Sequence[Floats], felt: Felt) -> None:
        """Put parts of the same length into curves from a frame on, and add to `felt` where they are others then."""
        end = first + len(parts[0])
        before = np.concatenate([self[ident][first:end] for ident in idents])
        unlike = (before != np.concatenate(parts)).reshape(len(parts), -1)
        for number in unlike.any(axis=1).nonzero()[0].tolist():
            ident, there = idents[number], unlike[number].nonzero()[0]
            self[ident] = self[ident].with_part(first, parts[number])
            felt[ident].append((first + int(there[0]), first + int(there[-1]) + 1))


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
        self._felt: Felt = {}
        idents = [channel.id for channel in stages.channels]
        before = dict(zip(kept.channels.ids, kept.channels.kept, strict=True)) if kept is not None else {}
        made, followed = (kept.made, kept.followed) if kept is not None else ({}, {})
        no_longer_finished = {ident: made[ident] for ident in made.keys() - stages.finished.keys()}
        self._curves = _Curves(idents, {**before, **followed, **no_longer_finished}, plan.frames)
        self._made = _Curves(stages.finished, {**before, **made}, plan.frames)
        thinned = [finish.channel.id for finishes in stages.thinned.values() for finish in finishes]
        self._thinned = _Curves(thinned, before, plan.frames)
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
        felt: Felt = {ident: [] for ident in stage.gives}
        to_finish = [number for number, ident in enumerate(stage.gives) if ident in self._made]
        as_they_are = [number for number, ident in enumerate(stage.gives) if ident not in self._made]
        for first, end in parts:
            made = stage.run(self._plan, self._draft, first, end)
            for into, numbers in ((self._made, to_finish), (self._curves, as_they_are)):
                if numbers:
                    into.put([stage.gives[n] for n in numbers], first, [made[n] for n in numbers], felt)
        self._felt.update(felt)

    def finish(self, level: Level) -> None:
        """Clean up what a level made, and lay what is drawn over it."""
        felt: Felt = {finish.channel.id: [] for finish in level.finishes}
        for steps, finishes in level.by_steps.items():
            for together, (first, end) in self._batches(finishes, steps, self._silence if steps else ()):
                made = finish_together(self._plan, together, self._draft, first, end)
                self._curves.put([finish.channel.id for finish in together], first, made, felt)
        self._felt.update(felt)
        if self._kept is not None:
            no_longer = self._kept.stages.finished.keys() - self._stages.finished.keys()
            self._felt.update(dict.fromkeys(no_longer, self._everywhere))

    def thin(self) -> None:
        """Make the keys of all channels fewer that are to have fewer."""
        felt: Felt = {ident: [] for ident in self._thinned}
        for steps, finishes in self._stages.thinned.items():
            for together, (first, end) in self._batches(finishes, steps, ()):
                made = thin_together(self._plan, together, self._draft, first, end)
                self._thinned.put([finish.channel.id for finish in together], first, made, felt)
        for ident, parts in felt.items():
            self._felt[ident] = [*self._felt[ident], *parts]

    def _batches(
        self, finishes: Sequence[Finish], steps: Sequence[AnyStep], beside: Sequence[Frames]
    ) -> Iterator[tuple[list[Finish], Frames]]:
        """Of those with the same steps, what is done together: in all frames of any of them; but where one of them has to be
        done everywhere, the others need not. beside: where the steps are felt besides where what they follow is another."""
        anew, again = list[Finish](), list[Finish]()
        felt, drawn = [*beside], list[Frames]()
        for finish in finishes:
            before = self._done_before(finish)
            if before is None:
                anew.append(finish)
                continue
            parts, hand = self._felt.get(finish.channel.id, ()), self._drawn_otherwise(before, finish)
            if parts or hand or beside:
                again.append(finish)
                felt += parts
                drawn += hand
        if anew:
            yield anew, (0, self._plan.frames)
        if again:
            rate, frames = self._plan.settings.rate, self._plan.frames
            touched = [touched_by(steps, first, end, rate, frames) for first, end in joined(felt)]
            for part in joined([*touched, *drawn]):
                yield again, part

    def _done_before(self, finish: Finish) -> Finish | None:
        """The same channel's, where it was done in the same way."""
        before = self._kept.stages.finished.get(finish.channel.id) if self._kept is not None else None
        return before if before is finish or (before is not None and before.with_what == finish.with_what) else None

    def _drawn_otherwise(self, before: Finish, finish: Finish) -> list[Frames]:
        if before is finish:
            return []
        differs = frames_of_difference(before.curve, finish.curve, self._plan.settings.rate)
        last = self._plan.frames
        return [(min(differs[0], last), min(differs[1], last))] if differs is not None else []

    @cached_property
    def _silence(self) -> list[Frames]:
        """Where something is said now and was not before, or the other way."""
        if self._kept is None:
            return []
        return _between(np.flatnonzero(self._kept.plan.silent != self._plan.silent))

    def _widened(self, parts: Sequence[Frames], reach: int) -> list[Frames]:
        return joined([(max(first - reach, 0), min(end + reach, self._plan.frames)) for first, end in parts])

    def done(self) -> Motion:
        delivered = {**self._curves, **self._thinned}
        curves = tuple(delivered[channel.id] for channel in self._stages.channels)
        channels = Channels(self._stages.channels, curves)
        if self._kept is not None and self._kept.channels.are(channels):
            channels = self._kept.channels
        felt = joined([part for parts in self._felt.values() for part in parts])
        if self._kept is None or self._stages is not self._kept.stages:
            felt = self._everywhere
        followed = {ident: self._curves[ident] for ident in self._thinned}
        return Motion(self._plan, self._stages, channels, dict(self._made), followed, felt)


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
