"""The keyboard's focus, given back to what had it."""

from __future__ import annotations

from PyQt6 import sip
from PyQt6.QtWidgets import QWidget


def focus_again(before: QWidget | None) -> None:
    """Give the focus back to what had it, unless that has gone since: a chart that was changed draws its tiles anew."""
    if before is not None and not sip.isdeleted(before):
        before.setFocus()
