"""Curves in blocks are the same to whoever reads them as one array."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.motion.curve import Curve

FRAMES = 3000


def plain(frames: int = FRAMES) -> np.ndarray:
    return np.sin(np.arange(frames, dtype=np.float32))


@given(st.integers(0, FRAMES + 10), st.integers(0, FRAMES + 10))
def test_any_frames_in_a_row_are_as_of_an_array(first, end):
    assert np.array_equal(Curve(plain())[first:end], plain()[first:end])


@given(st.integers(0, FRAMES - 1), st.integers(1, FRAMES))
def test_another_part_is_there_and_nowhere_else_and_not_in_the_one_of_before(first, length):
    before, part = Curve(plain()), np.full(min(length, FRAMES - first), 7, np.float32)
    after, expected = before.with_part(first, part), plain()
    expected[first : first + len(part)] = part
    assert np.array_equal(after.whole, expected)
    assert np.array_equal(after[:], expected)
    assert np.array_equal(before.whole, plain())
    assert len(after) == FRAMES


def test_a_small_part_copies_little():
    before = Curve(plain(100_000))
    before.whole  # noqa: B018  (as if it had been read)
    after = before.with_part(50_000, np.ones(10, np.float32))
    assert np.shares_memory(after[:1000], before[:1000])
    assert np.shares_memory(after[90_000:90_100], before[90_000:90_100])


def test_one_frame_is_a_number():
    curve = Curve(plain())
    assert curve[2000] == pytest.approx(np.sin(2000), abs=1e-6)
    assert isinstance(curve[5], float)
    with pytest.raises(IndexError):
        curve[FRAMES]


def test_of_nothing_there_is_nothing():
    assert len(Curve(plain(0))) == 0
    assert len(Curve(plain(0)).whole) == 0
    assert len(Curve(plain(0))[0:5]) == 0
