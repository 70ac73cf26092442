"""The found phones as one chain of states, looked at again closely: state posteriors by the forward-backward algorithm
(Baum et al. 1970) in a band around the first path, with flattened scores so that boundaries become averages in time
rather than the corners of one best path."""

from __future__ import annotations

from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import STATES, AcousticModel, transformed
from buccaphon.alignment.best_path import Path
from buccaphon.alignment.graph import Graph

Array = npt.NDArray[np.float32]
Doubles = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int32]

_REACH = 40  # frames that a phone may move away from where the first path put it
FLATTENING = 0.15  # exponent on all likelihoods: neighbouring frames are far from independent
_ENTERING_SHARE = 0.5  # exponent on what entering gains: said of a moment, not of a frame among others like it
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
    starts = _moved(path.starts, limits)
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


def _moved(starts: Ints, limits: list[tuple[int, int, int]]) -> Ints:
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


def band_scores(model: AcousticModel, chain: Chain, streams: Array, transforms: Array | None) -> Array:
    """(frames, width) log likelihoods of the states low[t] + column; -inf outside the band."""
    if transforms is not None:
        streams = transformed(streams, transforms)
    senones = np.unique(chain.senones)
    column = np.zeros(len(model.senone_phone), np.int32)
    column[senones] = np.arange(len(senones))
    found = np.full((chain.frames, len(senones)), -np.inf, np.float32)
    state_phone = model.senone_phone[senones]

    def fill(phone: int) -> None:
        frames, wanted = _frames_near(chain, phone), senones[state_phone == phone]
        found[np.ix_(frames, column[wanted])] = model.phone_scores(streams[frames], phone, wanted)

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(fill, np.unique(chain.phone).tolist()))
    states = chain.low[:, None] + np.arange(chain.width, dtype=np.int32)
    inside = states < chain.high[:, None]
    picked = np.take_along_axis(found, column[chain.senones[np.where(inside, states, 0)]], axis=1)
    return np.where(inside, picked, np.float32(-np.inf))


def _frames_near(chain: Chain, phone: int) -> npt.NDArray[np.intp]:
    """The frames in which any occurrence of a phone is within reach."""
    ends = np.append(chain.starts[1:], chain.frames)
    change = np.zeros(chain.frames + 1, np.int32)
    for at in np.flatnonzero(chain.phone == phone):
        change[max(int(chain.starts[at]) - _REACH, 0)] += 1
        change[min(int(ends[at]) + _REACH, chain.frames)] -= 1
    return np.flatnonzero(np.cumsum(change[:-1]) > 0)


def occupancy(model: AcousticModel, chain: Chain, scores: Array, entering: Array | None = None) -> Occupancy:
    """When the phones of a chain are entered, from its band scores.

    entering: (frames,) nats gained by entering a phone there.
    """
    likelihood = np.exp(FLATTENING * (scores.astype(np.float64) - scores.max(1, keepdims=True)))
    stay, leave = np.exp(FLATTENING * model.transitions[chain.phone].reshape(-1, 2).astype(np.float64)).T
    stay, leave = np.pad(stay, (0, chain.width)), np.pad(leave, (0, chain.width))
    gain = np.ones(chain.frames) if entering is None else np.exp(_ENTERING_SHARE * entering.astype(np.float64))
    forward, scale = _forward(chain, likelihood, stay, leave, gain)
    backward = _backward(chain, likelihood, stay, leave, gain)
    return _entries(chain, forward, likelihood * backward, leave, gain, scale * (forward * backward).sum(1))


def _forward(
    chain: Chain, likelihood: Doubles, stay: Doubles, leave: Doubles, gain: Doubles
) -> tuple[Doubles, Doubles]:
    """(frames, width) probabilities of the states given all before, each frame's summing to 1, and the factors taken out."""
    frames, width = likelihood.shape
    forward, scale = np.zeros((frames, width)), np.ones(frames)
    forward[0, 0] = 1.0
    moved = np.zeros(2 * width + 1)  # at a pin the band leaps over all that lies before it
    for t in range(1, frames):
        before, at = int(chain.low[t - 1]), int(chain.low[t])
        moved[:width] = forward[t - 1] * stay[before : before + width]
        moved[width] = 0.0
        left = forward[t - 1] * leave[before : before + width]
        left[(STATES - 1 - before) % STATES :: STATES] *= gain[t]  # from a phone's last state into the next phone
        moved[1 : width + 1] += left
        reached = moved[at - before : at - before + width] * likelihood[t]
        scale[t] = reached.sum()
        forward[t] = reached / scale[t]
    return forward, scale


def _backward(chain: Chain, likelihood: Doubles, stay: Doubles, leave: Doubles, gain: Doubles) -> Doubles:
    """(frames, width) likelihood of all that follows, up to a factor a frame; the path must end in the last state."""
    frames, width = likelihood.shape
    backward = np.zeros((frames, width))
    backward[-1, len(chain.senones) - 1 - int(chain.low[-1])] = 1.0
    for t in range(frames - 2, -1, -1):
        at, shift = int(chain.low[t]), int(chain.low[t + 1] - chain.low[t])
        ahead = np.zeros(2 * width + 1)
        ahead[shift : shift + width] = likelihood[t + 1] * backward[t + 1]
        left = ahead[1 : width + 1] * leave[at : at + width]
        left[(STATES - 1 - at) % STATES :: STATES] *= gain[t + 1]
        reached = ahead[:width] * stay[at : at + width] + left
        backward[t] = reached / reached.sum()
    return backward


def _entries(
    chain: Chain, forward: Doubles, ahead: Doubles, leave: Doubles, gain: Doubles, total: Doubles
) -> Occupancy:
    phones, width = len(chain.phone), forward.shape[1]
    onset, spread, mass = np.zeros(phones), np.zeros(phones), np.ones(phones)
    for k in range(1, phones):
        first = STATES * k
        t = np.arange(max(int(chain.starts[k]) - _REACH, 1), min(int(chain.starts[k]) + _REACH, chain.frames))
        left, entered = first - 1 - chain.low[t - 1], first - chain.low[t]
        inside = (left >= 0) & (left < width) & (entered >= 0) & (entered < width)
        t, left, entered = t[inside], left[inside], entered[inside]
        flow = forward[t - 1, left] * leave[first - 1] * gain[t] * ahead[t, entered] / total[t]
        weights = flow / flow.sum()
        onset[k] = weights @ t
        spread[k] = np.sqrt(weights @ (t - onset[k]) ** 2)
        mass[k] = weights[np.abs(t - onset[k]) <= _NEAR].sum()
    return Occupancy(onset, spread, mass)
