"""Several bakes of one role on one grid of frames: each where its line lies in the scene, and at rest between them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from buccaphon.arrays import Bools, Floats, Ints
from buccaphon.motion.channels import Channels
from buccaphon.motion.record import LOUDNESS_CURVES, Bake
from buccaphon.mouths.exposures import Exposure
from buccaphon.score.records import Score, Word
from buccaphon.timing import FrameRate

_LEADS = 4  # frames around what is said that belong to it: lips get ready, and let go
_REST = -1  # owner of the frames of nobody


@dataclass(frozen=True, eq=False)
class Placed:
    """A bake of the part of a line that is used. at: the frame of the scene that it begins on, from 0."""

    at: int
    bake: Bake

    @property
    def shift(self) -> float:
        """Seconds from a moment of the line's recording to the scene's, of which the frames count from 0."""
        return self.bake.rate.seconds(self.at) - self.bake.rate.seconds(self.bake.first)


def joined(rest: Bake, parts: Sequence[Placed]) -> Bake:
    """All of them as one bake. rest: of the role while it says nothing, as long as the scene. parts: of lines of the role.
    Where two overlap, the one that begins later wins where it speaks."""
    frames, in_order = rest.frames, sorted(parts, key=lambda part: part.at)
    owner, busy = np.full(frames, _REST, np.int_), np.zeros(frames, np.bool_)
    for number, part in enumerate(in_order):
        first, end = max(part.at, 0), min(part.at + part.bake.frames, frames)
        if end <= first:
            continue
        speaks = _speaks(part.bake)[first - part.at : end - part.at]
        owner[first:end][speaks | ~busy[first:end]] = number
        busy[first:end] |= speaks
    runs = _runs(owner)
    return replace(
        rest,
        exposures=_exposures(rest, in_order, runs),
        channels=_channels(rest, in_order, runs),
        said=words_in_scene(in_order),
        levels=_levels(rest.frames, in_order),
    )


def words_in_scene(parts: Sequence[Placed]) -> tuple[Word, ...]:
    """What is said in the used parts, in seconds of the scene, without overlaps: of two that overlap the one stays whose line
    begins later. parts: in the order in which they begin."""
    found: list[Word] = []
    for part in parts:
        span = part.bake.first, part.bake.first + part.bake.frames
        new = [shifted_word(word, part.shift) for word in part.bake.said if _lies_in(word, span, part.bake.rate)]
        if new:
            found = [word for word in found if word.end <= new[0].start or word.start >= new[-1].end]
        found = sorted([*found, *new], key=lambda word: word.start)
    return tuple(found)


def shifted_word(word: Word, seconds: float) -> Word:
    """A word that is said so much later."""
    return replace(word, phones=tuple(replace(p, start=p.start + seconds, end=p.end + seconds) for p in word.phones))


def score_in_scene(bake: Bake) -> Score:
    """The words of a joined bake as a score as long as its frames."""
    return Score(bake.said, bake.rate.seconds(bake.frames))


def _lies_in(word: Word, frames: tuple[int, int], rate: FrameRate) -> bool:
    return word.end > rate.seconds(frames[0]) and word.start < rate.seconds(frames[1])


def _speaks(bake: Bake) -> Bools:
    """(frames,) where the mouth is not at rest, and a little around what is said."""
    rests = bake.chart.names[bake.chart.rests]
    found = np.zeros(bake.frames, np.bool_)
    for exposure in bake.exposures:
        found[exposure.start : exposure.end] = exposure.mouth != rests
    for word in bake.said:
        first, end = (bake.rate.nearest(seconds) - bake.first for seconds in (word.start, word.end))
        found[max(first - _LEADS, 0) : max(end + _LEADS, 0)] = True
    return found


def _runs(owner: Ints) -> list[tuple[int, int, int]]:
    """Stretches of frames of one owner: first, end, whose."""
    starts = [0, *(np.flatnonzero(np.diff(owner)) + 1).tolist()] if len(owner) else []
    return [(first, end, int(owner[first])) for first, end in zip(starts, [*starts[1:], len(owner)], strict=True)]


def _exposures(rest: Bake, parts: Sequence[Placed], runs: Sequence[tuple[int, int, int]]) -> tuple[Exposure, ...]:
    found: list[Exposure] = []
    for first, end, whose in runs:
        at, bake = (0, rest) if whose == _REST else (parts[whose].at, parts[whose].bake)
        for each in bake.exposures:
            start, stop = max(each.start + at, first), min(each.end + at, end)
            if stop <= start:
                continue
            if found and found[-1].mouth == each.mouth and start == first:  # a seam is no change of its own
                found[-1] = replace(found[-1], end=stop)
            else:
                found.append(Exposure(each.mouth, start, stop))
    return tuple(found)


def _channels(rest: Bake, parts: Sequence[Placed], runs: Sequence[tuple[int, int, int]]) -> Channels:
    curves = []
    for channel, resting in zip(rest.channels.of, rest.channels.kept, strict=True):
        curve = resting.whole.copy()
        for first, end, whose in runs:
            found = parts[whose].bake.channels.find(channel.id) if whose != _REST else None
            if found is not None:
                curve[first:end] = found[1].whole[first - parts[whose].at : end - parts[whose].at]
        curves.append(curve)
    return Channels.of_arrays(rest.channels.of, curves)


def _levels(frames: int, parts: Sequence[Placed]) -> Channels:
    """Loudness of the recordings, the loudest of each frame."""
    curves: list[Floats] = [np.zeros(frames, np.float32) for _channel in LOUDNESS_CURVES]
    for part in parts:
        first, end = max(part.at, 0), min(part.at + part.bake.frames, frames)
        for curve, heard in zip(curves, part.bake.loudness.curves, strict=False):
            if end > first:
                np.maximum(curve[first:end], heard[first - part.at : end - part.at], out=curve[first:end])
    return Channels.of_arrays(LOUDNESS_CURVES, curves)
