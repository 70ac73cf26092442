"""The cheapest row of mouths is the same whichever way it is found."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.mouths.programme import Costs, Part, row_by_hand, rows_together

MOUTHS = 5


def costs_of(seed: int, ticks: int, *, coarse: bool) -> Costs:
    rng = np.random.default_rng(seed)
    per_tick = np.repeat(rng.uniform(0, 0.02, (ticks // 4 + 1, MOUTHS)), 4, axis=0)[:ticks].copy()
    may_cut = rng.uniform(size=ticks + 1) < 0.4 if coarse else None
    return Costs(per_tick, may_cut, 100, np.arange(MOUTHS) == 1)


@settings(max_examples=300)
@given(
    seed=st.integers(0, 10_000),
    lengths=st.lists(st.integers(1, 60), min_size=1, max_size=4),
    mouths=st.tuples(st.integers(0, MOUTHS - 1), st.integers(0, MOUTHS - 1)),
    shortest=st.integers(1, 9),
    coarse=st.booleans(),
)
def test_by_hand_and_together_are_the_same(seed, lengths, mouths, shortest, coarse):
    costs, at, asked = costs_of(seed, sum(lengths), coarse=coarse), 100, []
    for length in lengths:
        before, after = mouths
        asked.append((Part(at, at + length, before, after, shortest, 0.014), costs))
        at += length
    assert [row_by_hand(*each) for each in asked] == rows_together(asked, shortest)


@pytest.mark.parametrize("solve", [row_by_hand, lambda part, costs: rows_together([(part, costs)], part.shortest)[0]])
def test_what_is_wanted_for_long_enough_is_shown_and_what_is_not_is_passed_over(solve):
    per_tick = np.ones((40, MOUTHS))
    per_tick[:, 0] = 0.0
    per_tick[10:20] = 1.0
    per_tick[10:20, 3] = 0.0
    per_tick[30:32] = 1.0
    per_tick[30:32, 4] = 0.0
    costs = Costs(per_tick, None, 0, np.zeros(MOUTHS, np.bool_))
    assert solve(Part(0, 40, 0, 0, 6, 0.1), costs) == ((3, 10), (0, 20))
