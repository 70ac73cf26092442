"""How far the jaw is open on every frame by loudness alone, where there are no words."""

from __future__ import annotations

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.motion.plan import Plan
from buccaphon.motion.record import frame_middles


def jaw_from_loudness(loudness: Floats) -> Floats:
    """Jaw opening 0..1 from loudness alone, with no lag; 0 stays 0."""
    smooth = np.convolve(np.pad(loudness, 1, mode="edge"), (0.25, 0.5, 0.25), mode="valid")
    return np.where(loudness > 0, smooth, 0.0).astype(np.float32)


def jaw_alone(plan: Plan) -> Floats:
    """(frames,) the jaw of a plan without words: what its loudness says, as wide as it is asked to open."""
    opening = plan.settings.mouth_settings.along("opening", frame_middles(0, len(plan.driving), plan.settings.rate))
    return np.clip(jaw_from_loudness(plan.driving) * opening, 0, 1).astype(np.float32)
