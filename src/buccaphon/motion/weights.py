"""One weight a mouth, for shape keys that fade into each other: each sound's pose solved onto the chart once, and blended
by the shares of the sounds. Without words: the exposures with a short blend.

Non-negative least squares (Lawson and Hanson, "Solving least squares problems", 1974), poses scaled by how visible each
part is, with one more row that pulls towards few and small weights.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from buccaphon.arrays import Floats
from buccaphon.least_squares import non_negative_least_squares
from buccaphon.motion.pose_channels import BY_APERTURE, Posed
from buccaphon.motion.targets import BITE, LIPS, REST, TARGET_PARTS, Piece
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.pose import ROUNDED_GAP, VISIBILITY, Pose

_BLEND = (0.2, 0.6, 0.2)  # over the frame before, the frame and the one after
_VISIBLE = np.sqrt(VISIBILITY)
_PULL = 0.1  # towards few and small weights, as in kits/model/solving.py
_LIPS_POSE, _BITE_POSE = Pose(press=1.0), Pose(bite=1.0, teeth=0.6)

Poses = tuple[Pose, ...]


def weights_of(posed: Posed, chart: Chart) -> Floats:
    """(frames, mouths) weights 0..1 that sum to 1 on every frame: what the sounds do not take is rest. A mouth that opens
    less than usual goes towards rest."""
    poses = tuple(mouth.pose for mouth in chart.mouths)
    solved = _solved_for(poses, chart.rests)
    of_each = np.array([solved[piece] for piece in posed.line.pieces]).take(posed.line.of, axis=0)
    found = posed.shares.blend(BY_APERTURE, of_each)
    found *= np.minimum(posed.size, 1.0)[:, None]
    for there, pose, kind in zip(posed.touching, (_LIPS_POSE, _BITE_POSE), (LIPS, BITE), strict=True):
        if there.any():
            found[there] = _nearest(poses, pose, kind)
    found[:, chart.rests] += np.maximum(1.0 - found.sum(axis=1), 0.0)
    return found.astype(np.float32)


class _Solved(dict[Piece, tuple[float, ...]]):
    """The weights of some mouths that come nearest to what a sound is to be; they sum to 1 at most. Solved when asked for."""

    def __init__(self, poses: Poses, rests: int) -> None:
        super().__init__()
        self._poses, self._rests = poses, rests

    def __missing__(self, piece: Piece) -> tuple[float, ...]:
        self[piece] = found = self._solve(piece)
        return found

    def _solve(self, piece: Piece) -> tuple[float, ...]:
        if piece.kind == REST:
            return tuple(float(number == self._rests) for number in range(len(self._poses)))
        parts = dict(zip(TARGET_PARTS, piece.target, strict=True))
        rounding = min(max(parts["round"], 0.0), 1.0)
        jaw = min(parts["aperture"] / (1 - ROUNDED_GAP * rounding), 1.0)
        shut, bitten = float(piece.kind == LIPS), float(piece.kind == BITE)
        wanted = (jaw, parts["spread"], rounding, shut, bitten, min(parts["tongue"], 1.0), parts["teeth"])
        return _nnls(self._poses, wanted)


_solved_for = lru_cache(maxsize=64)(_Solved)


@lru_cache(maxsize=64)
def _nearest(poses: Poses, pose: Pose, kind: int) -> tuple[float, ...]:
    """A contact whole: the mouth that looks most like it, among those that touch so where there are any."""
    part = "press" if kind == LIPS else "bite"
    alike = [n for n, each in enumerate(poses) if getattr(each, part) > 0.5] or list(range(len(poses)))
    best = min(alike, key=lambda n: poses[n].distance(pose))
    return tuple(float(n == best) for n in range(len(poses)))


def _nnls(poses: Poses, wanted: tuple[float, ...]) -> tuple[float, ...]:
    matrix = np.vstack(
        [np.array([pose.parts for pose in poses]).T * _VISIBLE[:, None], np.full((1, len(poses)), _PULL)]
    )
    found = non_negative_least_squares(matrix, np.concatenate([np.array(wanted) * _VISIBLE, [0.0]]))
    return tuple((found / max(float(found.sum()), 1.0)).tolist())


def mouth_weights(exposures: Sequence[Exposure], chart: Chart, first: int, end: int) -> Floats:
    """(end - first, mouths) weights 0..1 that sum to 1 on every frame, of the frames from a first up to an end, from the
    exposures alone. Contacts reach 1 on all frames of theirs."""
    if end <= first or not exposures:
        return np.zeros((max(end - first, 0), len(chart.mouths)), np.float32)
    around = np.arange(first - 1, end + 1)  # beyond the ends of all it stays as it is there
    low = max(bisect_right(exposures, first - 1, key=lambda each: each.end), 0)
    high = bisect_left(exposures, end + 1, key=lambda each: each.start)
    near = exposures[low:high]
    numbers = np.array([chart.index(each.mouth) for each in near])
    held = np.clip(np.searchsorted([each.start for each in near], around, side="right") - 1, 0, len(near) - 1)
    shown = np.eye(len(chart.mouths), dtype=np.float32)[numbers[held]]
    touching = np.array([mouth.contact for mouth in chart.mouths])[numbers[held[1:-1]]]
    count = end - first
    blended = sum(share * shown[i : i + count] for i, share in enumerate(_BLEND))
    found: Floats = np.where(touching[:, None], shown[1:-1], blended).astype(np.float32)
    return found
