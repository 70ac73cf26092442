"""Identifying sounds with the speech net: what it says of each is added to what the acoustic model says.

A weighted sum of logarithms, as networks and Gaussian mixtures are combined in speech recognition (Bourlard and Morgan,
"Connectionist speech recognition", 1994). The weights were found by experiment (docs/alignment.md).
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import STATES, AcousticModel
from buccaphon.alignment.chain import Chain
from buccaphon.alignment.speech_net import SOUNDS

Array = npt.NDArray[np.float32]
Halves = npt.NDArray[np.float16]

# nats for each of the net's: for the first path, and in the chain
SEARCHING, PLACING = np.float32(1.0), np.float32(3.0)


def by_senone(model: AcousticModel, sounding: Halves, senones: npt.NDArray[np.int32]) -> Array:
    """(frames, senones) nats to be added to their scores. sounding: (frames, SOUNDS) as of `Evidence`."""
    numbers = _numbers_of(model.phones)[model.senone_phone[senones]]
    return SEARCHING * sounding.take(numbers, axis=1)


def by_state(model: AcousticModel, chain: Chain, sounding: Halves, weight: np.float32) -> Array:
    """(frames, width) nats to be added to a chain's scores in its band."""
    numbers = np.repeat(_numbers_of(model.phones)[chain.phone], STATES)
    states = np.minimum(chain.low[:, None] + np.arange(chain.width), len(numbers) - 1)
    return weight * np.take_along_axis(sounding[: chain.frames], numbers[states], axis=1)


@lru_cache(maxsize=2)
def _numbers_of(phones: tuple[str, ...]) -> npt.NDArray[np.intp]:
    """The number of each phone of the model among the net's sounds; noises are taken for silence, of which it says nothing
    here."""
    return np.array([SOUNDS.index(name) if name in SOUNDS else 0 for name in phones], np.intp)
