import numpy as np
import pytest

from buccaphon.alignment.boundary_net import STEP
from buccaphon.alignment.closures import LONGEST, bounded


def silence_then_burst(burst: float) -> np.ndarray:
    """Log energies of 0.6 s that are loud from a moment on."""
    mel = np.full((round(0.6 / STEP), 25), -2.0, np.float32)
    mel[round(burst / STEP) :] = 1.0
    return mel


def onset(symbols: list[str], onsets: list[float], burst: float, *, begins: bool = False) -> list[float]:
    return bounded(symbols, np.array(onsets), 0.6, silence_then_burst(burst), begins=begins).tolist()


def test_a_stop_stretched_over_the_silence_before_it_is_held_as_long_as_usual():
    start, stop, vowel = onset(["", "p", "a"], [0.0, 0.1, 0.4], 0.37)
    assert (start, vowel) == (0.0, 0.4)
    assert stop == pytest.approx(0.37 - 0.065, abs=0.006)


def test_a_recording_that_begins_with_a_stop_does_not_begin_with_its_closure():
    assert onset(["k", "a"], [0.0, 0.3], 0.28, begins=True)[0] == pytest.approx(0.215, abs=0.006)
    assert onset(["k", "a"], [0.0, 0.3], 0.28) == [0.0, 0.3], "in the midst of speech nothing is known of a pause"


@pytest.mark.parametrize("symbols", [["", "s", "a"], ["a", "p", "a"], ["", "", "a"]])
def test_nothing_but_a_stop_after_a_pause_is_moved(symbols):
    assert onset(symbols, [0.0, 0.1, 0.4], 0.37) == [0.0, 0.1, 0.4]


def test_a_closure_within_bounds_and_a_long_breath_after_it_stay():
    assert onset(["", "p", "a"], [0.0, 0.1, 0.5], 0.1 + LONGEST - 0.02) == [0.0, 0.1, 0.5]


def test_a_stop_that_begins_a_little_before_the_first_frame_is_looked_at_from_there_on():
    assert onset(["p", "a"], [-0.02, 0.3], 0.28, begins=True)[0] == pytest.approx(0.215, abs=0.006)
