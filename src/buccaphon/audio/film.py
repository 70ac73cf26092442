"""The picture of a film that came as a take: one frame at a moment, forwards quickly, anywhere by seeking."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from buccaphon.audio.reading import for_ffmpeg

Picture = npt.NDArray[np.uint8]

_AHEAD = 2.0  # seconds; further on than this, seeking beats decoding everything between


class Film:
    """An open film. Not to be used from two threads at once."""

    def __init__(self, path: Path, width: int) -> None:
        """width: pictures are made this wide, in pixels. Raises OSError or ValueError when there is no picture in it."""
        import av  # noqa: PLC0415  (half a second, only for films)

        self._container: Any = av.open(for_ffmpeg(path))
        if not self._container.streams.video:
            self._container.close()
            raise ValueError(f"{path} has no picture")
        self._stream = self._container.streams.video[0]
        self._stream.thread_type = "AUTO"
        self._width = width
        self._frames: Any = None
        self._now: Any = None  # the frame that is on show
        self._next: Any = None  # the one after it

    def picture_at(self, seconds: float) -> Picture | None:
        """(height, width, 3) RGB of the frame that is on show at a moment; None before the first and in broken films."""
        at = None if self._now is None else float(self._now.time)
        if at is None or seconds < at or seconds > at + _AHEAD:
            self._seek(seconds)
        while self._next is not None and float(self._next.time) <= seconds + 1e-6:
            self._now, self._next = self._next, next(self._frames, None)
        if self._now is None or float(self._now.time) > seconds + 1e-6:
            return None
        height = round(self._width * self._now.height / self._now.width / 2) * 2
        shown: Picture = self._now.reformat(width=self._width, height=height, format="rgb24").to_ndarray()
        return shown

    def _seek(self, seconds: float) -> None:
        tick = float(self._stream.time_base or 1)
        self._container.seek(max(round((seconds - 0.01) / tick), 0), stream=self._stream)
        self._frames = self._container.decode(self._stream)
        self._now = next(self._frames, None)
        self._next = next(self._frames, None)

    def close(self) -> None:
        self._container.close()


def has_picture(path: Path) -> bool:
    """Whether a file is a film with a picture that can be shown."""
    try:
        Film(path, 16).close()
    except (OSError, ValueError):
        return False
    return True
