"""The search against brute force: small graphs, every path tried."""

from itertools import pairwise, product

import numpy as np
import pytest

from buccaphon.alignment.acoustic_model import SILENCE, english_model
from buccaphon.alignment.best_path import HASTE_COST, HASTE_FRAMES, best_path
from buccaphon.alignment.chain import band_scores, chain_of, occupancy
from buccaphon.alignment.graph import PAUSE_COST, Graph, word_graph

MODEL = english_model()


def made_scores(graph: Graph, frames: int, seed: int) -> tuple[np.ndarray, np.ndarray]:
    senones = np.unique(graph.senones)
    column = np.zeros(len(MODEL.senone_phone), np.int32)
    column[senones] = np.arange(len(senones))
    return np.random.default_rng(seed).normal(-60, 6, (frames, len(senones))).astype(np.float32), column


def all_node_paths(graph: Graph):
    """Every way from a first to a last node."""
    after = {n: [m for m in range(len(graph)) if n in graph.sources(m)] for n in range(len(graph))}
    stack = [[int(n)] for n in graph.first]
    while stack:
        path = stack.pop()
        if path[-1] in graph.last:
            yield path
        stack += [[*path, m] for m in after[path[-1]]]


def best_by_brute_force(graph: Graph, scores: np.ndarray, column: np.ndarray, entering: np.ndarray) -> float:
    best = -np.inf
    frames = len(scores)
    silence = MODEL.index[SILENCE]
    for nodes in all_node_paths(graph):
        states = 3 * len(nodes)
        for lengths in product(range(1, frames - states + 2), repeat=states):
            if sum(lengths) != frames:
                continue
            total, t = 0.0, 0
            for k, node in enumerate(nodes):
                base = graph.phone[node]
                total += entering[t] if t else 0.0
                total -= PAUSE_COST if base == silence else 0.0
                inside = lengths[3 * k : 3 * k + 3]
                if base != silence and k + 1 < len(nodes):
                    total -= HASTE_COST * max(HASTE_FRAMES - sum(inside), 0)
                for state, length in enumerate(inside):
                    stay, leave = MODEL.transitions[base, state]
                    total += stay * (length - 1) + leave
                    total += scores[t : t + length, column[graph.senones[node, state]]].sum()
                    t += length
            best = max(best, total)
    return best


@pytest.mark.parametrize("seed", range(3))
def test_the_path_found_is_the_best_of_all(seed):
    graph = word_graph(MODEL, [[["AA"], ["P"]]])
    scores, column = made_scores(graph, 11, seed)
    entering = np.random.default_rng(seed).normal(0, 8, 11).astype(np.float32)
    path = best_path(MODEL, graph, scores, column, entering)
    assert path is not None
    assert path.score == pytest.approx(best_by_brute_force(graph, scores, column, entering), abs=0.01)


def test_too_few_frames_are_no_path():
    graph = word_graph(MODEL, [[["P", "AA"]], [["T", "IY"]]])
    scores, column = made_scores(graph, 11, 0)
    assert best_path(MODEL, graph, scores, column) is None


def test_paths_follow_the_graph_and_keep_their_contexts():
    words = [[["DH", "AH"], ["DH", "IY"]], [["AE", "P", "AH", "L"]], [["P", "EH", "R"]]]
    graph = word_graph(MODEL, words)
    scores, column = made_scores(graph, 90, 1)
    path = best_path(MODEL, graph, scores, column)
    for before, node in zip(path.nodes, path.nodes[1:], strict=False):
        assert before in graph.sources(node)
    assert (np.diff(path.starts) >= 3).all()
    assert sorted(set(graph.word[path.nodes[graph.variant[path.nodes] >= 0]])) == [0, 1, 2]


def test_a_chain_follows_its_path_state_by_state():
    graph = word_graph(MODEL, [[["P", "AA", "T"]]])
    scores, column = made_scores(graph, 60, 2)
    path = best_path(MODEL, graph, scores, column)
    chain = chain_of(graph, path)
    states = chain.first_states()
    assert (np.diff(states) >= 0).all()
    assert set(states.tolist()) == set(range(len(chain.senones)))
    assert (states[path.starts] == 3 * np.arange(len(path.starts))).all()
    assert ((chain.low <= states) & (states < chain.high)).all()
    found = occupancy(MODEL, chain, band_scores(MODEL, chain, np.zeros((60, 3, 13), np.float32)))
    assert (np.diff(found.onset) > 0).all()
    assert (found.mass >= 0).all()
    assert (found.mass <= 1 + 1e-9).all()


def test_occupancy_is_that_of_all_paths_weighed():
    """Forward-backward against the sum over every segmentation of a short chain."""
    graph = word_graph(MODEL, [[["AA"]]])
    node = next(n for n in range(len(graph)) if graph.variant[n] >= 0)
    frames = 9
    rng = np.random.default_rng(5)

    class _OnePath:
        nodes, starts, frames = np.array([0, node], np.int32), np.array([0, 4], np.int32), 9

    chain = chain_of(graph, _OnePath)
    band = rng.normal(-50, 8, (frames, chain.width)).astype(np.float32)
    entering = rng.normal(0, 3, frames).astype(np.float32)
    found = occupancy(MODEL, chain, band, entering)
    kappa, entry, total = 0.15, np.zeros(frames), 0.0
    trans = MODEL.transitions[chain.phone].reshape(-1, 2)
    for cuts in product(range(1, frames), repeat=5):
        if any(b <= a for a, b in pairwise(cuts)):
            continue
        edges = [0, *cuts, frames]
        value = 0.0
        for state in range(6):
            first, last = edges[state], edges[state + 1]
            value += band[first:last, state].sum() - (band[0, 0] if state == 0 else 0)
            value += trans[state, 0] * (last - first - 1) + (trans[state, 1] if state < 5 else 0)
        weight = np.exp(kappa * value + 0.5 * entering[edges[3]])
        entry[edges[3]] += weight
        total += weight
    expected = (entry / total) @ np.arange(frames)
    assert found.onset[1] == pytest.approx(expected, abs=1e-4)


def test_a_chain_that_fits_nowhere_stays_where_the_path_put_it():
    graph = word_graph(MODEL, [[["P", "AA", "T"]]])
    scores, column = made_scores(graph, 60, 2)
    chain = chain_of(graph, best_path(MODEL, graph, scores, column))
    band = np.where(np.arange(chain.width) == 0, np.float32(0), np.full((60, chain.width), -1e5, np.float32))
    with np.errstate(all="raise", under="ignore"):
        found = occupancy(MODEL, chain, band.astype(np.float32))
    assert found.onset[1:].tolist() == chain.starts[1:].tolist()


def test_a_narrow_beam_never_brings_dead_paths_back(monkeypatch):
    """The active stretch of a long graph shrinks and grows; the path must stay whole and as good."""
    words = [[["P", "AH"]], [["T", "IY", "Z"]], [["M", "AA"]], [["F", "AY", "V"]]] * 12
    graph = word_graph(MODEL, words)
    scores, column = made_scores(graph, 900, 4)
    wide = best_path(MODEL, graph, scores, column)
    monkeypatch.setattr("buccaphon.alignment.best_path._BEAM", 60.0)
    narrow = best_path(MODEL, graph, scores, column)
    for path in (wide, narrow):
        spoken = graph.word[path.nodes[graph.variant[path.nodes] >= 0]]
        assert sorted(set(spoken)) == list(range(48))
    assert narrow.score <= wide.score + 0.5
