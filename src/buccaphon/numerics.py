"""SciPy's parts, imported when they are first needed, for they are slow to import; and one at a time, for two threads that
import parts that need each other find them half done. And what the first picture of a project would wait for them for."""

from __future__ import annotations

import importlib
import threading
from typing import Any

import numpy as np

from buccaphon.arrays import Doubles

_NEARLY = 1e-12  # of the largest number: no more than rounding
_ROUNDS = 3  # for each unknown, as SciPy has it; more go round in circles, and what was found by then is as near
_LOCK = threading.RLock()


def scipy_part(name: str) -> Any:
    """A part of SciPy by its name: "signal", "spatial.transform"."""
    with _LOCK:
        return importlib.import_module(f"scipy.{name}")


def non_negative_least_squares(matrix: Doubles, wanted: Doubles) -> Doubles:
    """(n,) x >= 0 that brings matrix (m, n) times x nearest to `wanted` (m,): SciPy's `nnls`, for small ones (Lawson and
    Hanson, "Solving least squares problems", 1974, chapter 23)."""
    found = np.zeros(matrix.shape[1])
    used = np.zeros(matrix.shape[1], np.bool_)
    enough = _NEARLY * max(float(np.abs(matrix.T @ wanted).max()), 1.0)
    for _ in range(_ROUNDS * len(found)):
        gain = np.where(used, -np.inf, matrix.T @ (wanted - matrix @ found))
        if gain.max() <= enough:
            break
        used[gain.argmax()] = True
        while True:
            best = np.zeros(len(found))
            best[used] = np.linalg.lstsq(matrix[:, used], wanted)[0]
            below = used & (best <= 0)
            if not below.any():
                break
            found += (best - found) * (found[below] / (found[below] - best[below])).min()
            used &= found > _NEARLY
            found[~used] = 0.0
        found = best
    return found
