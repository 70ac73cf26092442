"""The found phones as one chain of states, looked at again closely: state posteriors by the forward-backward algorithm
(Baum et al. 1970) in a band around the first path, with flattened scores so that boundaries become averages in time
rather than the corners of one best path."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import STATES, AcousticModel
from buccaphon.alignment.best_path import Path
from buccaphon.alignment.graph import Graph
from buccaphon.threads import share

Array = npt.NDArray[np.float32]
Doubles = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int32]

_REACH = 40  # frames that a phone may move away from where the first path put it; in music they need them
FLATTENING = 0.15  # exponent on all likelihoods: neighbouring frames are far from independent
_ENTERING_SHARE = 0.5  # exponent on what entering gains: said of a moment, not of a frame among others like it
_BRIEF = 500  # frames; in less two threads spend more on each other than they save
_LEAST = 1e-300  # instead of nothing, to divide by
_SCALED = 4  # frames after which weights are scaled again, before they are too small for a number
_NEAR = 4  # frames around an onset that count as sure


@dataclass(frozen=True, eq=False)
class Chain:
    """senones: (states,) three for each phone. phone: (phones,) base phones. starts: (phones,) first-path frames.

    low, high: (frames,) the states that each frame may be in: low <= state < high.
    """

    senones: Ints
    phone: Ints
    starts: Ints
    frames: int
    low: Ints
    high: Ints

    @property
    def width(self) -> int:
        return int((self.high - self.low).max())

    def first_states(self) -> Ints:
        """(frames,) the state of each frame on the first path, whose phones are taken to pass their states evenly."""
        frame = np.arange(self.frames)
        lengths = np.diff(self.starts, append=self.frames)
        phone = np.searchsorted(self.starts, frame, side="right") - 1
        passed = STATES * (frame - self.starts[phone]) // np.maximum(lengths[phone], 1)
        return (STATES * phone + passed).astype(np.int32)


@dataclass(frozen=True, eq=False)
class Occupancy:
    """onset: (phones,) mean entry frame. spread: (phones,) its standard deviation in frames. mass: (phones,) share of the
    entry probability within 4 frames of the mean."""

    onset: Doubles
    spread: Doubles
    mass: Doubles


def chain_of(graph: Graph, path: Path, within: Mapping[int, tuple[int, int]] | None = None) -> Chain:
    """The chain of a path, with the band that its states may lie in.

    within: for some of the path's phones the frames at which they begin at the earliest and at the latest. Those that leave
    less than a frame a state between them are not kept.
    """
    limits = _keepable(within or {}, path)
    starts = _move(path.starts, limits)
    ends = np.append(starts[1:], path.frames)
    frame = np.arange(path.frames)
    # a phone may last from _REACH before its start to _REACH after its end; both limits grow along the chain
    first_allowed, last_allowed = starts - _REACH, ends + _REACH
    high = np.searchsorted(first_allowed, frame, side="right") * STATES
    low = np.searchsorted(last_allowed, frame, side="right") * STATES
    for phone, earliest, latest in limits:
        before, after = slice(0, max(earliest, 0)), slice(max(latest, 0), None)
        high[before] = np.minimum(high[before], STATES * phone)
        low[after] = np.maximum(low[after], STATES * phone)
    return Chain(
        senones=graph.senones[path.nodes].reshape(-1),
        phone=graph.phone[path.nodes],
        starts=starts,
        frames=path.frames,
        low=low.astype(np.int32),
        high=high.astype(np.int32),
    )


def _keepable(within: Mapping[int, tuple[int, int]], path: Path) -> list[tuple[int, int, int]]:
    """Phone, earliest and latest, in order. What the path keeps to already, and single moments that leave room for the
    states between them, the one before and the end."""
    kept: list[tuple[int, int, int]] = []
    last_phone, last_frame = 0, 0
    for phone, (earliest, latest) in sorted(within.items()):
        if earliest < latest:
            if earliest <= path.starts[phone] <= latest:
                kept.append((phone, earliest, latest))
            continue
        room = earliest - last_frame >= STATES * (phone - last_phone)
        if phone > 0 and room and path.frames - latest >= STATES * (len(path.nodes) - phone):
            kept.append((phone, earliest, latest))
            last_phone, last_frame = phone, latest
    return kept


def _move(starts: Ints, limits: list[tuple[int, int, int]]) -> Ints:
    """Starts brought within their limits, and the others moved out of their way."""
    moved, number = starts.copy(), np.arange(len(starts))
    for phone, earliest, latest in limits:
        frame = min(max(int(moved[phone]), earliest), latest)
        room = STATES * (number - phone)
        before, after = number < phone, number >= phone
        moved[before] = np.minimum(moved[before], frame + room[before])
        moved[after] = np.maximum(moved[after], frame + room[after])
        moved[phone] = frame
    return moved


def band_scores(model: AcousticModel, chain: Chain, streams: Array) -> Array:
    """(frames, width) log likelihoods of the states low[t] + column; -inf outside the band."""
    senones = np.unique(chain.senones)
    column = np.zeros(len(model.senone_phone), np.int32)
    column[senones] = np.arange(len(senones))
    found = np.full((chain.frames, len(senones)), -np.inf, np.float32)

    def fill(one: tuple[int, npt.NDArray[np.bool_]]) -> None:
        phone, near = one
        wanted = senones[model.senone_phone[senones] == phone]
        found[np.ix_(near, column[wanted])] = model.phone_scores(streams[near], phone, wanted)

    each = list(zip(*_within_reach(chain), strict=True))
    if chain.frames > _BRIEF:
        share(fill, each)
    else:
        list(map(fill, each))
    return in_band(chain, found, column)


def in_band(chain: Chain, scores: Array, column: Ints) -> Array:
    """(frames, width) scores of the states low[t] + k, -inf outside the band, from the (frames, columns) of senones."""
    states = chain.low[:, None] + np.arange(chain.width, dtype=np.int32)
    inside = states < chain.high[:, None]
    picked = np.take_along_axis(scores[: chain.frames], column[chain.senones[np.where(inside, states, 0)]], axis=1)
    return np.where(inside, picked, np.float32(-np.inf))


def _within_reach(chain: Chain) -> tuple[list[int], npt.NDArray[np.bool_]]:
    """The different phones of a chain, and (phones, frames) where any occurrence of each is within reach."""
    phones, which = np.unique(chain.phone, return_inverse=True)
    ends = np.append(chain.starts[1:], chain.frames)
    change = np.zeros((len(phones), chain.frames + 1), np.int32)
    np.add.at(change, (which, np.maximum(chain.starts - _REACH, 0)), 1)
    np.add.at(change, (which, np.minimum(ends + _REACH, chain.frames)), -1)
    return phones.tolist(), np.cumsum(change[:, :-1], axis=1) > 0


def occupancy(model: AcousticModel, chain: Chain, scores: Array, entering: Array | None = None) -> Occupancy:
    """When the phones of a chain are entered, from its band scores.

    entering: (frames,) nats gained by entering a phone there.
    """
    steps = _steps_of(model, chain, entering)
    likelihood = np.exp(FLATTENING * (scores.astype(np.float64) - scores.max(1, keepdims=True)))
    before, ahead = _weigh(chain, steps, likelihood)
    stayed, moved = np.moveaxis(np.take_along_axis(before[:, None], steps.came_from, axis=2), 1, 0)
    entered = steps.move * moved * ahead
    total = entered.sum(1) + (steps.stay * stayed * ahead).sum(1)
    return _entries(chain, entered / np.maximum(total, _LEAST)[:, None])


@dataclass(frozen=True, eq=False)
class _Steps:
    """What it takes to come into each state of the band, (frames, width): to stay in it, and to move on into it from the one
    before. move_on: to move on from it into the next, a frame later.

    came_from, goes_to: (frames, 2, width) the columns in which it stands one frame earlier or later, and that of the state
    before or after it; `width` where that is outside the band.
    """

    stay: Doubles
    move: Doubles
    move_on: Doubles
    came_from: npt.NDArray[np.intp]
    goes_to: npt.NDArray[np.intp]


def _steps_of(model: AcousticModel, chain: Chain, entering: Array | None) -> _Steps:
    width, column = chain.width, np.arange(chain.width)
    stay, leave = np.exp(FLATTENING * model.transitions[chain.phone].reshape(-1, 2).astype(np.float64)).T
    stay, leave = np.pad(stay, (0, width)), np.pad(leave, (1, width))  # leave[s] into state s
    gain = np.ones(chain.frames + 1)
    if entering is not None:
        gain[:-1] = np.exp(_ENTERING_SHARE * entering.astype(np.float64))
    states = chain.low[:, None] + column
    into_phone, onto_phone = states % STATES == 0, (states + 1) % STATES == 0
    shift = np.diff(chain.low, prepend=0, append=chain.low[-1])[:, None]
    earlier, later = column + shift[:-1], column - shift[1:]

    def inside(columns: npt.NDArray[np.intp]) -> npt.NDArray[np.intp]:
        return np.where((columns >= 0) & (columns < width), columns, width)

    return _Steps(
        stay=stay[states],
        move=leave[states] * np.where(into_phone, gain[:-1, None], 1.0),
        move_on=leave[states + 1] * np.where(onto_phone, gain[1:, None], 1.0),
        came_from=np.stack([inside(earlier), inside(earlier - 1)], axis=1),
        goes_to=np.stack([inside(later), inside(later + 1)], axis=1),
    )


def _weigh(chain: Chain, steps: _Steps, likelihood: Doubles) -> tuple[Doubles, Doubles]:
    """For each frame the probabilities of the states one frame before with all up to there, (frames, width + 1); and the
    likelihood of this frame and all that follows, (frames, width); both up to a factor a frame. The path begins in the first
    state and ends in the last. Both are gone through at once, the second from its end."""
    frames, width = likelihood.shape
    forward = likelihood[:, None] * np.stack([steps.stay, steps.move], axis=1)
    backward = likelihood[:, None] * np.stack([steps.stay, steps.move_on], axis=1)
    factors = np.stack([forward, backward[::-1]], axis=2)  # (frames, stayed or moved, direction, width)
    sources = np.stack([steps.came_from, steps.goes_to[::-1] + width + 1], axis=2)
    weights = np.zeros((frames, 2, width + 1))  # the last column stays empty: what is outside the band
    weights[0, 0, 0] = weights[0, 1, len(chain.senones) - 1 - int(chain.low[-1])] = 1.0
    inside = weights[..., :width]
    for t in range(1, frames):
        passed = weights[t - 1].take(sources[t])
        passed *= factors[t]
        np.add(passed[0], passed[1], out=inside[t])
        if t % _SCALED == 0:
            inside[t] /= np.maximum(inside[t].sum(1, keepdims=True), _LEAST)
    return np.concatenate([np.zeros_like(weights[:1, 0]), weights[:-1, 0]]), weights[::-1, 1, :width]


def _entries(chain: Chain, entered: Doubles) -> Occupancy:
    """entered: (frames, width) probability that the path comes into each state of the band there."""
    phones, width = len(chain.phone), entered.shape[1]
    onset, spread, mass = np.zeros(phones), np.zeros(phones), np.ones(phones)
    t = chain.starts[1:, None] + np.arange(-_REACH, _REACH)
    column = STATES * np.arange(1, phones)[:, None] - chain.low[np.clip(t, 0, chain.frames - 1)]
    inside = (t >= 1) & (t < chain.frames) & (column >= 0) & (column < width)
    weights = np.where(inside, entered[np.where(inside, t, 0), np.where(inside, column, 0)], 0.0)
    lost = weights.sum(1) == 0  # so unlikely anywhere that no number says how much: where the first path put it
    weights[lost, _REACH] = 1.0
    weights /= weights.sum(1, keepdims=True)
    onset[1:] = (weights * t).sum(1)
    off = t - onset[1:, None]
    spread[1:] = np.sqrt((weights * off**2).sum(1))
    mass[1:] = (weights * (np.abs(off) <= _NEAR)).sum(1)
    return Occupancy(onset, spread, mass)
