"""The cheapest row of mouths is the same whichever way it is found."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.mouths.programme import (
    TICK,
    Costs,
    Part,
    cheapest_rows,
    known_or_cheapest,
    row_by_hand,
    rows_together,
    tick_of,
)

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


def test_the_nearest_tick():
    assert [tick_of(ticks * TICK) for ticks in (0.0, 0.49, 0.51, 1.0, 7.4, 7.6)] == [0, 0, 1, 1, 7, 8]


def test_what_is_known_is_taken_only_where_the_costs_are_the_same():
    costs, part = costs_of(3, 120, coarse=False), Part(110, 170, 0, 2, 4, 0.014)
    (first,) = known_or_cheapest([(part, costs)], {})
    assert first[1] == row_by_hand(part, costs)
    other = ((4, 115),)
    kept = {part: (first[0], other)}  # another row, to be told from one that is found again
    assert known_or_cheapest([(part, costs)], kept) == [(first[0], other)]
    elsewhere, changed = costs.per_tick.copy(), costs.per_tick.copy()
    elsewhere[:10] += 1.0  # ticks before the part
    changed[20] += 1.0
    assert known_or_cheapest([(part, Costs(elsewhere, None, 100, costs.shut))], kept)[0][1] == other
    assert known_or_cheapest([(part, Costs(changed, None, 100, costs.shut))], kept)[0][1] != other
    second = Part(170, 200, 2, 1, 4, 0.014)
    both = known_or_cheapest([(second, costs), (part, costs)], kept)
    assert [row for _, row in both] == [row_by_hand(second, costs), other], "each in its place"


@pytest.mark.parametrize("count", [1, 4, 25])
def test_many_parts_of_all_lengths_have_the_rows_that_each_has_alone(count):
    costs, asked, at = costs_of(count, 1600, coarse=True), [], 100
    for number in range(count):
        length = (0, 1, 5, 30, 90)[number % 5]
        asked.append((Part(at, at + length, number % 3, (number + number % 2) % 3, 4, 0.014), costs))
        at += length
    alone = [
        row_by_hand(*each)
        if each[0].end > each[0].first
        else (((each[0].right, each[0].first),) if each[0].left != each[0].right else ())
        for each in asked
    ]
    assert cheapest_rows(asked) == alone
