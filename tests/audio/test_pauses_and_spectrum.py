import numpy as np
import pytest

from buccaphon.audio.pauses import find_pauses
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.recording import Recording
from buccaphon.audio.spectrum import spectrogram
from buccaphon.timing import Span

RATE = 16000


def tone(hz: float, seconds: float, amplitude: float = 0.4) -> np.ndarray:
    return amplitude * np.sin(2 * np.pi * hz * np.arange(round(seconds * RATE)) / RATE)


def test_pauses_are_the_quiet_stretches_that_last():
    room = 0.001 * np.random.default_rng(0).standard_normal(RATE)
    wave = np.concatenate([tone(200, 1), room[: RATE // 2], tone(200, 1), room[: RATE // 10], tone(200, 1), room])
    pauses = find_pauses(build_peaks(Recording(wave[:, None].astype(np.float32), RATE, "x")))
    assert [(p.start, p.end) for p in pauses] == [
        (pytest.approx(1.0, abs=0.05), pytest.approx(1.5, abs=0.05)),
        (pytest.approx(3.6, abs=0.05), pytest.approx(4.6, abs=0.05)),
    ]


@pytest.mark.parametrize("hz", [500, 2000, 6000])
def test_a_tone_is_darkest_at_its_height(hz):
    recording = Recording(tone(hz, 1)[:, None].astype(np.float32), RATE, "x")
    picture = spectrogram(recording, Span(0.2, 0.8), 50, 81)
    assert picture.shape == (81, 50)
    assert 0 <= picture.min() <= picture.max() <= 1
    rows = picture.argmax(0)
    assert (1 - rows / 80) * 8000 == pytest.approx(np.full(50, hz), abs=150)


def test_the_rims_of_a_recording_can_be_shown():
    recording = Recording(tone(500, 0.3)[:, None].astype(np.float32), RATE, "x")
    assert np.isfinite(spectrogram(recording, Span(0.0, 0.3), 200, 20)).all()
