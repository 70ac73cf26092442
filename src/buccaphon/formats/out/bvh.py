"""BVH: angles of the jaw, and of the channels that are measured in degrees, one line a frame."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Doubles
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.shapes import JAW_ANGLE, OPENING
from buccaphon.motion.record import JAW
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_

_JOINT = """\tJOINT {name}
\t{{
\t\tOFFSET 0.000000 -0.150000 -0.100000
\t\tCHANNELS 3 Zrotation Xrotation Yrotation
\t\tEnd Site
\t\t{{
\t\t\tOFFSET 0.000000 -0.200000 0.600000
\t\t}}
\t}}
"""


@dataclass(frozen=True, slots=True)
class BvhOptions:
    """How far the jaw turns."""

    degrees: float = setting(OPENING, N_("Jaw angle"), N_("Largest angle of the jaw"), **JAW_ANGLE)

    def __post_init__(self) -> None:
        require_valid_settings(self)


def bvh(delivery: Delivery, options: BvhOptions) -> bytes:
    """ROOT head, a JOINT for the jaw and one for each channel in degrees, turned about x. The rate is the frame time's, with
    as many decimals as give 24000/1001 back."""
    bake = delivery.bake
    assert bake is not None
    own = delivery.own_channels()
    turned = {JAW: options.degrees * bake.jaw.astype(np.float64)}
    for number, channel in enumerate(own.of):
        if channel.unit == "degrees":
            turned[_joint(channel.id, turned)] = own.values[:, number].astype(np.float64)
    head = "HIERARCHY\nROOT head\n{\n\tOFFSET 0.000000 0.000000 0.000000\n"
    head += "\tCHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation\n"
    head += "".join(_JOINT.format(name=name) for name in turned) + "}\n"
    angles: Doubles = np.stack(list(turned.values()), axis=1) + 0.0
    still = "0.0 0.0 0.0 0.0 0.0 0.0"
    rows = (f"{still}{''.join(f' 0.0 {angle:.4f} 0.0' for angle in row)}\n" for row in angles.tolist())
    rate = bake.rate.value
    motion = f"MOTION\nFrames: {bake.frames}\nFrame Time: {rate.denominator / rate.numerator:.10f}\n"
    return (head + motion + "".join(rows)).encode("ascii")


def _joint(name: str, taken: dict[str, Doubles]) -> str:
    plain = re.sub(r"\W", "_", name, flags=re.ASCII)
    found, number = plain, 2
    while found in taken or found == "head":
        found, number = f"{plain}_{number}", number + 1
    return found
