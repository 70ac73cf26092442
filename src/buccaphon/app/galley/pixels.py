"""Waves and curves as whole pictures made from arrays: thousands of lines would take far longer to draw."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QImage, QPainter

from buccaphon.audio.peaks import Level

Pixels = npt.NDArray[np.uint32]
Values = npt.NDArray[np.float32]


def wave_pixels(columns: Level, middle: float, tall: float, half: float, inks: tuple[str, str]) -> Pixels:
    """Peaks and RMS of each column as a picture: thousands of lines would take far longer to draw."""
    low, high, rms = (np.clip(columns[:, i] * tall, -half, half) for i in range(3))
    there = high - low > 0.2
    top, bottom = middle - np.maximum(high, 0.5) * there, middle - np.minimum(low, -0.5) * there
    edges = (top, bottom, np.maximum(middle - rms, top), np.minimum(middle + rms, bottom))
    first, end, core_first, core_end = (np.round(edge).astype(np.uint16) for edge in edges)
    rows = np.arange(round(2 * middle), dtype=np.uint16)[:, None]  # small whole numbers compare several times faster
    outer, core = (rows >= first) & (rows < end), (rows >= core_first) & (rows < core_end)
    ink, core_ink = (np.uint32(QColor(name).rgba()) for name in inks)
    with np.errstate(over="ignore"):
        painted: Pixels = outer * ink + core * (
            core_ink - ink
        )  # core lies within outer; far quicker than looking colours up
    return painted


def curve_pixels(frame: npt.NDArray[np.float64], values: Values, height: int, line: str, under: str = "") -> Pixels:
    """A curve of one value 0..1 a frame as a picture, smooth at its edges, with what lies under it filled.

    frame: (width,) what frame each column lies on, in parts of one.
    """
    first = max(int(frame[0]), 0) if len(frame) else 0
    near = values[first : int(frame[-1]) + 2] if len(frame) else values
    heights = np.interp(frame - first, np.arange(len(near)), near) if len(near) else np.zeros(len(frame))
    y = ((height - 1.0) - (height - 6.0) * heights).astype(np.float32)
    steep = 1 / np.sqrt(1 + np.gradient(y) ** 2) if len(y) > 1 else np.ones_like(y)
    rows = np.arange(height, dtype=np.float32)[:, None] - y
    stroke = np.clip((1.2 - np.abs(rows + 0.5) * steep) * _SHADES, 0, _SHADES).astype(np.uint8)
    filled = np.clip((rows + 1) * _SHADES, 0, _SHADES).astype(np.uint8) if under else np.zeros_like(stroke)
    filled[height - 1 :] = 0
    shades: Pixels = np.take(_shades(line, under or line), stroke * np.uint8(_SHADES + 1) + filled, mode="clip")
    return shades


_SHADES = 15
_FORMAT = QImage.Format.Format_ARGB32_Premultiplied


@lru_cache(maxsize=16)
def _shades(line: str, under: str) -> Pixels:
    """(256,) premultiplied ARGB: so many sixteenths of the line's colour over so many of the other."""
    over, below = np.meshgrid(np.arange(_SHADES + 1) / _SHADES, np.arange(_SHADES + 1) / _SHADES, indexing="ij")
    below = below * (1 - over)
    ink, wash = QColor(line), QColor(under)
    parts = ((255, 255), *((getattr(ink, part)(), getattr(wash, part)()) for part in ("red", "green", "blue")))
    red_first = [np.round(over * a + below * b).astype(np.uint32) for a, b in parts]
    parts_in_place = [part << shift for part, shift in zip(red_first, (24, 16, 8, 0), strict=True)]
    whole: Pixels = np.bitwise_or.reduce(parts_in_place).astype(np.uint32).ravel()
    return whole


def draw_pixels(painter: QPainter, x: float, y: float, pixels: Pixels) -> None:
    """Put (height, width) premultiplied ARGB pixels into a picture."""
    height, width = pixels.shape
    if width and height:
        picture = QImage(pixels.data, width, height, 4 * width, _FORMAT)  # type: ignore[call-overload]  # the stubs lack it
        painter.drawImage(QPointF(x, y), picture)
