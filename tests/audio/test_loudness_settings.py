"""Loudness unchanged steered: floor and ceiling, attack and release, gate, response, and parts of the sound."""

from dataclasses import replace

import numpy as np
import pytest
import soundfile

from buccaphon.audio import steering
from buccaphon.audio.loudness import Range, automatic_range, levels, limits_of, peaks_of, range_of
from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS, Band, LoudnessSettings, Scale, require_valid_loudness
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.audio.steering import Frames, share_of
from buccaphon.errors import ChannelError

SETTINGS = LoudnessSettings(syllables=0.0)  # levels as they are, and no more
LIMITS = Range(-50.0, -10.0)
STEP_UP = np.repeat(np.array([-80, -20, -80], np.float32), 100)


def steer(found, counts, limits, loudness_settings, frames):
    return steering.driven(steering.mapped(found, limits, loudness_settings, frames), counts, loudness_settings)


def driven(loudness_settings: LoudnessSettings, found=STEP_UP, rate=100.0):
    counts = np.ones(len(found), np.bool_)
    return steer(found, counts, LIMITS, loudness_settings, Frames(round(len(found) * rate / 100), rate))


def gated(loudness_settings: LoudnessSettings, found=STEP_UP) -> np.ndarray:
    return driven(loudness_settings, found).gated


def syllables(consonant_db=6.0, consonant=0.06, vowel=0.14, count=8) -> np.ndarray:
    """Levels of vowels with consonants between, a bit lower; silence around."""
    one = [*[-20.0] * round(vowel * 100), *[-20.0 - consonant_db] * round(consonant * 100)]
    return np.array([*[-80.0] * 50, *one * count, *[-80.0] * 50], np.float32)


def test_between_floor_and_ceiling_it_goes_from_0_to_1():
    found = driven(SETTINGS, np.linspace(-80, 0, 81).astype(np.float32))
    assert found.raw.values[30] == 0
    assert found.raw.values[50] == pytest.approx(0.5)
    assert found.raw.values[75] == 1
    assert np.array_equal(found.raw.values, found.mapped.values)


def test_on_the_scale_of_the_wave_half_the_loudest_is_one_half():
    loudest = np.float32([-80, -26.0206, -20])
    limits = limits_of(loudest, Scale.LOUDEST)
    assert share_of(loudest, limits, Scale.LOUDEST).tolist() == pytest.approx([0.001, 0.5, 1.0], abs=1e-3)
    limits = limits_of(loudest, Scale.FULL)
    assert share_of(loudest, limits, Scale.FULL).tolist() == pytest.approx([0.0001, 0.05, 0.1], abs=1e-3)


def test_attack_and_release_take_their_time_and_smoothing_comes_no_later():
    slow = gated(replace(SETTINGS, attack=0.1, release=0.3))
    assert 0.6 < slow[110] / 0.75 < 0.7, "63 % of the way after its time"
    assert 0.3 < slow[230] / slow[199] < 0.4
    smooth = gated(replace(SETTINGS, smoothing=0.05, threshold=0.0))
    assert np.allclose(smooth, smooth[::-1], atol=1e-5)


def test_one_threshold_opens_and_closes_until_there_is_a_second_one():
    wobble = np.tile(np.float32([-42, -46]), 50)  # 0.2 and 0.1 of the range
    assert gated(replace(SETTINGS, threshold=0.15, closes_below=0.05), wobble)[5:].all()
    assert not gated(replace(SETTINGS, threshold=0.25), wobble).any()
    assert (gated(replace(SETTINGS, threshold=0.15), wobble) > 0)[2:].tolist() == [True, False] * 49
    thirds = np.repeat(np.float32([-46, -38, -22]), 100)  # 0.1, 0.3, 0.7
    assert [np.count_nonzero(gated(replace(SETTINGS, threshold=t), thirds)) for t in (0.05, 0.2, 0.5, 0.8)] == [
        300, 200, 100, 0,
    ]  # fmt: skip


def test_a_mouth_closes_between_syllables_at_any_frame_rate_and_only_as_far_as_it_is_asked_to():
    for rate in (12.0, 24.0, 25.0, 30.0, 60.0):
        found = driven(DEFAULT_LOUDNESS, syllables(), rate)
        peaks, dips = found.jaw.max(), np.count_nonzero(turns_down_to(found.jaw, 0.75 * found.jaw.max()))
        assert dips >= 7, rate
        assert peaks > 0.5, rate
    level = driven(SETTINGS, syllables(), 24.0)
    assert level.mapped_frames[20:50].min() == pytest.approx(0.6, abs=0.01), "-26 dB between -50 and -10"
    half = driven(LoudnessSettings(syllables=0.5), syllables(), 24.0)
    assert level.jaw[20:50].min() > half.jaw[20:50].min() > driven(DEFAULT_LOUDNESS, syllables(), 24.0).jaw[20:50].min()


def turns_down_to(curve, level):
    return (curve[1:-1] <= level) & (curve[1:-1] <= curve[:-2]) & (curve[1:-1] < curve[2:])


def test_a_jaw_is_no_faster_than_a_jaw():
    for rate in (60.0, 100.0):
        speed = np.abs(np.diff(driven(SETTINGS, rate=rate).jaw)).max() * rate
        assert speed <= 0.75 * 1.875 / 0.12 + 0.01, "a minimum-jerk movement in 120 ms"
    assert driven(SETTINGS).jaw[:90].max() == 0
    assert driven(SETTINGS).jaw[150] == pytest.approx(0.75)


@pytest.mark.parametrize("rate", [8.0, 23.976, 30.0, 60.0])
def test_the_loudest_reaches_what_is_asked_at_any_frame_rate(rate):
    short = np.full(400, -80, np.float32)
    short[120:124], short[300:303] = -14.0, -25.0
    found = driven(LoudnessSettings(peak=0.8), short, rate)
    assert (found.gated.max(), found.jaw.max()) == (pytest.approx(0.8), pytest.approx(0.8))
    assert found.gated[round(3.0 * rate) :].max() > 0.2


def test_the_loudest_is_the_loudest_of_what_counts():
    slam = np.repeat(np.float32([-80, -11, -80, -30, -80]), 100)
    counts = np.arange(500) > 250
    found = steer(slam, counts, LIMITS, LoudnessSettings(peak=1.0), Frames(120, 24.0))
    assert not found.gated[:60].any()
    assert (found.gated.max(), found.jaw.max()) == (1.0, 1.0)


def test_the_response_bends_and_the_loudest_reaches_what_is_asked():
    half = np.full(10, -30, np.float32)
    assert gated(replace(SETTINGS, response=2.0), half)[5] == pytest.approx(0.25)
    assert gated(replace(SETTINGS, response=0.5), half)[5] == pytest.approx(0.5**0.5)
    assert gated(replace(SETTINGS, peak=0.8)).max() == pytest.approx(0.8)
    assert gated(replace(SETTINGS, peak=0.0)).max() == 0
    assert not gated(replace(SETTINGS, peak=0.8), np.full(10, -90, np.float32)).any()


def test_nothing_but_noise_of_the_recorder_opens_nothing():
    for scale in (Scale.EAR, Scale.LOUDEST, Scale.FULL):
        noise = -80 + np.random.default_rng(0).normal(0, 1, 500).astype(np.float32)
        settings = LoudnessSettings(scale=scale)
        assert not steer(
            noise, np.ones(500, np.bool_), limits_of(noise, scale), settings, Frames(120, 24.0)
        ).gated.any(), scale


def test_floor_and_ceiling_are_as_they_are_said_and_never_the_wrong_way_round():
    found = np.array([-60.0] * 50 + [-20.0] * 50, np.float32)
    by_itself = automatic_range(found)
    assert range_of(limits_of(found, Scale.EAR), DEFAULT_LOUDNESS) == by_itself
    said = range_of(by_itself, LoudnessSettings(floor=-33.0))
    assert (said.floor, said.ceiling) == (-33.0, by_itself.ceiling)
    crossed = range_of(by_itself, LoudnessSettings(floor=-5.0, ceiling=-40.0))
    assert crossed.ceiling > crossed.floor


@pytest.mark.parametrize(("settings", "heard", "not_heard"), [
    (LoudnessSettings(band=Band.VOICE), 400.0, 7000.0), (LoudnessSettings(band=Band.UPPER), 6000.0, 300.0),
    (LoudnessSettings(band=Band.TYPED, lowest=900.0, highest=2000.0), 1400.0, 300.0),
])  # fmt: skip
def test_a_part_of_the_sound_is_listened_to_alone(settings, heard, not_heard):
    rate = 32000
    t = np.arange(rate) / rate
    both = [
        Recording((0.5 * np.sin(2 * np.pi * hertz * t)).astype(np.float32)[:, None], rate, "tone")
        for hertz in (heard, not_heard)
    ]
    at = np.array([0.5])
    plain, loud, soft = (
        float(levels(peaks, at)[0])
        for peaks in (build_peaks(both[0]), peaks_of(both[0], settings.edges), peaks_of(both[1], settings.edges))
    )
    assert loud == pytest.approx(plain, abs=1.5)
    assert soft < plain - 20


def test_a_part_of_a_sound_that_is_read_in_place_is_as_loud_as_of_one_in_memory(tmp_path):
    rate, t = 32000, np.arange(64000) / 32000
    path = tmp_path / "tone.wav"
    soundfile.write(path, 0.5 * np.sin(2 * np.pi * 500 * t), rate, "PCM_16")
    in_place = read_recording(path)
    in_memory = Recording((0.5 * np.sin(2 * np.pi * 500 * t)).astype(np.float32)[:, None], rate, "tone")
    found = [float(levels(peaks_of(each, (120.0, 3500.0)), np.array([1.0]))[0]) for each in (in_place, in_memory)]
    assert found[0] == pytest.approx(found[1], abs=0.1)


@pytest.mark.parametrize("told", [
    {"attack": -1.0}, {"smoothing": 9.0}, {"floor": 5.0}, {"threshold": 0.1, "closes_below": 0.2},
    {"closes_below": 0.5}, {"lowest": 900.0, "highest": 800.0},
    {"response": 0.0}, {"peak": 2.0}, {"channel": 99}, {"release": float("nan")},
])  # fmt: skip
def test_what_cannot_be_is_told(told):
    with pytest.raises(ChannelError):
        require_valid_loudness(replace(DEFAULT_LOUDNESS, **told))
