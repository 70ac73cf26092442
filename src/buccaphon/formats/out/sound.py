"""The sound that belongs to the frames, as a WAV (RIFF 1.0): from the scene's first frame to its last, to the sample."""

from __future__ import annotations

import io

import numpy as np

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.texts import _

LARGEST = 0xFFFFFFFF - 8  # bytes that a WAV can say of itself
_BYTES = 3  # of a sample of 24 bits


def sound_wav(delivery: Delivery, _options: object) -> bytes:
    """24 bits at the take's own rate and with its own channels. A frame that reaches beyond the recording ends in silence."""
    import soundfile  # noqa: PLC0415  (loads libsndfile)

    bake, sound = delivery.bake, delivery.sound
    assert bake is not None
    if sound is None:
        raise TargetError(_("the sound"), _("it has no recording"), _("Open a recording first"))
    first, end = (round(frame / bake.rate.value * sound.rate) for frame in (bake.first, bake.first + bake.frames))
    part = np.asarray(sound.samples[first:end])
    if _BYTES * part.size > LARGEST:
        raise TargetError(_("the sound"), _("it would be over 4 GB"), _("Use a shorter part of it"))
    missing = [(0, end - first - len(part)), *[(0, 0)] * (part.ndim - 1)]
    made = io.BytesIO()
    soundfile.write(made, np.pad(part, missing), sound.rate, "PCM_24", format="WAV")
    return made.getvalue()
