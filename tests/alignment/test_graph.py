from buccaphon.alignment.acoustic_model import SILENCE, english_model
from buccaphon.alignment.graph import word_graph

MODEL = english_model()
PAUSE = MODEL.index[SILENCE]


def spoken_paths(graph) -> set[tuple[str, ...]]:
    """Every sequence of phones that the graph allows, pauses written as '-'."""
    after = {n: [m for m in range(len(graph)) if n in graph.sources(m)] for n in range(len(graph))}
    found, stack = set(), [(int(n),) for n in graph.first]
    while stack:
        path = stack.pop()
        if path[-1] in graph.last:
            found.add(tuple("-" if graph.phone[n] == PAUSE else MODEL.phones[graph.phone[n]] for n in path))
        stack += [(*path, m) for m in after[path[-1]]]
    return found


def test_all_pronunciations_and_all_pauses_are_allowed_and_nothing_else():
    graph = word_graph(MODEL, [[["DH", "AH"], ["DH", "IY"]], [["P"]]])
    expected = set()
    for vowel in ("AH", "IY"):
        for first in ((), ("-",)):
            for middle in ((), ("-",)):
                for last in ((), ("-",)):
                    expected.add((*first, "DH", vowel, *middle, "P", *last))
    assert spoken_paths(graph) == expected


def test_neighbours_in_other_words_change_the_senones():
    alone = word_graph(MODEL, [[["AE", "N", "D"]]])
    followed = word_graph(MODEL, [[["AE", "N", "D"]], [["P", "EH", "R"]]])
    d = MODEL.index["D"]

    def senones(graph) -> set[tuple[int, ...]]:
        return {tuple(graph.senones[n]) for n in range(len(graph)) if graph.phone[n] == d}

    assert senones(alone) < senones(followed), "before a pause as before, and before P besides"


def test_nodes_stand_in_the_order_of_the_script():
    graph = word_graph(MODEL, [[["P", "AA"]], [["T", "IY"], ["T"]], [["M"]]])
    assert (graph.word[1:] >= graph.word[:-1]).all()
    for node in range(len(graph)):
        assert all(other < node for other in graph.sources(node))
    assert len(graph.before[int(graph.first[0])]) == 0


def test_a_way_that_costs_is_paid_for_where_the_word_is_entered():
    graph = word_graph(MODEL, [[["AE", "N", "D"], ["N"]], [["P"]]], costs=[[0.0, 7.0], [0.0]])
    paid = {MODEL.phones[graph.phone[n]] for n in range(len(graph)) if graph.entry[n] == 7.0}
    assert paid == {"N"}
    assert {int(graph.variant[n]) for n in range(len(graph)) if graph.entry[n] == 7.0} == {1}
