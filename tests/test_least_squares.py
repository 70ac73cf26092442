"""What is counted here instead of by SciPy is what SciPy counts."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import nnls

from buccaphon.least_squares import non_negative_least_squares


@given(st.integers(0, 10_000), st.integers(1, 9), st.integers(1, 16))
def test_nothing_non_negative_comes_nearer(seed, rows, columns):
    rng = np.random.default_rng(seed)
    matrix, wanted = rng.normal(size=(rows, columns)).round(2), rng.normal(size=rows).round(2)
    found, (_, apart) = non_negative_least_squares(matrix, wanted), nnls(matrix, wanted)
    assert (found >= 0).all()
    assert np.linalg.norm(matrix @ found - wanted) <= apart + 1e-9
