"""Motion: how well a jaw that follows loudness alone tells words from a noisy room, how long it listens for that, and how
quick all of it is under the hand."""

import csv
from pathlib import Path

import numpy as np

from benchmarks import moving
from benchmarks.report import bar, best
from buccaphon.alignment.speaking import spoken_in
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.demo.line import recording_path
from buccaphon.project.derived import Derived
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate

_LINES = Path(__file__).parents[1] / "tests" / "data"
_VOWELS = {"AA", "AE", "AH", "AO", "AW", "AX", "AY", "EH", "ER", "EY", "IH", "IY", "OW", "OY", "UH", "UW"}
_AROUND = 1.0  # seconds of the room before and after a line
_BELOW = 10.0  # dB from the speech down to the noise
_FPS = 24
_OPEN = 0.02


def run() -> None:
    shut, opened = zip(*(in_noise(name) for name in ("slt07", "awb00")), strict=True)
    bar("motion.noise_open_in_pauses", float(np.concatenate(shut).mean()), "share", 0.03)
    bar("motion.noise_open_in_vowels", float(np.concatenate(opened).mean()), "share", 0.95, at_least=True)
    line = read_recording(recording_path())
    minute = Recording(np.resize(line.mono, 60 * line.rate)[:, None], line.rate, "a minute")
    bar("motion.listen_to_a_minute", best(lambda: spoken_in(minute), 3), "s", 1.0)
    moving.run()


def in_noise(name: str) -> tuple[np.ndarray, np.ndarray]:
    """For the frames before and after a line, and for those within its vowels: whether the jaw is open."""
    line = read_recording(_LINES / f"{name}.flac")
    voice = np.pad(line.mono, round(_AROUND * line.rate))
    loud = np.sqrt(np.mean(line.mono**2))
    noisy = voice + loud * 10 ** (-_BELOW / 20) * pink(len(voice))
    recording = Recording(noisy.astype(np.float32)[:, None], line.rate, name)
    derived = Derived(recording, build_peaks(recording))
    derived.take_spoken(spoken_in(recording))
    jaw = derived.bake(one_line((Take(_LINES / f"{name}.flac"),), rate=FrameRate.parse(str(_FPS)))).jaw
    middles = (np.arange(len(jaw)) + 0.5) / _FPS
    outside = (middles < _AROUND - 0.05) | (middles > recording.duration - _AROUND + 0.05)
    with (_LINES / f"{name}.phones.csv").open(newline="") as rows:
        sounds = [
            (row["phone"].strip("012").upper(), float(row["start_s"]), float(row["end_s"]))
            for row in csv.DictReader(rows)
        ]
    inside = np.zeros(len(jaw), np.bool_)
    for sound, start, end in sounds:
        if sound in _VOWELS:
            inside |= (middles > start + _AROUND + 0.02) & (middles < end + _AROUND - 0.02)
    return jaw[outside] > _OPEN, jaw[inside] > _OPEN


def pink(count: int) -> np.ndarray:
    """Noise whose power falls by 3 dB an octave, of RMS 1."""
    spectrum = np.fft.rfft(np.random.default_rng(0).standard_normal(count))
    noise = np.fft.irfft(spectrum / np.sqrt(np.maximum(np.arange(len(spectrum)), 1)), count)
    return np.asarray(noise / np.sqrt(np.mean(noise**2)))
