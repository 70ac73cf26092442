"""Followers: range to range, lag, smoothing, limits, switches, shaking, and who drives whom."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.errors import ChannelError
from buccaphon.motion.followers import (
    LOUDNESS,
    Follower,
    Shake,
    Switch,
    Unit,
    follow,
    in_order,
    read_range,
    require_valid_follower,
)
from buccaphon.motion.presets import starting_points
from buccaphon.timing import FrameRate

FPS = FrameRate(Fraction(25))
RAMP = np.linspace(0, 1, 101).astype(np.float32)


def of(follower: Follower, driver=RAMP) -> np.ndarray:
    return follow(follower, driver, FPS, 0, len(driver))


@pytest.mark.parametrize(("text", "found"), [
    ("0.1 to 0.7 becomes 0 to 12 px", ((0.1, 0.7), (0.0, 12.0), Unit.PIXELS)),
    ("0 TO 1 becomes 10 to -10°", ((0.0, 1.0), (10.0, -10.0), Unit.DEGREES)),
    (" .5 to 0 becomes -1 to 1 ", ((0.5, 0.0), (-1.0, 1.0), Unit.SHARE)),
    ("0 to 1 becomes 0 to 100 %", ((0.0, 1.0), (0.0, 100.0), Unit.PERCENT)),
])  # fmt: skip
def test_a_range_is_read_as_people_say_it(text, found):
    assert read_range(text) == found


@pytest.mark.parametrize(
    "text", ["", "0 to 1", "0 to 1 becomes 0 to 1 parsecs", "0.5 to 0.5 becomes 0 to 1", "a to b becomes c to d"]
)
def test_what_is_no_range_is_told(text):
    with pytest.raises(ChannelError):
        read_range(text)


@given(
    st.floats(-100, 100), st.floats(0.01, 100), st.floats(-1000, 1000), st.floats(-1000, 1000), st.sampled_from(Unit)
)
def test_what_a_follower_says_is_read_again_as_it_was(low, width, start, stop, unit):
    follower = Follower("x", "jaw", (low, low + width), (start, stop), unit)
    assert read_range(follower.says) == (follower.takes, follower.gives, unit)


def test_a_range_becomes_another_and_holds_at_its_ends_or_goes_on():
    held = of(Follower("x", "jaw", (0.1, 0.7), (0.0, 12.0)))
    assert held[5] == 0
    assert held[90] == 12
    assert held[40] == pytest.approx(6.0)
    free = of(Follower("x", "jaw", (0.1, 0.7), (0.0, 12.0), holds=False))
    assert free[0] == pytest.approx(-2.0)
    assert free[100] == pytest.approx(18.0)
    limited = of(Follower("x", "jaw", (0.0, 1.0), (0.0, -5.0), least=-3.0, most=-1.0))
    assert (limited.min(), limited.max()) == (-3.0, -1.0)


def test_gain_and_offset_say_the_same_as_the_range():
    follower = Follower("x", "jaw", (0.2, 0.6), (1.0, 9.0), holds=False)
    assert (follower.gain, follower.offset) == (pytest.approx(20.0), pytest.approx(-3.0))
    assert np.allclose(of(follower), follower.offset + follower.gain * RAMP, atol=1e-4)


def test_lag_comes_later_and_earlier_by_its_time_and_smoothing_by_none():
    step = np.repeat(np.float32([0, 1, 0]), 40)
    late, early = of(Follower("x", "jaw", lag=0.2), step), of(Follower("x", "jaw", lag=-0.2), step)
    assert np.flatnonzero(late)[0] == 45
    assert np.flatnonzero(early)[0] == 35
    smooth = of(Follower("x", "jaw", smoothing=0.1), step)
    assert np.allclose(smooth, smooth[::-1], atol=1e-6)
    assert smooth.sum() == pytest.approx(step.sum(), rel=1e-3)
    assert 0.3 < smooth[40] < 0.7


def test_a_curve_drawn_by_hand_bends_the_way_from_end_to_end():
    bent = of(Follower("x", "jaw", gives=(0.0, 10.0), curve=((0.0, 0.0), (0.5, 0.9), (1.0, 1.0))))
    assert bent[50] == pytest.approx(9.0, abs=0.05)
    assert bent[25] == pytest.approx(4.5, abs=0.05)


def test_a_switch_goes_on_and_off_at_two_levels_and_knows_what_was_long_before():
    up_and_down = np.concatenate([RAMP, np.full(2000, 0.5, np.float32), RAMP[::-1]])
    switch = Follower("x", "jaw", gives=(0.0, 3.0), switch=Switch(0.8, 0.305))
    whole = of(switch, up_and_down)
    assert set(whole.tolist()) == {0.0, 3.0}
    assert whole[79] == 0
    assert whole[81] == 3
    assert whole[1500] == 3, "it is between the two, and was on"
    assert np.flatnonzero(whole)[-1] == 101 + 2000 + 69
    assert np.array_equal(follow(switch, up_and_down, FPS, 1700, 1750), whole[1700:1750])


def test_shaking_is_as_large_as_what_is_followed_and_the_same_for_the_same_seed():
    still = np.zeros(500, np.float32)
    loud = np.ones(500, np.float32)
    shaken = Follower("x", LOUDNESS, gives=(0.0, 0.0), shake=Shake(2.0, 6.0, 5))
    assert not of(shaken, still).any()
    assert 1.0 < np.abs(of(shaken, loud)).max() <= 2.0
    assert np.array_equal(of(shaken, loud), of(replace(shaken, name="y"), loud))
    other = replace(shaken, shake=Shake(2.0, 6.0, 6))
    assert np.corrcoef(of(shaken, loud), of(other, loud))[0, 1] < 0.5
    turns = np.diff(np.sign(np.diff(of(shaken, loud)))) != 0
    assert 40 < turns.sum() < 140, "some turns a second"


@given(st.integers(0, 90), st.integers(1, 60), st.floats(-0.3, 0.3), st.floats(0, 0.2))
def test_a_part_is_as_it_is_in_the_whole(first, length, lag, smoothing):
    follower = Follower("x", "jaw", lag=lag, smoothing=smoothing, shake=Shake(0.3))
    end = min(first + length, len(RAMP))
    assert np.array_equal(follow(follower, RAMP, FPS, first, end), of(follower)[first:end])


def test_its_ends_hold_whatever_it_does():
    for found in starting_points("aperture").values():
        for follower in found:
            require_valid_follower(follower)
            low, high = follower.ends(0.0, 1.0)
            values = of(follower)
            assert low - 1e-4 <= values.min()
            assert values.max() <= high + 1e-4


def test_each_comes_behind_the_one_it_follows_and_a_circle_is_told_with_its_way():
    chain = (Follower("c", "b"), Follower("b", "a"), Follower("a", "jaw"), Follower("d", "a"))
    names = [follower.name for follower in in_order(chain)]
    assert names.index("a") < names.index("b") < names.index("c")
    with pytest.raises(ChannelError, match="a follows c follows b follows a"):
        in_order((Follower("a", "c"), Follower("b", "a"), Follower("c", "b")))
    with pytest.raises(ChannelError, match="a follows a"):
        in_order((Follower("a", "a"),))


@pytest.mark.parametrize("bad", [
    {"takes": (0.5, 0.5)}, {"gives": (0.0, float("nan"))}, {"gives": (0.0, 1e9)}, {"lag": 9.0}, {"smoothing": -1.0},
    {"least": 2.0, "most": 1.0}, {"switch": Switch(0.2, 0.5)}, {"curve": ((0.5, 0.0), (0.2, 1.0))},
    {"shake": Shake(1.0, 0.0)}, {"curve": ((float("nan"), 0.0),)},
])  # fmt: skip
def test_what_cannot_be_is_told(bad):
    with pytest.raises(ChannelError):
        require_valid_follower(Follower("x", "jaw", **bad))


@pytest.mark.parametrize("seed", [-1, 2**31, 10**12])
def test_a_seed_that_no_chance_takes_is_refused(seed):
    with pytest.raises(ChannelError, match="seed"):
        require_valid_follower(Follower("lantern", "jaw", shake=Shake(1.0, 5.0, seed)))
