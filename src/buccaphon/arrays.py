"""What arrays of numbers are called in annotations; their shapes stand in the docstrings."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float32]
Doubles = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int_]
Bools = npt.NDArray[np.bool_]
