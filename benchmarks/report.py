"""One line a figure; each time also in units of how fast this machine is, so that those of different machines compare."""

import time
from collections.abc import Callable
from functools import lru_cache

import numpy as np

_SECONDS = {"s": 1.0, "ms": 0.001}


def bar(name: str, value: float, unit: str, limit: float, *, at_least: bool = False) -> None:
    """Print a figure beside the limit it should keep: at most `limit`, or at least. Of a time also how many runs of the
    Python kernel it is as long as."""
    kept = value >= limit if at_least else value <= limit
    print(f"BAR {name} {value:.4g} {unit} {limit:g} {'ok' if kept else 'short'}", flush=True)
    if unit in _SECONDS:
        print(f"REL {name} {value * _SECONDS[unit] / python_kernel():.4g} python-kernels", flush=True)


def tell_machine() -> None:
    """How fast this machine is: the best of several runs of a fixed NumPy and a fixed Python kernel."""
    print(f"MACHINE numpy-kernel {1000 * numpy_kernel():.4g} ms", flush=True)
    print(f"MACHINE python-kernel {1000 * python_kernel():.4g} ms", flush=True)


@lru_cache(maxsize=1)
def python_kernel() -> float:
    """Seconds for some fixed work of plain Python: a dictionary, strings, sorting."""

    def work() -> None:
        counts: dict[str, int] = {}
        for number in range(20_000):
            word = f"w{number * 7919 % 997}"
            counts[word] = counts.get(word, 0) + number % 13
        sorted(counts.items(), key=lambda pair: (pair[1], pair[0]))

    return best(work)


@lru_cache(maxsize=1)
def numpy_kernel() -> float:
    """Seconds for some fixed work of NumPy: products, a transform, sorting, in single precision."""
    numbers = np.random.default_rng(0).standard_normal((300, 300)).astype(np.float32)

    def work() -> None:
        product = numbers @ numbers.T
        np.sort(np.abs(np.fft.rfft(product, axis=1)).ravel())

    return best(work)


def best(work: Callable[[], None], runs: int = 9) -> float:
    taken = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        taken.append(time.perf_counter() - start)
    return min(taken)
