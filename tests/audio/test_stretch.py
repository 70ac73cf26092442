import numpy as np
import pytest

from buccaphon.audio.stretch import Stretcher

RATE = 16000
TONE = (0.5 * np.sin(2 * np.pi * 220 * np.arange(2 * RATE) / RATE)).astype(np.float32)[:, None]


def stretch(samples: np.ndarray, speed: float, block: int = 700) -> np.ndarray:
    made = Stretcher(samples, RATE, 0, len(samples), speed)
    blocks = []
    while len(piece := made.read(block)):
        blocks.append(piece)
    return np.concatenate(blocks)


def pitch(samples: np.ndarray) -> float:
    spectrum = np.abs(np.fft.rfft(samples[:, 0] * np.hanning(len(samples))))
    return float(spectrum.argmax() * RATE / len(samples))


@pytest.mark.parametrize("speed", [0.25, 0.5, 0.75, 1.5])
def test_the_length_changes_and_the_pitch_does_not(speed):
    slow = stretch(TONE, speed)
    assert len(slow) == pytest.approx(len(TONE) / speed, rel=0.02)
    assert pitch(slow) == pytest.approx(220, abs=1.5)


def test_a_steady_tone_stays_steady():
    slow = stretch(TONE, 0.5)[2000:-2000, 0]
    levels = np.sqrt((slow[: len(slow) // 400 * 400].reshape(-1, 400) ** 2).mean(1))
    assert levels.std() / levels.mean() < 0.05


def test_events_come_when_the_pace_says():
    click = np.zeros((2 * RATE, 1), np.float32)
    click[RATE : RATE + 20] = 0.9
    slow = stretch(click, 0.5)
    assert np.abs(slow[:, 0]).argmax() / RATE == pytest.approx(2.0, abs=0.03)


@pytest.mark.parametrize("speed", [0.25, 0.5, 0.75])
def test_slow_sound_stays_with_the_picture(speed):
    """Bursts of noise come where the pace says, neither early nor late on the whole: what a window shows is its middle."""
    rng = np.random.default_rng(3)
    starts = np.cumsum(rng.uniform(0.11, 0.19, 24))
    bursts = np.zeros((round(4.5 * RATE), 1), np.float32)
    for start in starts:
        at = round(start * RATE)
        bursts[at : at + 800, 0] = rng.normal(0, 0.3, 800).astype(np.float32)
    slow = np.abs(stretch(bursts, speed)[:, 0])
    level = np.convolve(slow, np.ones(80) / 80, "same")
    middles = [(start + 0.025) / speed for start in starts]
    heard = []
    for middle in middles:
        first = round((middle - 0.05 / speed) * RATE)
        part = level[first : first + round(0.1 / speed * RATE)] ** 2
        heard.append((first + (part * np.arange(len(part))).sum() / part.sum()) / RATE)
    off = speed * (np.array(heard) - middles)  # seconds of the recording
    assert abs(np.mean(off)) < 0.002
    assert np.abs(off).max() < 0.008


def test_blocks_of_any_size_give_the_same_sound():
    assert stretch(TONE, 0.5, 64) == pytest.approx(stretch(TONE, 0.5, 5000))


def test_absurd_speeds_are_refused():
    with pytest.raises(ValueError, match="between"):
        Stretcher(TONE, RATE, 0, 100, 0.0)
