"""The widgets' style: palette, fonts and style sheet in a theme's colours."""

from __future__ import annotations

import re
from dataclasses import fields
from importlib import resources
from pathlib import Path

from PyQt6.QtGui import QColor, QPalette
from PyQt6.QtWidgets import QApplication

from buccaphon.painting.theme import SERIF, Theme, load_fonts, sans

_PICTURES = Path(__file__).with_name("pictures")


def dress(app: QApplication, theme: Theme) -> None:
    """Give the application its fonts and palette; the style sheet is the window's, see `style_sheet`."""
    load_fonts()
    if app.style().name() != "fusion":  # setting it again would fit every widget anew
        app.setStyle("Fusion")
    app.setFont(sans(13))
    palette = QPalette()
    for role, color in (
        (QPalette.ColorRole.Window, theme.panel),
        (QPalette.ColorRole.WindowText, theme.ink),
        (QPalette.ColorRole.Base, theme.paper),
        (QPalette.ColorRole.Text, theme.ink),
        (QPalette.ColorRole.Button, theme.paper),
        (QPalette.ColorRole.ButtonText, theme.ink),
        (QPalette.ColorRole.Highlight, theme.playhead),
        (QPalette.ColorRole.HighlightedText, theme.paper),
        (QPalette.ColorRole.ToolTipBase, theme.ink),
        (QPalette.ColorRole.ToolTipText, theme.paper),
        (QPalette.ColorRole.PlaceholderText, theme.ink_soft),
    ):
        palette.setColor(role, QColor(color))
    app.setPalette(palette)


def style_sheet(theme: Theme) -> str:
    """That of sheet.qss, with the theme's colours in it."""
    text = resources.files("buccaphon.app.style").joinpath("sheet.qss").read_text("utf-8")
    known = {field.name: getattr(theme, field.name) for field in fields(Theme)}
    known |= {"folder": str(_PICTURES), "serif": SERIF}
    return re.sub(r"@(\w+)@", lambda found: known[found[1]], text)
