"""An hour of dialogue in one piece: time, memory, and whether its words are where each line has them alone. It takes a while.

The recordings are those of the `align` benchmark, one after the other, again and again.
"""

import resource
import time

import numpy as np

from benchmarks.align import MINUTE, joined, spoken_lines
from benchmarks.report import bar
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.recording import Recording
from buccaphon.speech.script import script_words

HOUR = 3600.0


def run() -> None:
    lines = spoken_lines()
    alone = [(word_starts(*line), line[0].duration) for line in lines]
    minute, _ = worked_on(*joined(lines, MINUTE))
    recording, text = joined(lines, HOUR)
    before = peak_memory()
    hour, starts = worked_on(recording, text)
    bar("hour.time_to_sixty_minutes", hour / (60 * minute), "ratio", 1.5)
    bar("hour.memory_besides_sound", peak_memory() - before, "MB", 1000)
    expected, at = [], 0.0
    while at < HOUR:
        words, lasts = alone[len(expected) % len(alone)]
        expected.append(words + at)
        at += lasts
    apart = np.abs(starts - np.concatenate(expected))
    bar("hour.words_as_alone", float((apart < 0.0417).mean()), "share", 0.99, at_least=True)


def worked_on(recording: Recording, text: str) -> tuple[float, np.ndarray]:
    began = time.perf_counter()
    starts = word_starts(recording, text)
    return time.perf_counter() - began, starts


def word_starts(recording: Recording, text: str) -> np.ndarray:
    return np.array([word.start for word in align(AlignmentRequest(recording, script_words(text))).words])


def peak_memory() -> float:
    """Megabytes."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
