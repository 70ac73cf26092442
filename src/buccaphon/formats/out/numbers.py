"""Many numbers as text, quickly: each value that occurs is written once."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt


def as_text(values: npt.NDArray[Any], decimals: int) -> npt.NDArray[Any]:
    """Text of each value, in the array's shape, with so many decimals at most: 0.5, 1, -0.0021."""
    whole = np.rint(values.astype(np.float64) * 10**decimals).astype(np.int64)
    least, most = int(whole.min(initial=0)), int(whole.max(initial=0))
    if most - least < 4 * whole.size + 1000:  # a table of all that lies between is quicker than sorting
        table, places = np.arange(least, most + 1), whole - least
    else:
        table, places = np.unique(whole, return_inverse=True)
    texts = np.array(
        [f"{number / 10**decimals:.{decimals}f}".rstrip("0").rstrip(".") for number in table.tolist()], object
    )
    found: npt.NDArray[Any] = texts[places.reshape(whole.shape)]
    return found
