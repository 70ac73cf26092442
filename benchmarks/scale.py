"""A hundred thousand lines whose work is no more than a short sleep, on the distributed engine: what a row costs beside its
work, the ledger, the report, and a scheduler that is killed in the middle. docs/scale.md has what follows for a million."""

from __future__ import annotations

import os
import tempfile
import time
from pathlib import Path

from tests.helpers.cluster import Cluster

from benchmarks.recording import resident
from benchmarks.report import bar
from buccaphon.batch.ledger import NAME, Ledger
from buccaphon.batch.line import Job, Outcome, stamp_of
from buccaphon.batch.manifest import Row
from buccaphon.batch.report import pages_of
from buccaphon.batch.running import Workers
from buccaphon.batch.running import run as run_batch
from buccaphon.formats.listing import Entry, ExportList

ROWS = int(os.environ.get("BUCCAPHON_ROWS", "100000"))
_SLEEP, _CORES = 0.0005, 2  # seconds of a line's work
_LIST = ExportList((Entry("keys-csv"),))


def sleep(job: Job) -> Outcome:
    """In the place of a line's work."""
    time.sleep(_SLEEP)
    return Outcome(stamp_of(job), job.row.title, str(job.row.recording), words=8, seconds=3.0, stamp=stamp_of(job))


def run() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        jobs = rows_in(folder)
        the_ledger(folder, jobs)
        through_a_cluster(folder, jobs)


def rows_in(folder: Path) -> list[Job]:
    (folder / "line.wav").write_bytes(b"RIFF")
    return [Job(Row(n + 2, folder / "line.wav", "Plums", name=f"line {n}"), _LIST, folder / "out", has_scene=False)
            for n in range(ROWS)]  # fmt: skip


def the_ledger(folder: Path, jobs: list[Job]) -> None:
    outcomes = [Outcome(f"{n:064}", job.row.title, "line.wav", words=8, seconds=3.0, stamp=f"{n:064}")
                for n, job in enumerate(jobs)]  # fmt: skip
    place = folder / "ledger"
    place.mkdir()
    before, start = resident(), time.perf_counter()
    ledger = Ledger(place)
    for outcome in outcomes:
        ledger.put(outcome)
    ledger.close()
    again = Ledger(place)
    bar("scale.ledger_appended_and_read", time.perf_counter() - start, "s", 2.0 * ROWS / 100_000)
    bar("scale.ledger_bytes_a_row", (place / NAME).stat().st_size / ROWS, "bytes", 1000)
    bar("scale.ledger_memory_a_row", (resident() - before) * 1e6 / ROWS, "bytes", 4000)
    assert len(list(again.outcomes)) == ROWS
    start = time.perf_counter()
    pages = pages_of(outcomes, "season")
    bar("scale.report", time.perf_counter() - start, "s", 10.0 * ROWS / 100_000)
    assert len(pages) == -(-ROWS // 1000)


def through_a_cluster(folder: Path, jobs: list[Job]) -> None:
    """On two workers; the scheduler is killed once a third is done, and another one started in its place."""
    (folder / "out").mkdir()
    cluster, restarts = Cluster(_CORES), list[int]()

    def told(done: int, of: int, _outcome: Outcome) -> None:
        if done > of // 3 and not restarts:
            restarts.append(done)
            cluster.restart()

    try:
        few = jobs[: min(ROWS // 10, 10_000)]
        (folder / "few").mkdir()
        start = time.perf_counter()
        run_batch(few, Ledger(folder / "few"), Workers(address=cluster.address), lambda *_: None, sleep)
        alone = _SLEEP * len(few) / _CORES
        bar("scale.overhead_a_row", 1000 * (time.perf_counter() - start - alone) / len(few), "ms", 2.0)
        outcomes = run_batch(jobs, Ledger(folder / "out"), Workers(address=cluster.address), told, sleep)
    finally:
        cluster.stop()
    lost = ROWS - len({outcome.title for outcome in outcomes if not outcome.failed})
    bar("scale.lost_when_the_scheduler_died", lost, "rows", 0)
    bar("scale.ledger_after_it", ROWS - len({each.title for each in Ledger(folder / "out").outcomes}), "rows", 0)
