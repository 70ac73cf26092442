"""Loudness alone: how often a mouth closes between two vowels, that it opens for them, stays shut in pauses, in noise and in
a room, and is no faster than a jaw."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path

import numpy as np

from benchmarks.report import bar
from buccaphon.alignment.speaking import spoken_in
from buccaphon.arrays import Bools, Doubles, Floats
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.motion.record import Bake, frame_middles
from buccaphon.numerics import scipy_part
from buccaphon.project.derived import Derived
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate

LINES = Path(__file__).parents[1] / "tests" / "data"
NAMES = ("awb00", "loudness/kal03", "loudness/rms05", "slt07")
VOWELS = {"AA", "AE", "AH", "AO", "AW", "AX", "AY", "EH", "ER", "EY", "IH", "IY", "OW", "OY", "UH", "UW"}
AROUND = 1.0  # seconds of the room before and after a line
_CONSONANT, _LONG = 0.05, 0.08  # seconds: of what lies between two vowels, and of a vowel that has to be seen
_FPS = 24
_OPEN, _DIP = 0.02, 0.75  # of the jaw; of the smaller peak
_FASTEST = 1.875 / 0.075  # a second: the quickest stroke of docs/motion.md, from shut to wide open


@dataclass(frozen=True)
class Sound:
    name: str
    start: float
    end: float


@dataclass(frozen=True)
class Line:
    """A line by loudness alone. sounds: with their times."""

    sounds: tuple[Sound, ...]
    bake: Bake

    @property
    def middles(self) -> Doubles:
        return frame_middles(0, self.bake.frames, self.bake.rate)


def run() -> None:
    for kind in ("clean", "pink", "room", "reverberation"):
        lines = [line_by_loudness(name, kind) for name in NAMES]
        pairs = np.concatenate([dips_between_vowels(line) for line in lines])
        bar(f"loudness.{kind}_closes_between_vowels", float(pairs.mean()), "share", 0.70, at_least=True)
        seen = np.concatenate([vowels_seen(line) for line in lines])
        bar(f"loudness.{kind}_vowels_with_an_open_mouth", float(seen.mean()), "share", 0.80, at_least=True)
        shut = np.concatenate([open_in_pauses(line) for line in lines])
        bar(f"loudness.{kind}_open_in_pauses", float(shut.mean()), "share", 0.03)
        speed = max(float(np.abs(np.diff(line.bake.jaw)).max()) * _FPS for line in lines)
        bar(f"loudness.{kind}_jaw_speed", speed, "per s", _FASTEST)


def line_by_loudness(name: str, kind: str) -> Line:
    path = LINES / f"{name}.flac"
    line = read_recording(path)
    heard = spoilt(np.pad(line.mono, round(AROUND * line.rate)).astype(np.float64), line.rate, kind)
    recording = Recording(heard.astype(np.float32)[:, None], line.rate, name)
    derived = Derived(recording, build_peaks(recording))
    derived.take_spoken(spoken_in(recording))
    state = one_line((Take(path),), rate=FrameRate.parse(str(_FPS)), chart="Flap")
    with (LINES / f"{name}.phones.csv").open(newline="") as rows:
        sounds = tuple(
            Sound(row["phone"].strip("012").upper(), float(row["start_s"]) + AROUND, float(row["end_s"]) + AROUND)
            for row in csv.DictReader(rows)
        )
    return Line(sounds, derived.bake(state))


def spoilt(voice: Doubles, rate: int, kind: str) -> Doubles:
    """With pink noise 10 dB below the voice, the low noise of a room 30 dB below it, or the echo of a room of .4 s."""
    signal, rng = scipy_part("signal"), np.random.default_rng(0)
    spoken = voice[round(AROUND * rate) : -round(AROUND * rate)]
    noise, below = np.zeros(len(voice)), 0.0
    if kind == "pink":
        spectrum = np.fft.rfft(rng.standard_normal(len(voice)))
        noise, below = np.fft.irfft(spectrum / np.sqrt(np.maximum(np.arange(len(spectrum)), 1)), len(voice)), 10.0
    elif kind == "room":
        low = signal.butter(1, 300, fs=rate, output="sos")
        noise, below = signal.sosfilt(low, rng.standard_normal(len(voice))), 30.0
    elif kind == "reverberation":
        long = round(0.4 * rate)
        tail = np.exp(-np.arange(long) / (0.0625 * rate)) * rng.standard_normal(long) * 0.05
        tail[0] = 1.0
        voice = signal.fftconvolve(voice, tail)[: len(voice)]
    power = np.mean(noise**2)
    found: Doubles = voice + (noise * np.sqrt(np.mean(spoken**2) / power / 10 ** (below / 10)) if power else 0.0)
    return found


def _neighbours(line: Line) -> Iterator[tuple[Sound, Sound]]:
    """Vowels that follow one another with a consonant between that is long enough to be seen, and no pause."""
    vowels = [number for number, sound in enumerate(line.sounds) if sound.name in VOWELS]
    for one, other in pairwise(vowels):
        between = line.sounds[one + 1 : other]
        if all(each.name for each in between) and any(each.end - each.start >= _CONSONANT for each in between):
            yield line.sounds[one], line.sounds[other]


def _peak(line: Line, vowel: Sound) -> int:
    """The frame of a vowel on which the jaw is widest."""
    inside = np.flatnonzero((line.middles >= vowel.start) & (line.middles < vowel.end))
    if not len(inside):
        inside = np.array([int((vowel.start + vowel.end) / 2 * _FPS)])
    return int(inside[line.bake.jaw[inside].argmax()])


def dips_between_vowels(line: Line) -> Bools:
    """For each pair of neighbouring vowels whether the jaw closes by a quarter of the smaller peak between them."""
    jaw, found = line.bake.jaw, []
    for one, other in _neighbours(line):
        first, last = _peak(line, one), _peak(line, other)
        smaller = min(jaw[first], jaw[last])
        found.append(bool(smaller > 0 and jaw[first : last + 1].min() <= _DIP * smaller))
    return np.array(found, np.bool_)


def vowels_seen(line: Line) -> Bools:
    """For each long vowel whether a held mouth that is open is shown in it."""
    shut = line.bake.chart.rest.name
    opened = [(each.start / _FPS, each.end / _FPS) for each in line.bake.exposures if each.mouth != shut]
    long = [sound for sound in line.sounds if sound.name in VOWELS and sound.end - sound.start > _LONG]
    return np.array([any(a < sound.end and b > sound.start for a, b in opened) for sound in long], np.bool_)


def open_in_pauses(line: Line) -> Floats:
    """For each frame that is .05 s or more from any sound whether the jaw is open."""
    away = np.ones(line.bake.frames, np.bool_)
    for sound in line.sounds:
        if sound.name:
            away &= (line.middles < sound.start - 0.05) | (line.middles > sound.end + 0.05)
    return (line.bake.jaw[away] > _OPEN).astype(np.float32)
