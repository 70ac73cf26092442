"""How far the jaw is open on every frame by loudness alone, where there are no words."""

from __future__ import annotations

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.motion.plan import Plan
from buccaphon.motion.record import frame_middles


def jaw_alone(plan: Plan, first: int, end: int) -> Floats:
    """(end - first,) the jaw of a plan without words: what its loudness says, as wide as it is asked to open."""
    return _as_wide(plan, plan.driven_jaw[first:end], first)


def mouths_alone(plan: Plan) -> Floats:
    """(frames,) how far a held mouth is open, likewise: mouths need not be as slow as a jaw."""
    return _as_wide(plan, plan.driving, 0)


def _as_wide(plan: Plan, opening: Floats, first: int) -> Floats:
    middles = frame_middles(first, first + len(opening), plan.settings.rate)
    size = plan.settings.mouth_settings.along("opening", middles)
    return np.clip(opening * size, 0, 1).astype(np.float32)
