"""Change of sample rate, by the soxr library."""

from __future__ import annotations

import numpy as np
import soxr

from buccaphon.audio.recording import Samples


def resample(samples: Samples, source_rate: int, target_rate: int) -> Samples:
    """Resample along the first axis. samples: (frames,) or (frames, channels); rates in samples a second."""
    if source_rate == target_rate:
        return samples
    return np.asarray(soxr.resample(samples, source_rate, target_rate), dtype=np.float32)
