"""Timers: once, a while after something; or again and again."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer


def later(parent: QObject, milliseconds: int, call: Callable[[], object]) -> QTimer:
    """Calls once, so long after it was started last."""
    timer = every(parent, milliseconds, call)
    timer.setSingleShot(True)
    return timer


def every(parent: QObject, milliseconds: int, call: Callable[[], object]) -> QTimer:
    """Calls again and again while it runs."""
    timer = QTimer(parent)
    timer.setInterval(milliseconds)
    timer.timeout.connect(call)
    return timer
