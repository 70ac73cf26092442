"""Where the application keeps what belongs to the user rather than to a project."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QStandardPaths


def safe_folder() -> Path:
    """For work that is not saved yet, and earlier versions of what is."""
    return Path(QStandardPaths.writableLocation(QStandardPaths.StandardLocation.AppLocalDataLocation)) / "kept"


def lexicon_path() -> Path:
    """For pronunciations that hold in every project."""
    return Path(QStandardPaths.writableLocation(QStandardPaths.StandardLocation.AppConfigLocation)) / "lexicon.txt"
