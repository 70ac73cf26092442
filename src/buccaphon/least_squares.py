"""Non-negative least squares for small matrices. SciPy's take a third of a second to load, and the first picture of a project
would wait for them."""

from __future__ import annotations

import numpy as np

from buccaphon.arrays import Doubles

_NEARLY = 1e-12  # of the largest number: no more than rounding
_ROUNDS = 3  # for each unknown, as SciPy has it; more go round in circles, and what was found by then is as near


def non_negative_least_squares(matrix: Doubles, wanted: Doubles) -> Doubles:
    """(n,) x >= 0 that brings matrix (m, n) times x nearest to `wanted` (m,) (Lawson and Hanson, "Solving least squares
    problems", 1974, chapter 23)."""
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
