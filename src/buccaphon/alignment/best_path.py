"""The likeliest path of a recording through a word graph (Viterbi 1967), vectorised over all phones of the graph."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import SILENCE, STATES, AcousticModel
from buccaphon.alignment.graph import Graph

Array = npt.NDArray[np.float32]
Ints = npt.NDArray[np.int32]

HASTE_COST = 1.0  # nats for each 10 ms that a phone is shorter than HASTE_FRAMES
HASTE_FRAMES = 6
_NEVER = np.float32(-1e30)
_BEAM = 500.0  # nats; phones further behind the best than this, at the rims of the active stretch, are left out
_REVIEW = 8  # frames between two looks at which phones are active


@dataclass(frozen=True, eq=False)
class Path:
    """nodes: (phones,) graph nodes in order. starts: (phones,) the frame each begins. frames: length of the whole.
    score: log likelihood of the path with its costs."""

    nodes: Ints
    starts: Ints
    frames: int
    score: float


@dataclass(frozen=True, slots=True)
class Gate:
    """Where a path must pass: it is before graph node `node` until frame `earliest`, and at it or after it from frame
    `latest` on."""

    node: int
    earliest: int
    latest: int


class _Arcs:
    """Predecessors in two groups: nodes with one (most), and nodes with several, padded to a table."""

    def __init__(self, graph: Graph) -> None:
        counts = np.array([len(arcs) for arcs in graph.before])
        self.narrow = np.flatnonzero(counts == 1)
        self.narrow_from = np.array([graph.before[n][0][0] for n in self.narrow], np.int32)
        self.narrow_cost = np.array([graph.before[n][0][1] for n in self.narrow], np.float32)
        self.wide = np.flatnonzero(counts > 1)
        width = int(counts.max(initial=1))
        nobody = len(graph)  # an extra entry that is never reached
        self.wide_from = np.full((len(self.wide), width), nobody, np.int32)
        self.wide_cost = np.zeros((len(self.wide), width), np.float32)
        for row, node in enumerate(self.wide):
            self.wide_from[row, : counts[node]], self.wide_cost[row, : counts[node]] = zip(
                *graph.before[node], strict=True
            )

    def within(self, low: int, high: int) -> tuple[slice, slice]:
        narrow = np.searchsorted(self.narrow, (low, high))
        wide = np.searchsorted(self.wide, (low, high))
        return slice(*narrow), slice(*wide)


class End(Enum):
    """Where a path may end: after the last word, or anywhere in the graph."""

    LAST = "last"
    ANYWHERE = "anywhere"


def best_path(
    model: AcousticModel,
    graph: Graph,
    scores: Array,
    column: Ints,
    entering: Array | None = None,
    end: End = End.LAST,
    gates: Sequence[Gate] = (),
) -> Path | None:
    """Find the best path.

    scores: (frames, senones) log likelihoods. column: senone number -> column of `scores`. entering: (frames,) nats gained by
    entering a phone there. gates: where it must pass.
    Returns None when there are fewer frames than the shortest path has states, or no path passes all gates.
    """
    gained = np.zeros(len(scores), np.float32) if entering is None else entering
    for beam in (_BEAM, np.inf):
        path = _search(model, graph, scores, column, gained, beam, end, gates)
        if path is not None:
            return path
    return None


def _search(  # noqa: PLR0915  (one loop over frames, in which a call costs more than it explains)
    model: AcousticModel,
    graph: Graph,
    scores: Array,
    column: Ints,
    entering: Array,
    beam: float,
    end: End,
    gates: Sequence[Gate],
) -> Path | None:
    frames, count = len(scores), len(graph)
    opened, shut = _passable(gates, frames, count)
    stay = np.ascontiguousarray(model.transitions[graph.phone, :, 0].T)
    leave = np.ascontiguousarray(model.transitions[graph.phone, :, 1].T)
    states = np.ascontiguousarray(column[graph.senones].T)
    pause = graph.phone == model.index[SILENCE]
    entry_cost = graph.entry
    haste = np.where(pause, np.float32(0), np.float32(HASTE_COST))
    arcs = _Arcs(graph)

    best = np.full((STATES, count), _NEVER)
    since = np.zeros((STATES, count), np.int32)  # the frame at which the path in each state entered its phone
    leaving = np.full(count + 1, _NEVER)
    came_from = np.full((frames, count), -1, np.int16 if count < 2**15 else np.int32)
    entered = np.zeros((frames, count), np.int32)  # of the path that could leave the phone after each frame

    best[0, graph.first] = scores[0, states[0, graph.first]] - entry_cost[graph.first]
    best[:, opened[0] :] = _NEVER
    low, high = 0, count
    narrow, wide = arcs.within(low, high)
    arrival = np.full(count, _NEVER)
    for t in range(1, frames):
        if t % _REVIEW == 1:
            low, high = _active(best, beam)
            if low == high:  # the gates have shut every way
                return None
            high = _furthest(graph, high)
            for outside in (slice(0, low), slice(high, count)):  # or old scores would come back to life later
                best[:, outside] = _NEVER
                leaving[outside] = _NEVER
            narrow, wide = arcs.within(low, high)
        part = slice(low, high)
        dwell = t - since[2, part]
        leaving[part] = best[2, part] + leave[2, part] - haste[part] * np.maximum(HASTE_FRAMES - dwell, 0)

        arrival[part] = _NEVER
        sources = arcs.narrow_from[narrow]
        arrival[arcs.narrow[narrow]] = leaving[sources] - arcs.narrow_cost[narrow]
        came_from[t, arcs.narrow[narrow]] = sources
        table = arcs.wide_from[wide]
        candidates = leaving[table] - arcs.wide_cost[wide]
        choice = candidates.argmax(1)
        rows = np.arange(len(table))
        arrival[arcs.wide[wide]] = candidates[rows, choice]
        came_from[t, arcs.wide[wide]] = table[rows, choice]
        incoming = arrival[part] - entry_cost[part] + entering[t]

        now, held = best[:, part], since[:, part]
        for state in (2, 1):
            moving, staying = now[state - 1] + leave[state - 1, part], now[state] + stay[state, part]
            moved = moving > staying
            now[state] = np.where(moved, moving, staying)
            held[state] = np.where(moved, held[state - 1], held[state])
        staying = now[0] + stay[0, part]
        new = incoming > staying
        now[0] = np.where(new, incoming, staying)
        held[0] = np.where(new, t, held[0])
        now += scores[t, states[:, part]]
        if gates:
            best[:, : shut[t]] = _NEVER
            best[:, opened[t] :] = _NEVER
        entered[t, part] = held[2]
    if end is End.LAST:
        ends = best[2, graph.last] + leave[2, graph.last]
        node, state, score = int(graph.last[int(ends.argmax())]), 2, float(ends.max())
    else:
        state, node = (int(i) for i in np.unravel_index(int(best.argmax()), best.shape))
        score = float(best.max())
    if score < float(_NEVER) / 2:
        return None
    nodes, starts = _trace(node, int(since[state, node]), came_from, entered)
    return Path(nodes, starts, frames, score)


def _active(best: Array, beam: float) -> tuple[int, int]:
    """The stretch of nodes whose best state is within the beam."""
    top = best.max(0)
    alive = np.flatnonzero(top > max(float(top.max()) - beam, float(_NEVER) / 2))
    return (int(alive[0]), int(alive[-1]) + 1) if len(alive) else (0, 0)


def _passable(gates: Sequence[Gate], frames: int, count: int) -> tuple[npt.NDArray[np.int_], npt.NDArray[np.int_]]:
    """For each frame the first node that is not open yet, and the first that is not shut any more."""
    opened, shut = np.full(frames, count), np.zeros(frames, np.int_)
    for gate in gates:
        opened[: min(max(gate.earliest, 0), frames)] = np.minimum(
            opened[: min(max(gate.earliest, 0), frames)], gate.node
        )
        shut[min(max(gate.latest, 0), frames) :] = np.maximum(shut[min(max(gate.latest, 0), frames) :], gate.node)
    return opened, shut


def _furthest(graph: Graph, high: int) -> int:
    """One past the last node that a path from below `high` can reach before the next review."""
    words_ahead = graph.word[high - 1] + (2 + _REVIEW // STATES) * (2 if graph.is_loose else 1)
    return min(max(high, int(np.searchsorted(graph.word, words_ahead, side="right"))), len(graph))


def _trace(node: int, start: int, came_from: npt.NDArray[np.int_], entered: Ints) -> tuple[Ints, Ints]:
    """Back from the last node, which was entered at `start`, to the first: nodes and their starts."""
    nodes, starts = [node], [start]
    while starts[-1] > 0:
        start = starts[-1]
        node = int(came_from[start, node])
        nodes.append(node)
        starts.append(int(entered[start - 1, node]))
    return np.array(nodes[::-1], np.int32), np.array(starts[::-1], np.int32)
