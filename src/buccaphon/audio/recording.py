"""A recording in memory, and reading one from a file."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

import numpy as np
import numpy.typing as npt

from buccaphon.errors import RecordingError

Samples = npt.NDArray[np.float32]

SUFFIXES = (".wav", ".flac", ".aiff", ".aif", ".ogg", ".oga", ".opus", ".mp3")
_SHORTEST = 0.05  # seconds; below that there is not even one speech sound
_SILENT = 1e-5  # peak, about -100 dBFS: dither, not a recording


@dataclass(frozen=True, eq=False)
class Recording:
    """Decoded sound.

    samples: (frames, channels) float32 in -1..1. rate: samples a second. name: what to call it in messages.
    """

    samples: Samples
    rate: int
    name: str

    @property
    def duration(self) -> float:
        """Length in seconds."""
        return float(self.samples.shape[0] / self.rate)

    @property
    def channels(self) -> int:
        return int(self.samples.shape[1])

    @cached_property
    def mono(self) -> Samples:
        """(frames,) float32: the mean of the channels."""
        mixed = self.samples[:, 0] if self.channels == 1 else self.samples.mean(axis=1, dtype=np.float32)
        return np.ascontiguousarray(mixed)

    @cached_property
    def peak(self) -> float:
        """The largest sample, 0..1."""
        return max(float(self.samples.max(initial=0.0)), -float(self.samples.min(initial=0.0)))

    @property
    def is_silent(self) -> bool:
        return self.peak < _SILENT


def read_recording(path: Path) -> Recording:
    """Decode a sound file completely.

    Raises RecordingError when the file is missing, unreadable, not sound, or shorter than 50 ms. Samples that are not
    numbers become silence.
    """
    import soundfile  # noqa: PLC0415  (loads libsndfile; not needed to show the first window)

    subject = str(path)
    if not path.exists():
        raise RecordingError(subject, "there is no such file", "Check the name and the folder")
    if path.is_dir():
        raise RecordingError(subject, "it is a folder, not a recording", "Name a sound file in it")
    try:
        if path.stat().st_size == 0:
            raise RecordingError(subject, "the file is empty (0 bytes)", "Ask for the recording again")
        samples, rate = soundfile.read(str(path), dtype="float32", always_2d=True)
    except PermissionError:
        raise RecordingError(subject, "you may not read it", "Change its permissions or copy it") from None
    except (soundfile.LibsndfileError, OSError) as problem:
        reason = f"it cannot be read as sound ({_plain(problem)})"
        raise RecordingError(subject, reason, "Use a WAV, FLAC, AIFF, OGG or MP3 file that plays elsewhere") from None
    if samples.shape[0] < _SHORTEST * rate:
        length = samples.shape[0] / rate
        raise RecordingError(subject, f"it holds only {length:.3f} s of sound", "The file may be cut off; get it again")
    return Recording(np.nan_to_num(samples, copy=False, nan=0.0, posinf=1.0, neginf=-1.0), int(rate), path.name)


def _plain(problem: Exception) -> str:
    text = str(problem).rstrip(".")
    return text.rsplit(": ", 1)[-1] or type(problem).__name__
