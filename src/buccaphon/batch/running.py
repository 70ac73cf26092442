"""Running many lines: one after the other here, on several processes, or on a cluster (`dask.distributed`)."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import ExitStack
from dataclasses import dataclass
from typing import Any

from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Job, Outcome, do_line, do_line_alone, key_of
from buccaphon.errors import TargetError

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
    elif left:
        yield from _on_cluster(jobs, left, workers)


def _on_cluster(jobs: Sequence[Job], left: Sequence[int], workers: Workers) -> Iterator[tuple[int, Outcome]]:
    distributed = _distributed()
    with ExitStack() as open_until:
        if workers.address:
            try:
                client = open_until.enter_context(distributed.Client(workers.address, timeout="20s"))
            except (OSError, ValueError, TimeoutError):
                remedy = "Start one with `dask scheduler`, or leave --scheduler out"
                raise TargetError(workers.address, "no scheduler answers there", remedy) from None
        else:
            cluster = open_until.enter_context(
                distributed.LocalCluster(
                    n_workers=workers.count,
                    threads_per_worker=1,
                    processes=True,
                    dashboard_address=None,
                    silence_logs=50,
                )
            )
            client = open_until.enter_context(distributed.Client(cluster))
        futures = {client.submit(do_line_alone, jobs[number], pure=False, retries=_TRIES): number for number in left}
        for future in distributed.as_completed(list(futures)):
            number = futures.pop(future)
            if future.status == "finished":
                yield number, future.result()
            else:
                yield number, _lost(jobs[number], future)
            future.release()


def _lost(job: Job, future: Any) -> Outcome:
    problem = future.exception()
    said = f"{job.row.recording.name}: whoever worked on it was ended several times ({type(problem).__name__})"
    return Outcome(key_of(job), job.row.title, str(job.row.recording), failed=said)


def _distributed() -> Any:
    try:
        import distributed  # noqa: PLC0415  (an extra, and slow to import)
    except ImportError:
        raise TargetError(
            "several workers",
            "dask.distributed is not installed",
            "pip install 'buccaphon[cluster]', or leave --workers out",
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
