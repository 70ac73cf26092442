"""Each step of the clean-up does what it says, without moving a curve in time."""

from fractions import Fraction

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.errors import ChannelError
from buccaphon.motion.channels import Channel, Origin
from buccaphon.motion.keys import kept_frames, reduce_keys
from buccaphon.motion.steps import (
    KINDS,
    AnyStep,
    Around,
    CloseLoop,
    CloseSilences,
    EveryFrames,
    FewerKeys,
    LimitSpeed,
    Smooth,
    TrimEnds,
    WholeSteps,
    clean,
    named,
    require_valid_step,
    with_number,
)
from buccaphon.timing import FrameRate

RATE = FrameRate(Fraction(24))
JAW = Channel("jaw", "Jaw", Origin.SOUNDS)
PIXELS = Channel("chin", "Chin", Origin.SOUNDS, -10.0, 30.0, 5.0, "px")
FRAMES = 600


def curve(seed: int = 1) -> np.ndarray:
    noise = np.random.default_rng(seed).random(FRAMES + 20)
    return np.clip(np.convolve(noise, np.hanning(11) / 5, "valid")[:FRAMES] * 1.5 - 0.4, 0, 1).astype(np.float32)


def quiet() -> np.ndarray:
    found = np.zeros(FRAMES, np.bool_)
    found[:20] = found[100:103] = found[200:230] = found[560:] = True
    return found


def around(*channels: Channel) -> Around:
    return Around.of(channels or (JAW,), RATE, quiet(), (0, FRAMES))


def after(step: AnyStep, values: np.ndarray | None = None) -> np.ndarray:
    return clean((step,), (curve() if values is None else values,), 0, FRAMES, around())[0]


def test_silences_are_closed_with_frames_in_and_out_and_short_ones_are_left():
    before = curve() + np.float32(0.2)
    found = after(CloseSilences(longer=6, into=3, out=2), before)
    assert not found[203:228].any()
    assert 0 < found[201] < before[201]
    assert not found[:18].any(), "at the start it is shut from the first frame on"
    assert not found[564:].any()
    assert np.array_equal(found[98:105], before[98:105])
    said = ~quiet()
    assert np.array_equal(found[said], before[said])


def test_the_ends_are_trimmed_but_for_some_frames():
    found = after(TrimEnds(before=4, after=6), np.ones(FRAMES, np.float32))
    assert not found[:16].any()
    assert found[20:560].min() == 1
    assert not found[567:].any()


def test_smoothing_keeps_the_time_and_the_sum():
    spike = np.zeros(FRAMES, np.float32)
    spike[300] = 1
    found = after(Smooth(frames=2.0), spike)
    assert found.argmax() == 300
    assert np.allclose(found[290:301], found[300:311][::-1])
    assert found.sum() == pytest.approx(1, abs=1e-3)


def test_every_so_many_frames_there_is_a_key_and_straight_lines_between():
    before, found = curve(), after(EveryFrames(frames=4))
    assert np.array_equal(found[::4], before[::4])
    assert np.abs(np.diff(found, 2)[[n for n in range(590) if (n + 1) % 4]]).max() < 1e-6


@given(st.integers(0, 1000), st.sampled_from([0.5, 2.0, 10.0]))
@settings(max_examples=25)
def test_fewer_keys_stay_within_the_error(seed, error):
    before, found = curve(seed), after(FewerKeys(error=error), curve(seed))
    assert np.abs(found - before).max() <= error / 100 + 1e-6
    assert len(kept_frames(found, 1e-4)) < len(kept_frames(before, 1e-4))


def test_nothing_goes_faster_than_the_limit_and_what_does_not_is_left_alone():
    step = np.repeat(np.float32([0, 1]), FRAMES // 2)
    found = after(LimitSpeed(ranges=6.0), step)
    assert np.abs(np.diff(found)).max() <= 6 / 24 + 1e-6
    assert found[300 - 1] + found[300] == pytest.approx(1, abs=0.3), "spread to both sides"
    slow = np.linspace(0, 1, FRAMES).astype(np.float32)
    assert np.allclose(after(LimitSpeed(ranges=6.0), slow), slow, atol=1e-5)


def test_the_ends_ease_in_and_out_evenly_over_their_frames():
    found = after(TrimEnds(before=3, after=1), np.ones(FRAMES, np.float32))
    share = np.arange(5) / 4
    assert found[16:21] == pytest.approx(share**2 * (3 - 2 * share), abs=1e-6), "said from frame 20 on"
    assert found[559:562] == pytest.approx([1.0, 0.5, 0.0], abs=1e-6), "and up to 559"
    silent = Around.of((PIXELS,), RATE, np.ones(FRAMES, np.bool_), (0, FRAMES))
    assert (clean((TrimEnds(),), (np.full(FRAMES, 9, np.float32),), 0, FRAMES, silent)[0] == 5.0).all()


def test_smoothing_is_a_bell_of_so_many_frames():
    spike = np.zeros(FRAMES, np.float32)
    spike[300] = 1
    for frames in (0.5, 1.0, 3.0):
        bell = np.exp(-0.5 * (np.arange(-9, 10) / frames) ** 2)
        bell[np.abs(np.arange(-9, 10)) > np.ceil(3 * frames)] = 0
        assert after(Smooth(frames=frames), spike)[291:310] == pytest.approx(bell / bell.sum(), abs=1e-6)


def test_a_jump_becomes_a_ramp_through_its_middle_half_as_fast_as_allowed():
    jump = np.repeat(np.float32([-10, 30]), FRAMES // 2)
    found = clean((LimitSpeed(ranges=3.0),), (jump,), 0, FRAMES, around(PIXELS))[0]
    ramp = np.clip(10 + (np.arange(FRAMES) - 299.5) * 3 * 40 / 24 / 2, -10, 30)
    assert found == pytest.approx(ramp, abs=3.0), "a ramp before the jump, one after it, and the mean of both"
    assert found[292] == -10 and found[307] == 30
    assert found[:300] + found[:299:-1] == pytest.approx(np.full(300, 20), abs=1e-3)


def test_a_loop_eases_evenly():
    here = Around.of((PIXELS,), RATE, quiet(), (50, 500))
    found = clean((CloseLoop(over=3),), (np.full(FRAMES, 21, np.float32),), 0, FRAMES, here)[0]
    share = np.arange(5) / 4
    eased = 5 + 16 * share**2 * (3 - 2 * share)
    assert found[50:55] == pytest.approx(eased, abs=1e-5)
    assert found[495:500] == pytest.approx(eased[::-1], abs=1e-5)


def test_numbers_of_steps_are_declared_with_range_unit_and_step():
    told = {
        (kind.__struct_config__.tag, name): (each.least, each.most, each.unit, each.step, each.decimals)
        for kind in KINDS
        for name, each in kind.SETTINGS.items()
    }
    assert told[("trim_ends", "before")] == (0, 240, "frames", 1.0, 0)
    assert told[("smooth", "frames")] == (0.2, 24, "frames", 0.1, 1)
    assert named(Smooth(frames=1.5)) == "Smooth: smooth over 1.5 frames"
    with pytest.raises(ChannelError, match=r"Smooth: “Smooth over” is out of its range\. Use 0\.2 to 24 frames"):
        require_valid_step(Smooth(frames=25.0))


def test_whole_steps_are_of_the_channels_own_range():
    values = np.linspace(-10, 30, FRAMES).astype(np.float32)
    found = clean((WholeSteps(steps=4),), (values,), 0, FRAMES, around(PIXELS))[0]
    assert set(np.round(found, 3).tolist()) == {-10.0, 0.0, 10.0, 20.0, 30.0}


def test_a_loop_begins_and_ends_at_rest_of_the_part_that_is_used():
    here = Around.of((PIXELS,), RATE, quiet(), (50, 500))
    found = clean((CloseLoop(over=3),), (np.full(FRAMES, 20, np.float32),), 0, FRAMES, here)[0]
    assert found[50] == found[499] == 5.0
    assert found[54] == found[495] == 20.0


@given(
    st.lists(st.sampled_from(KINDS), max_size=4), st.integers(0, FRAMES - 1), st.integers(1, 200), st.integers(0, 50)
)
@settings(max_examples=60)
def test_a_part_alone_and_beside_others_is_as_it_is_in_the_whole(kinds, first, length, seed):
    steps, end = tuple(kind() for kind in kinds), min(first + length, FRAMES)
    one, other = curve(seed), curve(seed + 1) * 40 - 10
    whole = clean(steps, (one,), 0, FRAMES, around())[0]
    parts = clean(steps, (other, one), first, end, around(PIXELS, JAW))
    assert np.array_equal(parts[1], whole[first:end])


@pytest.mark.parametrize("kind", KINDS)
def test_each_kind_is_written_told_and_held_to_its_ends(kind):
    step = kind()
    assert msgspec.json.decode(msgspec.json.encode(step), type=AnyStep) == step
    assert named(step).startswith(step.TITLE)
    for name, each in step.SETTINGS.items():
        assert getattr(with_number(step, name, 1e9), name) == each.most
        assert getattr(with_number(step, name, -1e9), name) == pytest.approx(each.least)
        with pytest.raises(ChannelError):
            require_valid_step(msgspec.structs.replace(step, **{name: type(getattr(step, name))(each.most + 1)}))
    assert not kind(on=False).is_for("jaw")
    assert kind(channels=("jaw",)).is_for("jaw")
    assert not kind(channels=("jaw",)).is_for("round")


@given(st.integers(0, 500), st.sampled_from([0.001, 0.01, 0.1]), st.sampled_from([0, 1, 2, 90, 600, 3000]))
@settings(max_examples=40)
def test_keys_keep_every_frame_within_the_tolerance_whatever_the_length(seed, tolerance, frames):
    values = np.resize(curve(seed), frames)
    keys = reduce_keys(values, tolerance)
    if not frames:
        assert keys == ()
        return
    at = [key.frame for key in keys]
    assert at[0] == 0
    assert at[-1] == frames - 1
    line = np.interp(np.arange(frames), at, values[at])
    assert np.abs(line - values).max() <= tolerance + 1e-6
