"""Running many lines: one after the other here, on several processes, or on a cluster (`dask.distributed`)."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, replace
from multiprocessing import get_context
from typing import Any

from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Job, Outcome, do_line, do_line_alone, key_of
from buccaphon.errors import TargetError
from buccaphon.texts import _

Told = Callable[[int, int, Outcome], None]
"""Is given how many are done, of how many, and what came of the last."""

_TRIES = 3  # for a line whose worker was killed


@dataclass(frozen=True, slots=True)
class Workers:
    """count: processes on this machine, each with one core; 0 works in this one, with its threads. address: of a cluster's
    scheduler instead."""

    count: int = 0
    address: str = ""


def run(jobs: Sequence[Job], ledger: Ledger, workers: Workers, told: Told) -> list[Outcome]:
    """What came of every line, in the order of the jobs; those that were done before are not done again."""
    found: dict[int, Outcome] = {}
    left: list[int] = []
    jobs = [replace(job, written=ledger.scene_digest(job.scene.name)) for job in jobs]
    for number, job in enumerate(jobs):
        before = ledger.done(key_of(job))
        if before is None:
            left.append(number)
        else:
            found[number] = before
            told(len(found), len(jobs), before)
    for number, outcome in _worked(jobs, left, workers):
        ledger.put(outcome)
        found[number] = outcome
        told(len(found), len(jobs), outcome)
    return [found[number] for number in range(len(jobs))]


def _worked(jobs: Sequence[Job], left: Sequence[int], workers: Workers) -> Iterator[tuple[int, Outcome]]:
    if not workers.count and not workers.address:
        for number in left:
            yield number, do_line(jobs[number])
    elif left and workers.address:
        yield from _on_cluster(jobs, left, workers.address)
    elif left:
        yield from _on_processes(jobs, left, workers.count)


def _on_processes(jobs: Sequence[Job], left: Sequence[int], count: int) -> Iterator[tuple[int, Outcome]]:
    """Each process is led by a thread of its own, so that it is known whose line one was at when it was ended."""
    mine, all_of_them = threading.local(), list[ProcessPoolExecutor]()

    def process() -> ProcessPoolExecutor:
        found: ProcessPoolExecutor | None = getattr(mine, "process", None)
        if found is None:
            found = mine.process = ProcessPoolExecutor(1, get_context("spawn"))
            all_of_them.append(found)
        return found

    def work(number: int) -> Outcome:
        for _rest in range(_TRIES):
            try:
                return process().submit(do_line_alone, jobs[number]).result()
            except BrokenProcessPool:
                mine.process = None
        return _lost(jobs[number], "BrokenProcessPool")

    with ThreadPoolExecutor(count) as leaders:
        try:
            futures = {leaders.submit(work, number): number for number in left}
            for future in as_completed(futures):
                yield futures[future], future.result()
        finally:
            leaders.shutdown(wait=False, cancel_futures=True)
            for each in all_of_them:
                each.shutdown(wait=False, cancel_futures=True)


def _on_cluster(jobs: Sequence[Job], left: Sequence[int], address: str) -> Iterator[tuple[int, Outcome]]:
    distributed = _distributed()
    try:
        client = distributed.Client(address, timeout="20s")
    except (OSError, ValueError, TimeoutError):
        remedy = _("Start one with `dask scheduler`, or leave --scheduler out")
        raise TargetError(address, _("no scheduler answers there"), remedy) from None
    with client:
        futures = {client.submit(do_line_alone, jobs[number], pure=False, retries=_TRIES): number for number in left}
        for future in distributed.as_completed(list(futures)):
            number = futures.pop(future)
            if future.status == "finished":
                yield number, future.result()
            else:
                yield number, _lost(jobs[number], type(future.exception()).__name__)
            future.release()


def _lost(job: Job, problem: str) -> Outcome:
    said = _("{name}: its worker process died several times ({reason})", name=job.row.recording.name, reason=problem)
    return Outcome(key_of(job), job.row.title, str(job.row.recording), failed=said)


def _distributed() -> Any:
    try:
        import distributed  # noqa: PLC0415  (an extra, and slow to import)
    except ImportError:
        raise TargetError(
            _("a cluster"),
            _("dask.distributed is not installed"),
            _("pip install 'buccaphon[cluster]', or use --workers on this machine"),
        ) from None
    import dask  # noqa: PLC0415

    dask.config.set(
        {
            "distributed.scheduler.allowed-failures": _TRIES,
            "distributed.worker.daemon": True,
            "distributed.worker.profile.enabled": False,  # nobody looks at it, and it takes a part of a core
            "distributed.admin.system-monitor.interval": "5s",
        }
    )
    return distributed
