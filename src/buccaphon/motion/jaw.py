"""How far the jaw is open on every frame by loudness alone, where there are no words."""

from __future__ import annotations

import numpy as np

from buccaphon.arrays import Floats


def jaw_from_loudness(loudness: Floats) -> Floats:
    """Jaw opening 0..1 from loudness alone, with no lag; 0 stays 0."""
    smooth = np.convolve(np.pad(loudness, 1, mode="edge"), (0.25, 0.5, 0.25), mode="valid")
    return np.where(loudness > 0, smooth, 0.0).astype(np.float32)
