"""The length of the speaker's vocal tract: how far the resonances of a voice lie above or below those the model knows.

Lee and Rose, "Speaker normalization using efficient frequency warping procedures" (1996): of a few warps of the bands, the
one under which the sounds that were found are likeliest.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import AcousticModel
from buccaphon.alignment.features import FRAME_SECONDS, condition, features_of
from buccaphon.alignment.hearing import Heard, hushes_of
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.recording import Recording
from buccaphon.timing import Span

STEP, LEAST, MOST = 0.04, 0.76, 1.28  # of the warps that are tried
_LEAST_FRAMES, _MOST_FRAMES = 100, 500  # of speech to judge by; of the recording that is looked at for it


def fit_voice(
    model: AcousticModel, heard: Heard, request: AlignmentRequest, begin: int, senones: npt.NDArray[np.int32]
) -> bool:
    """Find the warp by a stretch that was aligned, and hear the whole again through it. Returns whether anything changed.

    begin: frame of what was heard at which the stretch begins. senones: (frames,) the senone of each of its frames. Does
    nothing where there is too little speech, or the warp is known.
    """
    speech = heard.features.speech[begin : begin + len(senones)]
    if heard.warp is not None or np.count_nonzero(speech) < _LEAST_FRAMES:
        return False
    most = min(_MOST_FRAMES, len(senones))
    first = int(np.convolve(speech, np.ones(most, np.int32), "valid").argmax())  # where most is said
    part = slice(first, first + most)
    start = heard.start + (begin + first) * FRAME_SECONDS
    sound = request.recording.part(Span(start, start + most * FRAME_SECONDS))
    warp = _likeliest(model, sound, senones[part], speech[part])
    if warp == 1.0:
        heard.warp = warp
        return False
    samples = condition(request.recording.part(request.looked_at))
    again = features_of(samples, hushes_of(request.looked_at, request.not_speech), heard.nobody, warp)
    heard.features = replace(heard.features, streams=again.streams, speech=again.speech)
    heard.warp = warp  # last: who sees it in another thread hears through it as well
    return True


def _likeliest(
    model: AcousticModel, sound: Recording, senones: npt.NDArray[np.int32], speech: npt.NDArray[np.bool_]
) -> float:
    """Up or down from 1 as long as the sounds become likelier."""
    samples = condition(sound)
    frames, said = np.flatnonzero(speech), senones[speech]
    phones = model.senone_phone[said]

    def likelihood(warp: float) -> float:
        """Mean log likelihood of the frames, each under its own senone only."""
        streams, total = features_of(samples, warp=warp).streams[frames], 0.0
        for phone in np.unique(phones):
            mine = np.flatnonzero(phones == phone)
            wanted, columns = np.unique(said[mine], return_inverse=True)
            total += float(model.phone_scores(streams[mine], int(phone), wanted)[np.arange(len(mine)), columns].sum())
        return total / len(frames)

    best, found = 1.0, likelihood(1.0)
    for step in (STEP, -STEP):
        while LEAST <= (warp := round(best + step, 2)) <= MOST and (better := likelihood(warp)) > found:
            best, found = warp, better
        if best != 1.0:
            break
    return best
