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
_REVIEW = 16  # frames between two looks at which phones are active


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
    """The predecessors of all nodes in one list: those of node n stand at begins[n] up to begins[n + 1].
    Costs are those of the arc and of entering the node."""

    def __init__(self, graph: Graph) -> None:
        nobody = len(graph)  # stands before nodes that nothing precedes, and is never reached
        counts = np.array([max(len(arcs), 1) for arcs in graph.before])
        self.begins = np.concatenate([[0], np.cumsum(counts)])
        listed = [arc for arcs in graph.before for arc in (arcs or ((nobody, 0.0),))]
        sources, costs = zip(*listed, strict=True)
        self.sources = np.array(sources, np.intp)
        self.costs = np.array(costs, np.float32) + np.repeat(graph.entry, counts)


@dataclass(frozen=True, slots=True)
class _Moment:
    """Of the active phones, from node `low` on, in one frame: how well a path could leave each for this frame, and the frame
    at which the path that could leave it after this frame entered it."""

    low: int
    leaving: Array
    entered: Array


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


def _search(
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
    transitions = np.moveaxis(model.transitions[graph.phone], 0, -1)  # (states, stay or leave, nodes)
    stay, leave = np.ascontiguousarray(transitions[:, 0]), np.ascontiguousarray(transitions[-1, 1])
    advance = np.concatenate([np.zeros((1, count), np.float32), transitions[:-1, 1]])
    states = np.ascontiguousarray(column[graph.senones].T)
    haste = np.where(graph.phone == model.index[SILENCE], np.float32(0), np.float32(HASTE_COST))
    arcs = _Arcs(graph)

    # row 0 is what comes into each phone, the others are its states
    best = np.full((1 + STATES, count), _NEVER)
    since = np.zeros((1 + STATES, count), np.float32)  # the frame at which the path in each state entered its phone
    leaving = np.full(count + 1, _NEVER)
    best[1, graph.first] = scores[0, states[0, graph.first]] - graph.entry[graph.first]
    best[:, opened[0] :] = _NEVER
    moments = [_Moment(0, leaving, since[-1].copy())]

    for review in range(1, frames, _REVIEW):
        low, high = _active(best[1:], beam)
        if low == high:  # the gates have shut every way
            return None
        high = _furthest(graph, high)
        for outside in (slice(0, low), slice(high, count)):  # or old scores would come back to life later
            best[:, outside] = _NEVER
            leaving[outside] = _NEVER
        part, listed = slice(low, high), slice(arcs.begins[low], arcs.begins[high])
        sources, costs, begins = arcs.sources[listed], arcs.costs[listed], arcs.begins[part] - arcs.begins[low]
        before, now, came, held = best[:-1, part], best[1:, part], since[:-1, part], since[1:, part]
        to_stay, to_leave, to_advance, hasty = stay[:, part], leave[part], advance[:, part], haste[part]
        heard = scores[review : review + _REVIEW, states[:, part]]
        for t, score in enumerate(heard, review):
            short = np.maximum(held[-1] - np.float32(t - HASTE_FRAMES), 0)
            leaving[part] = now[-1] + to_leave - hasty * short
            incoming = np.maximum.reduceat(leaving.take(sources) - costs, begins)
            np.add(incoming, entering[t], out=before[0])
            came[0] = t
            moving = before + to_advance
            now += to_stay
            moved = moving > now
            np.copyto(now, moving, where=moved)
            held[:] = np.where(moved, came, held)
            now += score
            if gates:
                best[:, : shut[t]] = _NEVER
                best[:, opened[t] :] = _NEVER
            moments.append(_Moment(low, leaving[part].copy(), held[-1].copy()))
    if end is End.LAST:
        ends = best[-1, graph.last] + leave[graph.last]
        node, state, score = int(graph.last[int(ends.argmax())]), STATES - 1, float(ends.max())
    else:
        state, node = divmod(int(best[1:].argmax()), count)
        score = float(best[1 + state, node])
    if score < float(_NEVER) / 2:
        return None
    nodes, starts = _trace(graph, node, int(since[1 + state, node]), moments)
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


def _trace(graph: Graph, node: int, start: int, moments: Sequence[_Moment]) -> tuple[Ints, Ints]:
    """Back from the last node, which was entered at `start`, to the first: nodes and their starts."""
    nodes, starts = [node], [start]
    while starts[-1] > 0:
        now, earlier = moments[starts[-1]], moments[starts[-1] - 1]
        within = [(s, c) for s, c in graph.before[node] if now.low <= s < now.low + len(now.leaving)]
        gains = [float(now.leaving[source - now.low]) - cost for source, cost in within]
        node = within[int(np.argmax(gains))][0]
        nodes.append(node)
        starts.append(int(earlier.entered[node - earlier.low]))
    return np.array(nodes[::-1], np.int32), np.array(starts[::-1], np.int32)
