"""How far the jaw is open on every frame by loudness alone, where there are no words."""

from __future__ import annotations

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.motion.plan import Plan
from buccaphon.motion.record import frame_middles


def jaw_alone(plan: Plan) -> Floats:
    """(frames,) the jaw of a plan without words: what its loudness says, as wide as it is asked to open."""
    return _as_wide(plan, plan.driven_jaw)


def mouths_alone(plan: Plan) -> Floats:
    """(frames,) how far a held mouth is open, likewise: mouths need not be as slow as a jaw."""
    return _as_wide(plan, plan.driving)


def _as_wide(plan: Plan, opening: Floats) -> Floats:
    size = plan.settings.mouth_settings.along("opening", frame_middles(0, len(opening), plan.settings.rate))
    return np.clip(opening * size, 0, 1).astype(np.float32)
