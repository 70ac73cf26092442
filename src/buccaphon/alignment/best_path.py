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

HASTE_COST = 2.0  # nats for each 10 ms that a phone is shorter than HASTE_FRAMES
HASTE_FRAMES = 6  # of 10 ms: hardly any sound of careful speech is shorter
_NEVER = np.float32(-1e30)
_BEAM = 500.0  # nats; phones further behind the best than this, at the rims of the active stretch, are left out
_REVIEW = 32  # frames between two looks at which phones are active


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
    network = _Network(model, graph, column)
    ways = _passable(gates, frames, count)
    # row 0 is what comes into each phone, the others are its states
    best = np.full((1 + STATES, count), _NEVER)
    since = np.zeros((1 + STATES, count), np.float32)  # the frame at which the path in each state entered its phone
    best[1, graph.first] = scores[0, network.states[0, graph.first]] - graph.entry[graph.first]
    best[:, ways[0][0] :] = _NEVER
    stretches: list[_Stretch] = []
    for review in range(1, frames, _REVIEW):
        low, high = _active(best[1:], beam)
        if low == high:  # the gates have shut every way
            return None
        part = slice(low, _furthest(graph, high))
        within, entered = best[:, part].flatten(), since[:, part].flatten()
        heard = scores[review : review + _REVIEW, network.states[:, part].ravel()]
        stretches.append(network.pass_on(part, within, entered, review, heard, entering, ways if gates else None))
        best[:] = _NEVER  # or old scores would come back to life later
        best[:, part], since[:, part] = within.reshape(1 + STATES, -1), entered.reshape(1 + STATES, -1)
    if end is End.LAST:
        ends = best[-1, graph.last] + network.leave[graph.last]
        node, state, score = int(graph.last[int(ends.argmax())]), STATES - 1, float(ends.max())
    else:
        state, node = divmod(int(best[1:].argmax()), count)
        score = float(best[1 + state, node])
    if score < float(_NEVER) / 2:
        return None
    nodes, starts = _trace(graph, node, int(since[1 + state, node]), stretches)
    return Path(nodes, starts, frames, score)


class _Network:
    """What it costs to go through the states of a graph.

    stay, advance: (states, nodes) nats of staying in a state, and of coming into it from the one before. leave: (nodes,) of
    leaving the phone. states: (states, nodes) columns of the scores. The predecessors of node n stand in `sources` from
    begins[n] up to begins[n + 1], with the costs of the arcs and of entering.
    """

    def __init__(self, model: AcousticModel, graph: Graph, column: Ints) -> None:
        transitions = np.moveaxis(model.transitions[graph.phone], 0, -1)  # (states, stay or leave, nodes)
        self.stay, self.leave = transitions[:, 0], np.ascontiguousarray(transitions[-1, 1])
        self.advance = np.concatenate([np.zeros((1, len(graph)), np.float32), transitions[:-1, 1]])
        self.haste = np.where(graph.phone == model.index[SILENCE], np.float32(0), np.float32(HASTE_COST))
        self.states = column[graph.senones].T
        nobody = len(graph)  # stands before nodes that nothing precedes
        listed = [arc for arcs in graph.before for arc in (arcs or ((nobody, 0.0),))]
        counts = np.array([max(len(arcs), 1) for arcs in graph.before])
        sources, costs = zip(*listed, strict=True)
        self.begins = np.concatenate([[0], np.cumsum(counts)])
        self.sources = np.array(sources, np.intp)
        self.costs = np.array(costs, np.float32) + np.repeat(graph.entry, counts)

    def pass_on(
        self,
        part: slice,
        within: Array,
        entered: Array,
        first: int,
        heard: Array,
        entering: Array,
        ways: tuple[npt.NDArray[np.int_], npt.NDArray[np.int_]] | None,
    ) -> _Stretch:
        """Take the paths through some frames, from number `first` on, in which the nodes of `part` are active.

        within, entered: scores of what comes into each phone and of its states, and the frames at which they entered it; the
        rows end to end, as in one piece they are reckoned with fastest, and changed in place. heard: (frames, states x nodes)
        their scores. ways: nodes that are open, for each frame; all when None.
        """
        n = part.stop - part.start
        sources, costs, begins = self._arcs_among(part)
        stay, advance = self.stay[:, part].ravel(), self.advance[:, part].ravel()
        leave, haste = self.leave[part], self.haste[part]
        before, now, came, held = within[:-n], within[n:], entered[:-n], entered[n:]
        incoming, coming, outgoing, going = before[:n], came[:n], now[-n:], held[-n:]
        short, none, arriving = np.empty(n, np.float32), np.zeros(n, np.float32), np.empty(len(sources), np.float32)
        moving, moved = np.empty(len(now), np.float32), np.empty(len(now), np.bool_)
        leaving, left = np.empty((len(heard), n), np.float32), np.empty((len(heard), n), np.float32)
        for k, score in enumerate(heard):
            t = first + k
            np.subtract(going, t - HASTE_FRAMES, out=short)
            np.maximum(short, none, out=short)
            np.multiply(short, haste, out=short)
            np.add(outgoing, leave, out=leaving[k])
            np.subtract(leaving[k], short, out=leaving[k])
            leaving[k].take(sources, out=arriving, mode="clip")
            np.subtract(arriving, costs, out=arriving)
            np.maximum.reduceat(arriving, begins, out=incoming)
            np.add(incoming, entering[t], out=incoming)
            coming.fill(t)
            np.add(before, advance, out=moving)
            np.add(now, stay, out=now)
            np.greater(moving, now, out=moved)
            np.maximum(now, moving, out=now)
            held[:] = np.where(moved, came, held)
            np.add(now, score, out=now)
            if ways is not None:
                rows = within.reshape(-1, n)
                rows[:, max(ways[0][t] - part.start, 0) :] = _NEVER
                rows[:, : max(ways[1][t] - part.start, 0)] = _NEVER
            left[k] = going
        return _Stretch(part.start, leaving, left)

    def _arcs_among(self, part: slice) -> tuple[npt.NDArray[np.intp], Array, npt.NDArray[np.intp]]:
        """Sources, costs and begins for some nodes, counted from the first of them; what comes from elsewhere never does."""
        listed = slice(self.begins[part.start], self.begins[part.stop])
        sources, costs = self.sources[listed] - part.start, self.costs[listed]
        elsewhere = (sources < 0) | (sources >= part.stop - part.start)
        begins = self.begins[part] - self.begins[part.start]
        return np.where(elsewhere, 0, sources), np.where(elsewhere, -_NEVER, costs), begins


@dataclass(frozen=True, slots=True)
class _Stretch:
    """Of the phones that were active for some frames, from node `low` on: (frames, phones) how well a path could leave each
    for a frame, and the frame at which the path that could leave it after that frame entered it."""

    low: int
    leaving: Array
    entered: Array


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


def _trace(graph: Graph, node: int, start: int, stretches: Sequence[_Stretch]) -> tuple[Ints, Ints]:
    """Back from the last node, which was entered at `start`, to the first: nodes and their starts."""
    nodes, starts = [node], [start]
    while starts[-1] > 0:
        number, row = divmod(starts[-1] - 1, _REVIEW)
        low, leaving = stretches[number].low, stretches[number].leaving[row]
        within = [(source, cost) for source, cost in graph.before[node] if 0 <= source - low < len(leaving)]
        node = within[int(np.argmax([float(leaving[source - low]) - cost for source, cost in within]))][0]
        number, row = divmod(starts[-1] - 2, _REVIEW)  # the frame before
        starts.append(int(stretches[number].entered[row, node - stretches[number].low]) if number >= 0 else 0)
        nodes.append(node)
    return np.array(nodes[::-1], np.int32), np.array(starts[::-1], np.int32)
