"""The length of the speaker's vocal tract: how far the resonances of a voice lie above or below
those of the model's training voices.

Lee and Rose, "Speaker normalization using efficient frequency warping procedures" (1996): of a few warps of the bands, the
one under which the sounds that were found are likeliest.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import AcousticModel
from buccaphon.alignment.features import condition, features_of, mel_power
from buccaphon.alignment.hearing import FAR, RecordingFeatures, hushes_of
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.alignment.reverberation import steepest_fall
from buccaphon.audio.recording import Recording
from buccaphon.timing import Span

STEP, LEAST, MOST = 0.04, 0.60, 1.52  # of the warps that are tried
_LANDMARKS = (0.76, 1.00, 1.30)  # first of all
_MUCH = 1.0  # nats a frame that one has to be likelier by: far voices are by more, a path that is partly wrong by less
_COARSE = 4  # frames of which one tells which landmark it is
_LEAST_FRAMES, _MOST_FRAMES = 100, 500  # of speech to judge by; of the recording that is looked at for it


def fit_voice(
    model: AcousticModel,
    heard: RecordingFeatures,
    request: AlignmentRequest,
    begin: int,
    senones: npt.NDArray[np.int32],
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
    start = heard.start + (begin + first) * heard.frame_seconds
    sound = request.recording.part(Span(start, start + most * heard.frame_seconds))
    warp = _likeliest(model, sound, senones[part], speech[part], heard.pace)
    if warp == 1.0:
        heard.warp = warp
        return False
    part_of_it = request.recording.part(request.looked_at)
    hushes = hushes_of(request.looked_at, request.not_speech)
    if abs(math.log(warp)) > FAR:
        heard.hear_through(warp, part_of_it, hushes)
        return True
    again = features_of(condition(part_of_it), hushes, heard.nobody, warp, pace=heard.pace)
    heard.features = replace(heard.features, streams=again.streams, speech=again.speech)
    heard.warp = warp  # last: who sees it in another thread hears through it as well
    return True


def _likeliest(
    model: AcousticModel, sound: Recording, senones: npt.NDArray[np.int32], speech: npt.NDArray[np.bool_], pace: float
) -> float:
    """The best of a few landmarks, and from there on up or down as long as the sounds become likelier: under a path that is
    partly wrong no step from 1 leads to a voice that is far."""
    samples = condition(sound)
    frames, said = np.flatnonzero(speech), senones[speech]
    fall = steepest_fall(mel_power(samples, pace=pace))  # of the room, whatever the voice

    def likelihood(warp: float, every: int = 1) -> float:
        """Mean log likelihood of the frames, each under its own senone only."""
        mine_all = said[::every]
        streams, total = features_of(samples, warp=warp, pace=pace, fall=fall).streams[frames[::every]], 0.0
        phones = model.senone_phone[mine_all]
        for phone in np.unique(phones):
            mine = np.flatnonzero(phones == phone)
            wanted, columns = np.unique(mine_all[mine], return_inverse=True)
            total += float(model.phone_scores(streams[mine], int(phone), wanted)[np.arange(len(mine)), columns].sum())
        return total / len(mine_all)

    marks = {warp: likelihood(warp, _COARSE) for warp in _LANDMARKS}
    best = max(marks, key=lambda warp: marks[warp])
    if marks[best] - marks[1.0] < _MUCH:
        best = 1.0
    found = likelihood(best)
    for step in (STEP, -STEP):
        begun = best
        while LEAST <= (warp := round(best + step, 2)) <= MOST and (better := likelihood(warp)) > found:
            best, found = warp, better
        if best != begun:
            break
    return best
