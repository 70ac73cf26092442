"""The aligner against the library's own two-pass align, on the same recordings in one run.

The recordings are the test data that ships, or a folder named by BUCCAPHON_SPEECH (name.flac, name.txt,
name.phones.csv). For the time, they are joined to about a minute of speech; both start from nothing loaded.
"""

import csv
import difflib
import os
import subprocess
import sys
import tempfile
import time
from itertools import pairwise
from pathlib import Path

import numpy as np
import soundfile

from benchmarks.library import decoder_for, two_passes
from benchmarks.report import bar
from buccaphon.alignment.again import realign
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.speech.lexicon import pronunciations
from buccaphon.speech.phones import arpabet_of
from buccaphon.speech.script import script_words

FOLDER = Path(os.environ.get("BUCCAPHON_SPEECH", Path(__file__).parents[1] / "tests" / "data"))
MINUTE = 60.0
Onsets = list[tuple[str, float]]


def run() -> None:
    lines = spoken_lines()
    truths = [reference(path) for path in sorted(FOLDER.glob("*.phones.csv"))]
    ours = errors([align_ours(recording, text) for recording, text in lines], truths)
    theirs = errors([align_library(recording, text) for recording, text in lines], truths)
    bar("align.mean_error", 1000 * np.abs(ours).mean(), "ms", 8.5)
    bar("align.within_20ms", float((np.abs(ours) < 0.020).mean()), "share", 0.92, at_least=True)
    bar("align.within_frame", float((np.abs(ours) < 0.0417).mean()), "share", 0.988, at_least=True)
    bar("align.found", len(ours) / sum(map(len, truths)), "share", 0.98, at_least=True)
    sure, ends = looked_at(lines)
    bar(
        "align.confident_within_frame",
        float((sure[sure[:, 0] >= 0.9, 1] < 0.0417).mean()),
        "share",
        0.95,
        at_least=True,
    )
    bar("align.word_ends_within_frame", float((ends < 0.0417).mean()), "share", 0.95, at_least=True)
    bar("align.one_word_again", 1000 * float(np.median(again(*lines[0]))), "ms", 50)
    bar("align.one_line_again", 1000 * float(np.median(lines_again(*joined(lines, MINUTE)))), "ms", 50)
    found = len(theirs) / sum(map(len, truths))
    print(f"# the library's own: found {found:.3f}, mean {1000 * np.abs(theirs).mean():.1f} ms,", end=" ")
    print(f"within 20 ms {(np.abs(theirs) < 0.020).mean():.3f}, within a frame {(np.abs(theirs) < 0.0417).mean():.3f}")
    recording, text = joined(lines, MINUTE)
    from_cold()
    ours_took, theirs_took = timed(align_ours, recording, text), timed(align_library, recording, text)
    bar("align.time_to_library", ours_took / theirs_took, "ratio", 0.6)
    print(f"# from the shell, the start of Python and the written file with it: {processes(recording, text):.3f}")


def processes(recording: Recording, text: str) -> float:
    """The time that our command takes, from the shell to the written file, by that of a script as short as the library's can
    be: the best of three each, in turn."""
    with tempfile.TemporaryDirectory() as folder:
        sound, said = Path(folder) / "minute.flac", Path(folder) / "minute.txt"
        soundfile.write(sound, recording.mono, recording.rate)
        said.write_text(text, "utf-8")
        out = str(Path(folder) / "minute.json")
        ours = [sys.executable, "-m", "buccaphon", "align", str(sound), "--script", str(said), "-o", out]
        theirs = [sys.executable, "-m", "benchmarks.library", str(sound), str(said)]
        took: dict[bool, list[float]] = {True: [], False: []}
        for turn in range(6):
            start = time.perf_counter()
            subprocess.run(ours if turn % 2 else theirs, check=True, capture_output=True)
            took[bool(turn % 2)].append(time.perf_counter() - start)
    return min(took[True]) / min(took[False])


def spoken_lines() -> list[tuple[Recording, str]]:
    return [
        (read_recording(path), path.with_suffix(".txt").read_text("utf-8")) for path in sorted(FOLDER.glob("*.flac"))
    ]


def from_cold() -> None:
    """Forget all models and dictionaries that were loaded."""
    for name, module in list(sys.modules.items()):
        if name.startswith(("buccaphon.alignment", "buccaphon.speech")):
            for part in list(vars(module).values()):
                if hasattr(part, "cache_clear"):
                    part.cache_clear()


def looked_at(lines: list[tuple[Recording, str]]) -> tuple[np.ndarray, np.ndarray]:
    """(phones, 2) confidence and size of the error of each onset; (words,) sizes of the errors of the words' ends."""
    sure, ends = [], []
    for path, (recording, text) in zip(sorted(FOLDER.glob("*.phones.csv")), lines, strict=True):
        with path.open(newline="") as rows:
            truth = [row for row in csv.DictReader(rows) if row["phone"]]
        score = align(AlignmentRequest(recording, script_words(text)))
        found = [(phone, word.phones[-1] is phone) for word in score.words for phone in word.phones]
        names = [arpabet_of(phone.symbol) for phone, _ in found], [row["phone"].rstrip("012") for row in truth]
        for i, j, n in difflib.SequenceMatcher(None, *names, autojunk=False).get_matching_blocks():
            for (phone, is_last), row in zip(found[i : i + n], truth[j : j + n], strict=True):
                sure.append((phone.confidence, abs(phone.start - float(row["start_s"]))))
                if is_last:
                    ends.append(abs(phone.end - float(row["end_s"])))
    return np.array(sure), np.array(ends)


def again(recording: Recording, text: str) -> list[float]:
    """Seconds that aligning each word of a line again takes."""
    request = AlignmentRequest(recording, script_words(text))
    score = align(request)
    return [timed(realign, request, score, number, number + 1) for number in range(len(score.words))]


def lines_again(recording: Recording, text: str) -> list[float]:
    """Seconds that aligning each line of a script again takes."""
    request = AlignmentRequest(recording, script_words(text))
    score = align(request)
    ends = np.cumsum([len(script_words(line)) for line in text.splitlines()]).tolist()
    return [timed(realign, request, score, first, end) for first, end in pairwise([0, *ends])]


def joined(lines: list[tuple[Recording, str]], lasting: float) -> tuple[Recording, str]:
    """The lines one after the other, again and again, until they last so many seconds."""
    samples, texts, seconds = [], [], 0.0
    while seconds < lasting:
        recording, text = lines[len(texts) % len(lines)]
        samples.append(recording.mono.astype(np.float32))
        texts.append(text)
        seconds += recording.duration
    return Recording(np.concatenate(samples)[:, None], lines[0][0].rate, "lines"), "\n".join(texts)


def timed(work, *arguments) -> float:
    start = time.perf_counter()
    work(*arguments)
    return time.perf_counter() - start


def align_ours(recording: Recording, text: str) -> Onsets:
    score = align(AlignmentRequest(recording, script_words(text)))
    return [(arpabet_of(phone.symbol), phone.start) for phone in score.phones()]


def align_library(recording: Recording, text: str) -> Onsets:
    """Nothing where it fails."""
    decoder, words = decoder_for(recording.rate), []
    for word in script_words(text):
        name = word.bare.lower()
        words.append(name)
        if decoder.lookup_word(name) is None:
            sounds = " ".join(arpabet_of(sound) for sound in pronunciations(word.bare)[0].sounds)
            decoder.add_word(name, sounds, True)
    try:
        found = two_passes(decoder, recording.mono, words)
    except (RuntimeError, AttributeError, TypeError):
        return []
    return [(name, start) for name, start in found if name not in ("SIL", "+NSN+", "+SPN+")]


def reference(path: Path) -> Onsets:
    with path.open(newline="") as rows:
        return [(row["phone"], float(row["start_s"])) for row in csv.DictReader(rows) if row["phone"]]


def errors(found: list[Onsets], truths: list[Onsets]) -> np.ndarray:
    """Onset errors in seconds of all phones that both have."""
    gathered = []
    for guess, truth in zip(found, truths, strict=True):
        matcher = difflib.SequenceMatcher(
            None, [name for name, _ in guess], [name for name, _ in truth], autojunk=False
        )
        for i, j, n in matcher.get_matching_blocks():
            gathered += [guess[i + k][1] - truth[j + k][1] for k in range(n)]
    return np.array(gathered)
