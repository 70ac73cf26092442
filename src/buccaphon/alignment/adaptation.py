"""Bending the features towards the model for one speaker and room: constrained MLLR, one full affine transform a stream.

Gales, "Maximum likelihood linear transformations for HMM-based speech recognition" (1998), section 2.2: rows of [A b] are
improved in turn, each in closed form given the others.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import FAINTEST, AcousticModel

Array = npt.NDArray[np.float32]
Doubles = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int32]

_SWEEPS = 10  # of rows: the transform stands still before that
_RIDGE = 1e-6  # of the mean square, so that it can be solved
_LEAST_FRAMES = 100  # one second; below that the 182 numbers of a transform would follow the noise


def estimate_transforms(
    model: AcousticModel, streams: Array, senones: Ints, speech: npt.NDArray[np.bool_]
) -> Array | None:
    """Estimate a transform for each stream.

    streams: (frames, 3, 13). senones: (frames,) the senone of each frame. speech: (frames,) frames to learn from.
    Returns (3, 13, 14) float32 of [A b], or None when there is too little speech.
    """
    if int(speech.sum()) < _LEAST_FRAMES:
        return None
    frames, states = streams[speech], senones[speech]
    statistics = [_statistics(model, frames[:, which], states, which) for which in range(frames.shape[1])]
    squares, crosses = (np.stack(part) for part in zip(*statistics, strict=True))
    return _solve(squares, crosses, len(frames)).astype(np.float32)


def _statistics(model: AcousticModel, frames: Array, states: Ints, which: int) -> tuple[Doubles, Doubles]:
    """The quadratic (13, 14, 14) and linear (13, 14) terms of the likelihood in each row of one stream's transform."""
    size = frames.shape[1]
    squares = np.zeros((size, size + 1, size + 1))
    crosses = np.zeros((size, size + 1))
    extended = np.concatenate([frames, np.ones((len(frames), 1), np.float32)], axis=1)
    phones = model.senone_phone[states]
    for phone in np.unique(phones):
        mine = phones == phone
        density = model.gaussian_scores(frames[mine], phone, which)
        joint = (
            np.exp(np.maximum(density - density.max(1, keepdims=True), FAINTEST)) * model.mixture[which, states[mine]]
        )
        posterior = joint / joint.sum(1, keepdims=True)
        precise = 1.0 / model.variances[phone, which]
        z = extended[mine]
        outer = (z[:, :, None] * z[:, None, :]).reshape(len(z), -1)
        squares += ((posterior @ precise).T @ outer).reshape(squares.shape)
        crosses += (posterior @ (precise * model.means[phone, which])).T @ z
    return squares, crosses


def _solve(squares: Doubles, crosses: Doubles, count: int) -> Doubles:
    """Transforms (streams, 13, 14) from the statistics of all streams, `count` frames each."""
    streams, size, width = crosses.shape
    transform = np.tile(np.eye(size, width), (streams, 1, 1))
    ridge = _RIDGE / width * np.trace(squares, axis1=2, axis2=3)[..., None, None] * np.eye(width)
    inverses = np.linalg.inv(squares + ridge)
    for _ in range(_SWEEPS):
        for d in range(size):
            cofactors = np.zeros((streams, width))
            cofactors[:, :size] = np.linalg.inv(transform[:, :, :size])[:, :, d]  # up to det A, which cancels
            lifted = np.einsum("sij,sj->si", inverses[:, d], cofactors)
            quadratic = (cofactors * lifted).sum(1)
            linear = (crosses[:, d] * lifted).sum(1)
            root = np.sqrt(linear**2 + 4 * quadratic * count)
            candidates = (-linear + np.stack([root, -root])) / (2 * quadratic)
            gains = count * np.log(np.abs(candidates * quadratic + linear)) - 0.5 * candidates**2 * quadratic
            scale = np.where(gains[0] >= gains[1], candidates[0], candidates[1])
            transform[:, d] = np.einsum("sij,sj->si", inverses[:, d], scale[:, None] * cofactors + crosses[:, d])
    return transform
