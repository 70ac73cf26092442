"""Running many lines: one after the other here, on several processes, or on a cluster (`dask.distributed`)."""

from __future__ import annotations

import logging
import threading
import time
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, replace
from multiprocessing import get_context
from typing import Any

from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Job, Outcome, do_line, do_line_alone, key_of, stamp_of
from buccaphon.errors import TargetError
from buccaphon.texts import _

Told = Callable[[int, int, Outcome], None]
"""Is given how many are done, of how many, and what came of the last."""

Work = Callable[[Job], Outcome]

_TRIES = 3  # for a line whose worker was killed, and for a scheduler
_TASK, _MOST_IN_A_TASK = 0.5, 500  # seconds of work that one task is to be, and lines
_UNDER_WAY = 4  # tasks for each core
_FIRST_PATIENCE, _PATIENCE = 20.0, 120.0  # seconds for a scheduler to answer: the first time, and after it has gone


@dataclass(frozen=True, slots=True)
class Workers:
    """count: processes on this machine, each with one core; 0 works in this one, with its threads. address: of a cluster's
    scheduler instead."""

    count: int = 0
    address: str = ""


def run(jobs: Sequence[Job], ledger: Ledger, workers: Workers, told: Told, work: Work = do_line_alone) -> list[Outcome]:
    """What came of every line, in the order of the jobs; those that were done before are not done again. work: does one line,
    in another process."""
    found: dict[int, Outcome] = {}
    left: list[int] = []
    jobs = [replace(job, written=ledger.scene_digest(job.scene.name)) for job in jobs]
    for number, job in enumerate(jobs):
        before = ledger.done_with(stamp_of(job)) or ledger.done(key_of(job))
        if before is None:
            left.append(number)
        else:
            found[number] = before
            told(len(found), len(jobs), before)
    try:
        for number, outcome in _worked(jobs, left, workers, work):
            ledger.put(outcome)
            found[number] = outcome
            told(len(found), len(jobs), outcome)
    finally:
        ledger.close()
    return [found[number] for number in range(len(jobs))]


def _worked(jobs: Sequence[Job], left: Sequence[int], workers: Workers, work: Work) -> Iterator[tuple[int, Outcome]]:
    if not workers.count and not workers.address:
        for number in left:
            yield number, do_line(jobs[number])
    elif left and workers.address:
        yield from _on_cluster(jobs, left, workers.address, work)
    elif left:
        yield from _on_processes(jobs, left, workers.count, work)


def _on_processes(jobs: Sequence[Job], left: Sequence[int], count: int, do: Work) -> Iterator[tuple[int, Outcome]]:
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
                return process().submit(do, jobs[number]).result()
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


def _on_cluster(jobs: Sequence[Job], left: Sequence[int], address: str, do: Work) -> Iterator[tuple[int, Outcome]]:
    """Some lines make one task, so that what a task costs does not count; a few tasks for each core are under way. Those of a
    task that fails are done one by one. When the scheduler goes away it is waited for, and the rest is given to the next."""
    distributed, waiting = _distributed(), deque(left)
    for _rest in range(_TRIES):
        client = _client_of(distributed, address, _PATIENCE if _rest else _FIRST_PATIENCE)
        with client:
            yield from _through(distributed, client, jobs, waiting, do)
        if not waiting:
            return
    reason = _("its scheduler went away {tries} times", tries=_TRIES)
    raise TargetError(address, reason, _("Run the batch again; what is done stays done"))


def _client_of(distributed: Any, address: str, patience: float) -> Any:
    until = time.monotonic() + patience
    while True:
        try:
            return distributed.Client(address, timeout="10s")
        except (OSError, ValueError, TimeoutError) as problem:
            if isinstance(problem, ValueError) or time.monotonic() > until:  # no address, or nobody there
                remedy = _("Start one with `dask scheduler`, or leave --scheduler out; what is done stays done")
                raise TargetError(address, _("no scheduler answers there"), remedy) from None


def _through(
    distributed: Any, client: Any, jobs: Sequence[Job], waiting: deque[int], do: Work
) -> Iterator[tuple[int, Outcome]]:
    """Lines done through one client, until none is waiting or the scheduler has gone; what is not done waits then.

    A worker that is killed takes with it what else it was given. So lines of a task that fails are done one to a task, and a
    line that fails so, too, is done once more when nothing else is under way: what fails then is what kills."""
    tasks: dict[Any, list[int]] = {}
    singles, suspects = deque[int](), deque[int]()
    coming, size, alone = distributed.as_completed(), 1, set[int]()
    at_once = _UNDER_WAY * max(sum(client.ncores().values()), 1)

    def next_numbers() -> list[int]:
        if singles:
            return [singles.popleft()]
        if waiting:
            return [waiting.popleft() for _each in range(min(size, len(waiting)))]
        if suspects and not tasks:
            alone.add(suspects[0])
            return [suspects.popleft()]
        return []

    def hand_out() -> None:
        while len(tasks) < at_once and (numbers := next_numbers()):
            future = client.submit(do_lines, [jobs[number] for number in numbers], do, pure=False, retries=_TRIES)
            tasks[future] = numbers
            coming.add(future)

    hand_out()
    while tasks:
        future = next(coming)
        numbers = tasks.pop(future)
        if future.status == "finished":
            outcomes, seconds = future.result()
            size = min(max(round(_TASK * len(numbers) / max(seconds, 1e-6)), 1), _MOST_IN_A_TASK)
            yield from zip(numbers, outcomes, strict=True)
        elif future.status in ("cancelled", "lost") or client.status != "running":
            for left in (numbers, *tasks.values(), singles, suspects):
                waiting.extend(left)
            return
        elif len(numbers) > 1:
            singles.extend(numbers)
        elif numbers[0] in alone:
            yield numbers[0], _lost(jobs[numbers[0]], type(future.exception()).__name__)
        else:
            suspects.extend(numbers)
        future.release()
        hand_out()


def do_lines(jobs: Sequence[Job], do: Work) -> tuple[list[Outcome], float]:
    """Some lines one after the other, and the seconds that they took."""
    begun = time.perf_counter()
    return [do(job) for job in jobs], time.perf_counter() - begun


def _lost(job: Job, problem: str) -> Outcome:
    said = _("{name}: its worker process died several times ({reason})", name=job.row.recording.name, reason=problem)
    return Outcome(key_of(job), job.title, str(job.row.recording), failed=said)


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

    for name in [each for each in logging.root.manager.loggerDict if each.startswith("distributed")]:
        logging.getLogger(name).setLevel(logging.CRITICAL)  # what goes wrong is said in sentences, here
    dask.config.set(
        {
            "distributed.scheduler.allowed-failures": _TRIES,
            "distributed.worker.daemon": True,
            "distributed.worker.profile.enabled": False,  # nobody looks at it, and it takes a part of a core
            "distributed.admin.system-monitor.interval": "5s",
        }
    )
    return distributed
