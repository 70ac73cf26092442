"""Makes the demo's second take of the stall call from the first: the same voice, slower and louder, phrase by phrase.

python tools/second_take.py
"""

from itertools import pairwise

import numpy as np
import soundfile

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.stretch import Stretcher
from buccaphon.demo.line import STALL_CALL, STALL_CALL_AGAIN, recording_path, script_text
from buccaphon.speech.script import script_words

SPEEDS = (0.80, 0.88, 0.74, 0.92, 0.83)  # of the phrases, over and over
PAUSE, LONGER = 0.18, 0.35  # seconds: from which on a pause parts phrases, and what is added to it
LOUDER = 3.0


def main() -> None:
    line = read_recording(recording_path(STALL_CALL))
    score = align(AlignmentRequest(line, script_words(script_text(STALL_CALL))))
    cuts = [0.0]
    for before, after in pairwise(score.words):
        if after.start - before.end >= PAUSE:
            cuts.append((before.end + after.start) / 2)
    cuts.append(line.duration)
    parts = []
    for number, (start, end) in enumerate(pairwise(cuts)):
        first, last = round(start * line.rate), round(end * line.rate)
        stretcher = Stretcher(line.samples, line.rate, first, last, SPEEDS[number % len(SPEEDS)])
        while len(block := stretcher.read(4096)):
            parts.append(block[:, 0])
        parts.append(np.zeros(round(LONGER * line.rate), np.float32))
    loud = np.concatenate(parts[:-1])
    loud = np.tanh(LOUDER * loud) / np.tanh(LOUDER)  # as a voice that is raised: the soft parts come up most
    soundfile.write(recording_path(STALL_CALL_AGAIN), 0.95 * loud / np.abs(loud).max(), line.rate)


if __name__ == "__main__":
    main()
