"""What is dragged between parts of the window."""

from __future__ import annotations

from PyQt6.QtGui import QDropEvent

DRAWING = "application/x-buccaphon-drawing"


def dragged_drawing(event: QDropEvent) -> str:
    """The name of the character's drawing that is dragged; '' for anything else."""
    data = event.mimeData()
    if data is None or not data.hasFormat(DRAWING):
        return ""
    return bytes(data.data(DRAWING).data()).decode("utf-8", "surrogateescape")
