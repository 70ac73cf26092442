"""Where somebody speaks, by ear alone: what opens a mouth by loudness in a noisy room, and not between the words.

Its numbers were found on clean recordings and the same ones in noise, in a room and after music: `docs/motion.md` says what
it reaches.
"""

from __future__ import annotations

import numpy as np
from scipy.ndimage import binary_closing, binary_erosion, uniform_filter1d

from buccaphon.alignment.features import condition
from buccaphon.alignment.speech_net import evidence_in, shipped_net
from buccaphon.arrays import Bools
from buccaphon.audio.recording import Recording
from buccaphon.errors import Cancelled
from buccaphon.progress import Progress, unheard

HEARD = 0.01  # seconds from one answer to the next

_SMOOTHED = 7  # answers that count together
_SURE = 1.0  # log odds that somebody speaks
_BRIDGED = 3  # answers on either side: a shut stop is not a pause
_DRAWN_IN = 1  # answers at either end


def spoken_in(recording: Recording, progress: Progress = unheard) -> Bools:
    """(answers,) whether somebody speaks, one answer every `HEARD` seconds from the first moment on; all True while there is
    no net to ask. Raises Cancelled when `progress` returns False.
    """

    def report(share: float) -> None:
        if not progress(share, "Listening for who speaks"):
            raise Cancelled

    net = shipped_net()
    if net is None:
        return np.ones(int(recording.duration / HEARD) + 1, np.bool_)
    said = -evidence_in(condition(recording), net, report).pause
    sure = uniform_filter1d(said, _SMOOTHED) > _SURE
    padded = np.pad(sure, _BRIDGED, mode="edge")
    whole = binary_closing(padded, iterations=_BRIDGED)[_BRIDGED:-_BRIDGED]
    return np.asarray(binary_erosion(whole, iterations=_DRAWN_IN, border_value=1), np.bool_)
