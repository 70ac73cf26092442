"""One weight a mouth: the exposures with a short blend, for shape keys that fade into each other."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure

_BLEND = (0.2, 0.6, 0.2)  # over the frame before, the frame and the one after


def mouth_weights(exposures: Sequence[Exposure], chart: Chart, frames: int) -> Floats:
    """(frames, mouths) weights 0..1 that sum to 1 on every frame. Contacts reach 1 on all frames of their exposure."""
    shown = np.zeros((frames, len(chart.mouths)), np.float32)
    touching = np.zeros(frames, np.bool_)
    for exposure in exposures:
        mouth = chart.index(exposure.mouth)
        shown[exposure.start : exposure.end, mouth] = 1.0
        touching[exposure.start : exposure.end] = chart.mouths[mouth].contact
    if not frames:
        return shown
    padded = np.pad(shown, ((1, 1), (0, 0)), mode="edge")
    blended = sum(share * padded[i : i + frames] for i, share in enumerate(_BLEND))
    return np.where(touching[:, None], shown, blended).astype(np.float32)
