"""BVH: angles of the jaw, and of the channels that are measured in degrees, one line a frame."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Doubles
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.nodes import Moves, node_moves
from buccaphon.formats.out.shapes import JAW_ANGLE, OPENING
from buccaphon.motion.record import JAW
from buccaphon.numerics import scipy_part
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_

_JOINT = """\tJOINT {name}
\t{{
\t\tOFFSET 0.000000 -0.150000 -0.100000
\t\tCHANNELS {channels}
\t\tEnd Site
\t\t{{
\t\t\tOFFSET 0.000000 -0.200000 0.600000
\t\t}}
\t}}
"""
_TURNS, _SLIDES = "Zrotation Xrotation Yrotation", "Xposition Yposition Zposition"


@dataclass(frozen=True, slots=True)
class BvhOptions:
    """How far the jaw turns."""

    degrees: float = setting(OPENING, N_("Jaw angle"), N_("Largest angle of the jaw"), **JAW_ANGLE)

    def __post_init__(self) -> None:
        require_valid_settings(self)


def bvh(delivery: Delivery, options: BvhOptions) -> bytes:
    """ROOT head, a JOINT for the jaw and one for each node that a channel of one's own turns or slides. The rate is the frame
    time's, with as many decimals as give 24000/1001 back."""
    bake = delivery.bake
    assert bake is not None
    still = np.zeros((bake.frames, 3))
    jaw = still.copy()
    jaw[:, 0] = options.degrees * bake.jaw.astype(np.float64)
    joints = {JAW: Moves(turned=jaw)}
    for name, moves in node_moves(delivery).items():
        if moves.turned is not None or moves.slid is not None:
            joints[_joint(name, joints)] = moves
    head = "HIERARCHY\nROOT head\n{\n\tOFFSET 0.000000 0.000000 0.000000\n"
    head += f"\tCHANNELS 6 {_SLIDES} {_TURNS}\n"
    columns = [np.zeros((bake.frames, 6))]
    for name, moves in joints.items():
        head += _JOINT.format(name=name, channels=f"3 {_TURNS}" if moves.slid is None else f"6 {_SLIDES} {_TURNS}")
        columns += [moves.slid] if moves.slid is not None else []
        columns.append(_in_order(still if moves.turned is None else moves.turned))
    head += "}\n"
    numbers: Doubles = np.concatenate(columns, axis=1) + 0.0
    forms = ["{:.4f}" if column.any() else "{:.1f}" for column in numbers.T]
    line = " ".join(forms) + "\n"
    rows = (line.format(*row) for row in numbers.tolist())
    rate = bake.rate.value
    motion = f"MOTION\nFrames: {bake.frames}\nFrame Time: {rate.denominator / rate.numerator:.10f}\n"
    return (head + motion + "".join(rows)).encode("ascii")


def _in_order(turned: Doubles) -> Doubles:
    """(frames, 3) degrees about x, y and z as the file has them: z first, then x, then y."""
    if np.count_nonzero(turned.any(axis=0)) <= 1:  # the same whatever the order, and exact
        return turned[:, [2, 0, 1]]
    rotation = scipy_part("spatial.transform").Rotation
    found: Doubles = rotation.from_euler("XYZ", turned, degrees=True).as_euler("ZXY", degrees=True)
    return found


def _joint(name: str, taken: Collection[str]) -> str:
    plain = re.sub(r"\W", "_", name, flags=re.ASCII)
    found, number = plain, 2
    while found in taken or found == "head":
        found, number = f"{plain}_{number}", number + 1
    return found
