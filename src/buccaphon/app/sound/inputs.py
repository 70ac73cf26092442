"""Choosing a microphone."""

from __future__ import annotations

import os

from buccaphon.app.sound.microphone import Microphone, SimulatedMicrophone


def choose_microphone() -> Microphone:
    """The machine's default input, or the simulated one when there is none."""
    if os.environ.get("BUCCAPHON_SOUND") == "simulated" or os.environ.get("QT_QPA_PLATFORM") == "offscreen":
        return SimulatedMicrophone()
    try:
        from buccaphon.app.sound.qt_microphone import QtMicrophone, has_input  # noqa: PLC0415  (needs libpulse)
    except ImportError:
        return SimulatedMicrophone()
    return QtMicrophone() if has_input() else SimulatedMicrophone()
