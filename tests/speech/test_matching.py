import random

import pytest

from buccaphon.speech.matching import match


@pytest.mark.parametrize(
    ("old", "new", "pairs"),
    [
        ("", "a", {}),
        ("a b c", "a b c", {0: 0, 1: 1, 2: 2}),
        ("a b c", "a x b c", {0: 0, 1: 2, 2: 3}),
        ("a b b c", "a b c", {0: 0, 1: 1, 3: 2}),
        ("a b c d e", "a d x c e", {0: 0, 2: 3, 4: 4}),
        ("a a", "a a a", {0: 0, 1: 1}),
    ],
)
def test_words_are_found_again_in_order(old, new, pairs):
    assert match(old.split(), new.split()) == pairs


@pytest.mark.parametrize("seed", range(20))
def test_only_equal_words_are_matched_each_once_and_in_order(seed):
    draw = random.Random(seed)
    old = [draw.choice("abcde") for _ in range(12)]
    new = [word for word in old if draw.random() < 0.8]
    new.insert(draw.randrange(len(new) + 1), "x")
    pairs = list(match(old, new).items())
    assert all(old[i] == new[j] for i, j in pairs)
    assert pairs == sorted(pairs)
    assert len({j for _, j in pairs}) == len(pairs)
    assert len(pairs) >= len(new) // 2
