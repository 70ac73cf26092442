import numpy as np
import pytest

from buccaphon.audio.lufs import integrated_loudness
from buccaphon.audio.recording import Recording


def sine(hz: float, decibels: float, seconds: float, rate: int, channels: int = 1) -> Recording:
    wave = 10 ** (decibels / 20) * np.sin(2 * np.pi * hz * np.arange(round(seconds * rate)) / rate)
    return Recording(np.repeat(wave[:, None], channels, axis=1).astype(np.float32), rate, "sine")


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
def test_the_standards_reference_tone_reads_minus_three(rate):
    """BS.1770: 0 dB full scale at 997 Hz in one channel is -3.01 LKFS."""
    assert integrated_loudness(sine(997, 0, 3, rate)) == pytest.approx(-3.01, abs=0.05)


def test_two_channels_are_three_decibels_louder():
    mono, stereo = (integrated_loudness(sine(997, -20, 3, 48000, n)) for n in (1, 2))
    assert stereo - mono == pytest.approx(3.01, abs=0.02)


def test_silence_between_is_gated_out():
    """EBU Tech 3341, case 4 in kind: quiet parts do not pull the programme down."""
    loud, quiet = sine(997, -20, 20, 48000).samples, sine(997, -60, 20, 48000).samples
    whole = Recording(np.concatenate([quiet, loud, quiet]), 48000, "gated")
    assert integrated_loudness(whole) == pytest.approx(-23.0, abs=0.2)


def test_low_rumble_hardly_counts():
    assert integrated_loudness(sine(25, -10, 3, 48000)) < integrated_loudness(sine(997, -10, 3, 48000)) - 8


def test_silence_and_scraps_have_no_loudness():
    assert integrated_loudness(sine(997, -120, 3, 48000)) == float("-inf")
    assert integrated_loudness(sine(997, 0, 0.2, 48000)) == float("-inf")


def test_a_last_part_shorter_than_a_hop_is_no_trouble():
    rate = 16000
    tone = 0.1 * np.sin(2 * np.pi * 997 * np.arange(round(1.605 * rate)) / rate).astype(np.float32)
    assert integrated_loudness(Recording(tone[:, None], rate, "a tone")) == pytest.approx(-23.0, abs=0.2)
