"""Waves and curves as pixels."""

import numpy as np
import pytest
from PyQt6.QtGui import QColor

from buccaphon.app.galley.pixels import curve_pixels, wave_pixels

INKS = ("#b3a4b8", "#76617f")


def alpha(pixels: np.ndarray) -> np.ndarray:
    return pixels >> 24


def test_a_wave_is_as_tall_as_its_peaks_with_a_core_as_tall_as_its_rms():
    columns = np.array([[-0.5, 1.0, 0.25], [0.0, 0.0, 0.0]], np.float32)
    pixels = wave_pixels(columns, 40.0, 40.0, 37.0, INKS)
    assert pixels.shape == (80, 2)
    loud = pixels[:, 0]
    assert np.flatnonzero(loud).tolist() == list(range(3, 60)), "from the highest sample down to the lowest"
    core = np.flatnonzero(loud == QColor(INKS[1]).rgba())
    assert (core[0], core[-1]) == (30, 49)
    assert set(np.unique(loud).tolist()) == {0, QColor(INKS[0]).rgba(), QColor(INKS[1]).rgba()}
    assert not pixels[:, 1].any(), "silence draws nothing"


def test_a_curve_is_drawn_where_its_values_are_and_filled_below():
    values = np.linspace(0, 1, 11).astype(np.float32)
    frame = np.linspace(0, 10, 200)
    pixels = curve_pixels(frame, values, 40, "#5d4768", "#e4dae3")
    assert pixels.shape == (40, 200)
    tops = [int(np.argmax(alpha(pixels)[:, x] > 128)) for x in (10, 100, 190)]
    expected = [39 - 34 * value for value in np.interp(frame[[10, 100, 190]], np.arange(11), values)]
    assert tops == pytest.approx(expected, abs=1.6)
    assert alpha(pixels)[36, 190] == 255, "filled under it"
    assert alpha(pixels)[2, 10] == 0, "nothing above it"
    alone = curve_pixels(frame, values, 40, "#5d4768")
    assert alpha(alone)[36, 190] == 0, "and only where it is asked for"


def test_a_curve_of_nothing_is_nothing():
    assert curve_pixels(np.zeros(0), np.zeros(0, np.float32), 30, "#000000").shape == (30, 0)
    flat = curve_pixels(np.arange(5.0), np.zeros(0, np.float32), 30, "#000000")
    assert flat.shape == (30, 5)
