"""A servo's way as a table: what a puppet's jaw is driven by."""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass, field

import numpy as np

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.motion.record import JAW


@dataclass(frozen=True, slots=True)
class ServoOptions:
    """What the servo is."""

    channel: str = field(default=JAW, metadata={"says": "the channel that drives it"})
    step_ms: int = field(default=20, metadata={"says": "milliseconds between rows"})
    closed_us: int = field(default=1500, metadata={"says": "pulse width in microseconds at the channel's minimum"})
    open_us: int = field(default=1900, metadata={"says": "pulse width in microseconds at the channel's maximum"})
    degrees: float = field(default=40.0, metadata={"says": "degrees between the two"})
    speed: float = field(default=400.0, metadata={"says": "fastest rotation, degrees per second"})

    def __post_init__(self) -> None:
        for name, least, most in (("step_ms", 1, 1000), ("closed_us", 0, 20_000), ("open_us", 0, 20_000),
                                  ("degrees", 0.1, 3600), ("speed", 1, 100_000)):  # fmt: skip
            if not least <= getattr(self, name) <= most:
                raise ValueError(f"{name} of {getattr(self, name)} is not between {least:g} and {most:g}")


def servo_csv(delivery: Delivery, options: ServoOptions) -> bytes:
    """Columns time_ms, jaw (0 to 1 of its range), angle_deg, pulse_us; rows at a fixed step from the first frame that
    is used, no faster than the servo turns. Raises TargetError when there is no such channel."""
    assert delivery.bake is not None
    found = delivery.find(options.channel)
    if found is None:
        having = ", ".join(delivery.channels().ids[:12])
        raise TargetError("Servo, CSV", f"there is no channel {options.channel}", f"There are {having} …")
    channel, values = found
    share = (values - channel.low) / max(channel.high - channel.low, 1e-9)
    rate, frames = float(delivery.bake.rate.value), len(values)
    count = math.ceil(frames / rate * 1000 / options.step_ms) + 1
    # a frame's value is that of its middle
    wanted = np.interp(np.arange(count) * options.step_ms / 1000, (np.arange(frames) + 0.5) / rate, share)
    most = options.speed / options.degrees * options.step_ms / 1000
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(["time_ms", "jaw", "angle_deg", "pulse_us"])
    at = float(wanted[0]) if frames else 0.0
    for row, goal in enumerate(wanted.tolist() if frames else []):
        at += min(max(goal - at, -most), most)
        pulse = round(options.closed_us + (options.open_us - options.closed_us) * at)
        writer.writerow([row * options.step_ms, f"{at:.4f}", f"{at * options.degrees:.2f}", pulse])
    return text.getvalue().encode()
