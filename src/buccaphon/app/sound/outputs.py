"""Which outputs there are, and choosing one."""

from __future__ import annotations

import os
import sys

from buccaphon.app.sound.device import Device, SimulatedDevice
from buccaphon.texts import N_

SIMULATED = N_("Simulated")


def device_names() -> list[str]:
    """The outputs there are, the default first, the simulated one last."""
    if _simulated_only():
        return [SIMULATED]
    try:
        from buccaphon.app.sound.qt_device import output_names  # noqa: PLC0415  (needs libpulse)
    except ImportError:
        return [SIMULATED]
    return [*output_names(), SIMULATED]


def choose_device(name: str = "") -> Device:
    """The output of that name, else the default one, else the simulated one."""
    names = device_names()
    wanted = name if name in names else names[0]
    if wanted == SIMULATED:
        return SimulatedDevice()
    from buccaphon.app.sound.qt_device import QtDevice  # noqa: PLC0415

    return QtDevice(wanted)


def _simulated_only() -> bool:
    return os.environ.get("BUCCAPHON_SOUND") == "simulated" or os.environ.get("QT_QPA_PLATFORM") == "offscreen"


def output_name() -> str:
    """What sound would be played on, for a process without a window."""
    from PyQt6.QtGui import QGuiApplication  # noqa: PLC0415

    os.environ.setdefault("QT_LOGGING_RULES", "qt.multimedia.*=false")  # it reports every codec that it does not find
    app = QGuiApplication.instance() or QGuiApplication([*sys.argv[:1], "-platform", "offscreen"])
    name = choose_device().name
    del app
    return name
