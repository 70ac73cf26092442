"""Loudness unchanged steered: floor and ceiling, attack and release, gate, response, and parts of the sound."""

from dataclasses import replace

import numpy as np
import pytest
import soundfile

from buccaphon.audio.loudness import Range, automatic_range, levels, peaks_of, range_of
from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS, Band, LoudnessSettings, require_valid_loudness
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.audio.steering import steer
from buccaphon.errors import ChannelError

LIMITS = Range(-50.0, -10.0)
STEP = np.repeat(np.float32([-80, -20, -80]), 100)


def gated(loudness_settings: LoudnessSettings, found=STEP) -> np.ndarray:
    return steer(found, LIMITS, loudness_settings, 100.0).gated


def test_between_floor_and_ceiling_it_goes_from_0_to_1():
    found = steer(np.linspace(-80, 0, 81).astype(np.float32), LIMITS, DEFAULT_LOUDNESS, 100.0)
    assert found.raw[30] == 0
    assert found.raw[50] == pytest.approx(0.5)
    assert found.raw[75] == 1
    assert np.array_equal(found.raw, found.mapped)


def test_attack_and_release_take_their_time_and_smoothing_comes_no_later():
    slow = gated(LoudnessSettings(attack=0.1, release=0.3))
    assert 0.6 < slow[110] / 0.75 < 0.7, "63 % of the way after its time"
    assert 0.3 < slow[230] / slow[199] < 0.4
    smooth = gated(LoudnessSettings(smoothing=0.05, gate_opens=0.0, gate_closes=0.0))
    assert np.allclose(smooth, smooth[::-1], atol=1e-5)


def test_the_gate_opens_and_shuts_at_two_levels():
    wobble = np.tile(np.float32([-42, -46]), 50)  # 0.2 and 0.1 of the range
    assert gated(LoudnessSettings(gate_opens=0.15, gate_closes=0.05), wobble)[5:].all()
    assert not gated(LoudnessSettings(gate_opens=0.25, gate_closes=0.15), wobble).any()


def test_the_response_bends_and_the_loudest_reaches_what_is_asked():
    half = np.full(10, -30, np.float32)
    assert gated(LoudnessSettings(response=2.0), half)[5] == pytest.approx(0.25)
    assert gated(LoudnessSettings(response=0.5), half)[5] == pytest.approx(0.5**0.5)
    assert gated(LoudnessSettings(peak=0.8)).max() == pytest.approx(0.8)
    assert gated(LoudnessSettings(peak=0.0)).max() == 0
    assert not gated(LoudnessSettings(peak=0.8), np.full(10, -90, np.float32)).any()


def test_floor_and_ceiling_are_as_they_are_said_and_never_the_wrong_way_round():
    found = np.array([-60.0] * 50 + [-20.0] * 50, np.float32)
    by_itself = automatic_range(found)
    assert range_of(by_itself, DEFAULT_LOUDNESS) == by_itself
    said = range_of(by_itself, LoudnessSettings(floor=-33.0))
    assert (said.floor, said.ceiling) == (-33.0, by_itself.ceiling)
    crossed = range_of(by_itself, LoudnessSettings(floor=-5.0, ceiling=-40.0))
    assert crossed.ceiling > crossed.floor


@pytest.mark.parametrize(("band", "heard", "not_heard"), [(Band.VOICE, 400.0, 7000.0), (Band.UPPER, 6000.0, 300.0)])
def test_a_part_of_the_sound_is_listened_to_alone(band, heard, not_heard):
    rate = 32000
    t = np.arange(rate) / rate
    both = [
        Recording((0.5 * np.sin(2 * np.pi * hertz * t)).astype(np.float32)[:, None], rate, "tone")
        for hertz in (heard, not_heard)
    ]
    at = np.array([0.5])
    plain, loud, soft = (
        float(levels(peaks, at)[0])
        for peaks in (build_peaks(both[0]), peaks_of(both[0], band), peaks_of(both[1], band))
    )
    assert loud == pytest.approx(plain, abs=1.5)
    assert soft < plain - 20


def test_a_part_of_a_sound_that_is_read_in_place_is_as_loud_as_of_one_in_memory(tmp_path):
    rate, t = 32000, np.arange(64000) / 32000
    path = tmp_path / "tone.wav"
    soundfile.write(path, 0.5 * np.sin(2 * np.pi * 500 * t), rate, "PCM_16")
    in_place = read_recording(path)
    in_memory = Recording((0.5 * np.sin(2 * np.pi * 500 * t)).astype(np.float32)[:, None], rate, "tone")
    found = [float(levels(peaks_of(each, Band.VOICE), np.array([1.0]))[0]) for each in (in_place, in_memory)]
    assert found[0] == pytest.approx(found[1], abs=0.1)


@pytest.mark.parametrize("told", [
    {"attack": -1.0}, {"smoothing": 9.0}, {"floor": 5.0}, {"gate_opens": 0.1, "gate_closes": 0.2},
    {"response": 0.0}, {"peak": 2.0}, {"channel": 99}, {"release": float("nan")},
])  # fmt: skip
def test_what_cannot_be_is_told(told):
    with pytest.raises(ChannelError):
        require_valid_loudness(replace(DEFAULT_LOUDNESS, **told))
