"""A servo's way as a table: what a puppet's jaw is driven by."""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.motion.record import JAW
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_, _

_PULSE: dict[str, Any] = {"least": 0, "most": 20_000, "unit": "µs", "step": 10}


@dataclass(frozen=True, slots=True)
class ServoOptions:
    """What the servo is."""

    channel: str = setting(JAW, N_("Channel"), N_("The channel that drives it"), is_text=True)
    step_ms: int = setting(20, N_("Time per row"), N_("Time from row to row"), least=1, most=1000, unit="ms")
    closed_us: int = setting(1500, N_("Pulse at minimum"), N_("Pulse width at the minimum of the channel"), **_PULSE)
    open_us: int = setting(1900, N_("Pulse at maximum"), N_("Pulse width at the maximum of the channel"), **_PULSE)
    degrees: float = setting(
        40.0, N_("Angle"), N_("Rotation from minimum to maximum"), least=0.1, most=3600.0, unit="°", decimals=1
    )
    speed: float = setting(
        400.0,
        N_("Maximum speed"),
        N_("Fastest rotation of the servo"),
        least=1.0,
        most=100_000.0,
        unit=N_("° per s"),
        step=10,
    )

    def __post_init__(self) -> None:
        require_valid_settings(self)


def servo_csv(delivery: Delivery, options: ServoOptions) -> bytes:
    """Columns time_ms, jaw (0 to 1 of its range), angle_deg, pulse_us; rows at a fixed step from the first frame that
    is used, no faster than the servo turns. Raises TargetError when there is no such channel."""
    assert delivery.bake is not None
    found = delivery.find(options.channel)
    if found is None:
        having = ", ".join(delivery.channels().ids[:12])
        raise TargetError(
            _("Servo, CSV"),
            _("there is no channel {channel}", channel=options.channel),
            _("There are {names} …", names=having),
        )
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
