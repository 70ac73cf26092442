"""Where this user has sent files: a project from somebody else writes nowhere else without being asked about."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from buccaphon.app.settings import CHOSEN, WRITTEN, Remembered

_MOST_FOLDERS, _MOST_FILES = 100, 1000


def choose(folders: Iterable[Path]) -> None:
    """Somebody said that files go there."""
    _remember(CHOSEN, folders, _MOST_FOLDERS)


def is_chosen(folder: Path) -> bool:
    """Whether it is one of these folders, or lies in one."""
    there = folder.resolve()
    return any(there.is_relative_to(known) for known in CHOSEN.read())


def wrote(files: Iterable[Path]) -> None:
    """These files come from here: they may be written again."""
    _remember(WRITTEN, files, _MOST_FILES)


def of_others(files: Iterable[Path]) -> list[Path]:
    """Those that were not written here."""
    known = set(WRITTEN.read())
    return [file for file in files if str(file.resolve()) not in known]


def _remember(setting: Remembered[list[str]], paths: Iterable[Path], most: int) -> None:
    new = [str(path.resolve()) for path in paths]
    setting.write(list(dict.fromkeys((*new, *setting.read())))[:most])
