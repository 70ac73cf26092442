"""On a cluster: a scheduler that is killed in the middle, and a line that kills its worker, lose nothing else."""

import os
import signal
import time

from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Job, Outcome, stamp_of
from buccaphon.batch.manifest import Row
from buccaphon.batch.running import Workers, do_lines, run
from buccaphon.formats.listing import Entry, ExportList
from tests.helpers.cluster import Cluster

KEYS = ExportList((Entry("keys-csv"),))


def sleep(job):
    """In the place of a line's work."""
    time.sleep(0.005)
    if "poison" in job.row.title:
        os.kill(os.getpid(), signal.SIGKILL)
    return Outcome(stamp_of(job), job.row.title, str(job.row.recording), stamp=stamp_of(job))


def jobs_in(folder, names):
    (folder / "line.wav").write_bytes(b"RIFF")
    rows = (Row(n + 2, folder / "line.wav", "Plums", name=name) for n, name in enumerate(names))
    return [Job(row, KEYS, folder, has_scene=False) for row in rows]


def test_a_scheduler_that_is_killed_in_the_middle_loses_nothing(tmp_path):
    jobs, cluster, restarted = jobs_in(tmp_path, [f"line {n}" for n in range(600)]), Cluster(), []

    def told(done, of, _outcome):
        if done > of // 3 and not restarted:
            restarted.append(done)
            cluster.restart()

    try:
        outcomes = run(jobs, Ledger(tmp_path), Workers(address=cluster.address), told, sleep)
    finally:
        cluster.stop()
    assert restarted
    assert [outcome.title for outcome in outcomes] == [job.row.title for job in jobs]
    assert not any(outcome.failed for outcome in outcomes)
    assert len(list(Ledger(tmp_path).outcomes)) == 600
    # once more, with no cluster at all: all of it is known by how old and long the files are
    again = run(jobs, Ledger(tmp_path), Workers(address="tcp://127.0.0.1:9"), lambda *_: None, sleep)
    assert again == outcomes


def test_some_lines_are_one_task_and_its_time_is_told(tmp_path):
    outcomes, seconds = do_lines(jobs_in(tmp_path, ["a", "b"]), sleep)
    assert [outcome.title for outcome in outcomes] == ["a", "b"]
    assert seconds >= 0.01


def test_a_line_that_kills_its_worker_is_the_only_one_that_fails(tmp_path):
    jobs, cluster = jobs_in(tmp_path, [f"line {n}" for n in range(40)] + ["poison", "last"]), Cluster()
    try:
        outcomes = run(jobs, Ledger(tmp_path), Workers(address=cluster.address), lambda *_: None, sleep)
    finally:
        cluster.stop()
    assert [outcome.title for outcome in outcomes if outcome.failed] == ["poison"]
    assert "died several times" in outcomes[-2].failed
