"""Pictures without a window: for the command line, with no display needed."""

from __future__ import annotations

import os

from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication

from buccaphon.audio.peaks import Peaks
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.pictures import Pictures
from buccaphon.painting.pictures.studio import Studio
from buccaphon.painting.theme import load_fonts

_kept: list[object] = []  # the application and the studio, which must outlive the pictures


def pictures_alone(delivery: Delivery, peaks: Peaks) -> Pictures:
    """Of a delivery, painted in the thread that asks, which must be the main one. Raises KitError."""
    if not _kept:
        if QGuiApplication.instance() is None:
            os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
            _kept.append(QApplication(["buccaphon"]))
        load_fonts()
        _kept.append(Studio())
    studio = _kept[-1]
    assert isinstance(studio, Studio)
    return studio.pictures(delivery, peaks)
