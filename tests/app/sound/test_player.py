"""The exact samples that reach the device, and the playhead on its clock."""

import numpy as np
import pytest

from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.app.sound.outputs import choose_device
from buccaphon.app.sound.player import Player
from buccaphon.app.sound.sources import ScrubGrains
from buccaphon.audio.recording import Recording
from buccaphon.timing import Span

RATE = 8000
RAMP = Recording((np.arange(RATE * 2, dtype=np.float32) / (RATE * 2))[:, None] + 0.5, RATE, "ramp")
FADE = round(0.003 * RATE)


@pytest.fixture
def player(qapp, clock):
    made = Player(SimulatedDevice(clock))
    made.load(RAMP)
    yield made
    made.stop()


def run(player: Player, clock, seconds: float, step: float = 0.01) -> None:
    for _ in range(round(seconds / step)):
        clock.now += step
        player.tick()


def test_what_is_played_is_the_recording_sample_for_sample(player, clock):
    player.seek(0.5)
    player.play()
    run(player, clock, 0.25)
    output = player.device.output[:, 0]
    assert len(output) == pytest.approx(0.25 * RATE, abs=2)
    expected = RAMP.samples[4000 : 4000 + len(output), 0]
    assert output[FADE:] == pytest.approx(expected[FADE:])
    assert output[0] == 0
    assert (np.diff(output[:FADE]) > 0).all(), "a click at the start"


def test_the_playhead_is_where_the_sound_is(player, clock):
    player.seek(0.25)
    player.play()
    for _ in range(50):
        clock.now += 1 / 60
        player.tick()
        heard = 0.25 + len(player.device.output) / RATE
        assert abs(player.position - heard) < 1 / 60


def test_playing_stops_at_the_end_and_fades_out(player, clock, qtbot):
    player.seek(1.9)
    player.play()
    with qtbot.waitSignal(player.playing_changed):
        run(player, clock, 0.3)
    assert not player.playing
    assert player.position == pytest.approx(2.0)
    assert abs(player.device.output[-1, 0]) < 0.05


def test_a_loop_goes_round_without_a_jump(player, clock):
    player.loop, player.loops = Span(0.5, 0.75), True
    player.seek(0.6)
    player.play()
    run(player, clock, 1.0)
    assert player.playing
    assert 0.5 <= player.position <= 0.75
    assert np.abs(np.diff(player.device.output[:, 0])).max() < 2 / FADE, "a click at the seam"


def test_looping_without_a_range_repeats_everything(player, clock):
    player.loops = True
    player.play()
    run(player, clock, 2.5)
    assert player.position == pytest.approx(0.5, abs=0.02)


def test_hearing_a_frame_leaves_the_playhead_alone(player, clock):
    player.seek(1.0)
    player.hear(Span(1.0, 1.0 + 1 / 24))
    run(player, clock, 0.2)
    assert player.position == 1.0
    assert len(player.device.output) == pytest.approx(RATE / 24, abs=1)


def test_scrubbing_sounds_around_the_pointer(player, clock):
    player.scrub(1.5)
    run(player, clock, 0.2)
    middle = player.device.output[len(player.device.output) // 2, 0]
    assert middle == pytest.approx(RAMP.samples[12000, 0], rel=0.03)
    assert player.position == 1.5


def test_seeking_while_playing_goes_on_from_there(player, clock):
    player.play()
    run(player, clock, 0.1)
    player.seek(1.2)
    run(player, clock, 0.1)
    assert player.position == pytest.approx(1.3, abs=0.02)


def test_nothing_happens_without_a_recording(qapp, clock):
    player = Player(SimulatedDevice(clock))
    player.play()
    player.scrub(1.0)
    player.hear(Span(0, 1))
    assert not player.playing
    assert player.position == 0


def test_where_there_is_no_screen_the_device_is_simulated():
    assert isinstance(choose_device(), SimulatedDevice)


def test_scrub_grains_follow_the_hand_both_ways_without_clicks(player, clock):
    for target in (*np.linspace(0.4, 1.2, 40), *np.linspace(1.2, 0.4, 40)):
        player.scrub(float(target))
        clock.now += 0.016
        player.tick()
        recent = player.device.output[-40:, 0]
        near = recent / (0.5 + target / 2)
        assert len(player.device.output) < 1600 or near.mean() == pytest.approx(1.0, abs=0.06), "not where the hand is"
    assert np.abs(np.diff(player.device.output[:, 0])).max() < 0.02
    run(player, clock, 0.5)
    assert not player.device.output[-40:].any(), "the end was cut off"
    assert len(player.device.output) < (80 * 0.016 + 0.3) * RATE, "a resting hand is still heard"


def test_a_grain_starts_within_20_ms_of_the_pointer():
    grains = ScrubGrains(RAMP, 0.5)
    grains.read(RATE // 10)
    grains.aim(1.5)
    block = grains.read(round(0.080 * RATE))[:, 0]
    assert block[round(0.075 * RATE)] == pytest.approx(1.25, rel=0.03)
    assert block[round(0.020 * RATE)] > block[0] + 0.01, "nothing of the new place after 20 ms"


@pytest.mark.parametrize("speed", [0.25, 0.5, 0.75])
def test_slow_playing_keeps_the_playhead_on_the_sound(player, clock, speed):
    player.set_speed(speed)
    player.seek(0.5)
    player.play()
    run(player, clock, 0.8)
    assert player.position == pytest.approx(0.5 + 0.8 * speed, abs=0.002)
    heard = player.device.output[-100:, 0].mean()
    assert heard == pytest.approx(0.5 + player.position / 2, rel=0.04)


def test_a_pre_roll_is_heard_before_the_loop(player, clock):
    player.loop, player.loops, player.pre_roll = Span(1.0, 1.25), True, 0.25
    player.seek(0.0)
    player.play()
    assert player.position == 0.0
    run(player, clock, 0.02)
    assert player.position == pytest.approx(0.77, abs=0.01)


def test_volume_and_muting(player, clock):
    player.set_volume(0.5)
    player.play()
    run(player, clock, 0.1)
    assert player.device.output[400, 0] == pytest.approx(0.5 * RAMP.samples[400, 0], rel=1e-3)
    player.limit(Span(0, 2), muted=True)
    player.play()
    run(player, clock, 0.1)
    assert not player.device.output.any()
    assert player.position > 0.15


def test_many_channels_are_mixed_for_the_speakers(qapp, clock):
    eight = Recording(np.repeat(RAMP.samples, 8, axis=1), RATE, "eight")
    device = SimulatedDevice(clock)
    player = Player(device)
    player.load(eight)
    player.play()
    run(player, clock, 0.1)
    assert device.output.shape[1] == 1
    player.stop()


def test_a_lost_device_stops_and_says_so(player, clock, qtbot):
    player.play()
    player.device.is_lost = True
    with qtbot.waitSignal(player.device_lost):
        run(player, clock, 0.05)
    assert not player.playing


def test_from_the_key_to_the_first_sample_is_one_block(player, clock):
    player.play()
    clock.now += 0.012
    player.tick()
    assert 0 < len(player.device.output) <= round(0.012 * RATE) + 1
