"""Two thousand lines: two workers against one, memory, and a worker that is killed in the middle."""

import os
import signal
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import psutil
import soundfile

from benchmarks.report import bar
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Job
from buccaphon.batch.manifest import Row
from buccaphon.batch.running import Workers
from buccaphon.batch.running import run as run_batch
from buccaphon.demo.line import recording_path, script_text
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.speech.script import script_words

_LINES, _COMPARED = int(os.environ.get("BUCCAPHON_LINES", "2000")), 120
_LIST = ExportList((Entry("keys-json"), Entry("glb"), Entry("textgrid")))
_QUICK = 0.02  # of the lines are done before memory is looked at first


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        rows = lines(Path(folder), _LINES)
        taken: dict[int, list[float]] = {1: [], 2: []}
        for turn in range(2):  # one after the other, so that a slow minute of the machine is nobody's alone
            for count, found in taken.items():
                found.append(timed(rows[:_COMPARED], Path(folder) / f"{count} {turn}", Workers(count)))
        alone, both = (min(found) for found in taken.values())
        bar("batch.two_workers_against_one", alone / both, "times", 1.8, at_least=True)
        everything(rows, Path(folder) / "all")


def lines(folder: Path, count: int) -> list[Row]:
    """Words of the demo's line, each a recording of its own."""
    whole = read_recording(recording_path())
    score = align(AlignmentRequest(whole, script_words(script_text())))
    rows = []
    for number in range(count):
        first = number % (len(score.words) - 4)
        words = score.words[first : first + 4]
        start, end = max(words[0].start - 0.1, 0.0), min(words[-1].end + 0.1, whole.duration)
        part = whole.mono[round(start * whole.rate) : round(end * whole.rate)]
        path = folder / f"line_{number:04d}.wav"
        gain = 0.5 + number / (2 * count)  # so that each is another
        soundfile.write(path, (gain * part).astype(np.float32), whole.rate)
        rows.append(Row(number + 2, path, " ".join(word.text for word in words), rate="24"))
    return rows


def timed(rows: list[Row], out: Path, workers: Workers) -> float:
    """Seconds, but for starting the processes, which a batch of thousands does not notice."""
    out.mkdir()
    moments = []
    run_batch(
        [Job(row, _LIST, out) for row in rows], Ledger(out), workers, lambda *_: moments.append(time.perf_counter())
    )
    skipped = len(rows) // 10
    return (moments[-1] - moments[skipped]) / (len(rows) - skipped - 1)


def everything(rows: list[Row], out: Path) -> None:
    """All of them on two processes, one of which is killed on the way."""
    out.mkdir()
    sizes: list[float] = []
    killed: list[int] = []

    def told(done: int, of: int, _outcome: object) -> None:
        if done % max(of // 50, 1) == 0:
            workers = working()
            sizes.append(sum(each.memory_info().rss for each in (psutil.Process(), *workers)) / 1e6)
            if done > of // 2 and not killed and workers:
                killed.append(workers[-1].pid)
                os.kill(workers[-1].pid, signal.SIGKILL)

    start = time.perf_counter()
    outcomes = run_batch([Job(row, _LIST, out) for row in rows], Ledger(out), Workers(2), told)
    taken = time.perf_counter() - start
    print(f"{len(rows)} lines in {taken:.0f} s", file=sys.stderr)
    bar("batch.lost", sum(bool(outcome.failed) for outcome in outcomes), "lines", 0)
    bar(
        "batch.files_missing",
        3 * len(rows) - len([*out.glob("*.glb"), *out.glob("*.json"), *out.glob("*.TextGrid")]),
        "files",
        0,
    )
    begun = sizes[max(int(_QUICK * len(sizes)), 2) : len(sizes) // 2]
    bar("batch.memory_growth", max(sizes[len(sizes) // 2 - 3 : len(sizes) // 2]) - min(begun), "MB", 60)


def working() -> list[psutil.Process]:
    found = psutil.Process().children(recursive=True)
    return [process for process in found if "spawn_main" in " ".join(process.cmdline())]
