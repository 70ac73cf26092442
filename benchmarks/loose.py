"""Scripts that the actor did not keep to: edited scripts of recordings, and what is found of the edits.

The two recordings that come with the tests, or all of a folder named in BUCCAPHON_SPEECH (<name>.flac and <name>.txt).
"""

import os
import random
from pathlib import Path

import numpy as np

from benchmarks.report import bar
from buccaphon.alignment.aligner import align
from buccaphon.alignment.loose import Difference, Finding, compare
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.speech.script import script_words

_FOLDER = Path(os.environ.get("BUCCAPHON_SPEECH", str(Path(__file__).parents[1] / "tests" / "data")))
_OTHERS = ("marrow", "kettle", "spoon", "orchard", "yellow", "thimble", "bucket", "saddle")


def run() -> None:
    draw = random.Random(1)
    counts: dict[str, list[tuple[int, int, int]]] = {}  # found, to be found, false alarms
    for path in sorted(_FOLDER.glob("*.flac")):
        recording = read_recording(path)
        words = [word.text for word in script_words(path.with_suffix(".txt").read_text())]
        at = draw.randrange(1, len(words) - 1)
        other = draw.choice(_OTHERS)
        cases = {
            "unedited": (recording, words, ()),
            "dropped": (recording, words[:at] + words[at + 1 :], ((Difference.OTHER, at, at),)),
            "added": (recording, [*words[:at], other, *words[at:]], ((Difference.NOT_FOUND, at, at + 1),)),
            "swapped": (recording, [*words[:at], other, *words[at + 1 :]], ((Difference.NOT_FOUND, at, at + 1),)),
            "doubled": (said_twice(recording, words, at), words, ((Difference.AGAIN, at - 1, at + 1),)),
        }
        for name, (sound, script, wanted) in cases.items():
            found = compare(AlignmentRequest(sound, script_words(" ".join(script)))).findings
            hits = sum(any(matches(finding, want) for finding in found) for want in wanted)
            if name == "swapped":  # what was said instead is to be reported as well, and is no false alarm
                found = tuple(f for f in found if f.kind is not Difference.OTHER)
            counts.setdefault(name, []).append((hits, len(wanted), len(found) - hits))
    for name, rows in counts.items():
        hits, wanted, false = (sum(column) for column in zip(*rows, strict=True))
        if wanted:
            bar(f"loose.{name}_recall", hits / wanted, "share", 0.9, at_least=True)
            bar(f"loose.{name}_precision", hits / max(hits + false, 1), "share", 0.9, at_least=True)
        else:
            bar(f"loose.{name}_false_alarms", false / len(rows), "a line", 0.05)


def matches(finding: Finding, wanted: tuple[Difference, int, int]) -> bool:
    return (finding.kind, finding.first, finding.end) == wanted


def said_twice(recording: Recording, words: list[str], at: int) -> Recording:
    """With the word and the one before it said again after a breath."""
    score = align(AlignmentRequest(recording, script_words(" ".join(words))))
    start, end = (round(t * recording.rate) for t in (score.words[at - 1].start, score.words[at].end))
    breath = 1e-4 * np.random.default_rng(0).standard_normal(round(0.12 * recording.rate)).astype(np.float32)
    samples = np.concatenate([recording.mono[:end], breath, recording.mono[start:]])
    return Recording(samples[:, None], recording.rate, "twice")
