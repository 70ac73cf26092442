"""Where somebody speaks, by ear alone: what opens a mouth by loudness in a noisy room, and not between the words.

Its numbers were found on clean recordings and the same ones in noise, in a room and after music: `docs/motion.md` says what
it reaches.
"""

from __future__ import annotations

import numpy as np

from buccaphon.alignment.features import condition
from buccaphon.alignment.speech_net import evidence_in, shipped_net
from buccaphon.arrays import Bools, Floats
from buccaphon.audio.recording import Recording
from buccaphon.errors import Cancelled
from buccaphon.numerics import scipy_part
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import _
from buccaphon.timing import Span

HEARD = 0.01  # seconds from one answer to the next

_SMOOTHED = 7  # answers that count together
_SURE = 1.0  # log odds that somebody speaks
_BRIDGED = 3  # answers on either side: a shut stop is not a pause
_DRAWN_IN = 1  # answers at either end
_PIECE, _AROUND = 300.0, 2.0  # seconds that are heard at a time, and of what is on either side with them


def spoken_in(recording: Recording, progress: Progress = no_progress) -> Bools:
    """(answers,) whether somebody speaks, one answer every `HEARD` seconds from the first moment on; all True while there is
    no net to ask. A long recording is heard piece by piece, in bounded memory. Raises Cancelled when `progress` returns
    False.
    """
    net = shipped_net()
    if net is None:
        return np.ones(int(recording.duration / HEARD) + 1, np.bool_)
    found = list[Bools]()
    for start in np.arange(0.0, max(recording.duration, HEARD), _PIECE).tolist():

        def report(share: float, done: float = start) -> None:
            if not progress(
                (done + share * _PIECE) / max(recording.duration, done + _PIECE), _("Listening for who speaks")
            ):
                raise Cancelled

        before = min(start, _AROUND)
        part = Span(start - before, min(start + _PIECE + _AROUND, recording.duration))
        pause = evidence_in(condition(recording.part(part)), net, report).pause
        begin = round(before / HEARD)
        found.append(_speech(-pause)[begin : begin + round(_PIECE / HEARD)])
    return np.concatenate(found)


def _speech(said: Floats) -> Bools:
    """said: (answers,) log odds that somebody speaks."""
    ndimage = scipy_part("ndimage")
    sure = ndimage.uniform_filter1d(said, _SMOOTHED) > _SURE
    padded = np.pad(sure, _BRIDGED, mode="edge")
    whole = ndimage.binary_closing(padded, iterations=_BRIDGED)[_BRIDGED:-_BRIDGED]
    return np.asarray(ndimage.binary_erosion(whole, iterations=_DRAWN_IN, border_value=1), np.bool_)
