"""The exact samples that reach the device, and the playhead on its clock."""

import numpy as np
import pytest

from buccaphon.app.mirror.device import SimulatedDevice, choose_device
from buccaphon.app.mirror.player import Player
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
    assert middle == pytest.approx(RAMP.samples[12000, 0], abs=0.01)
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
