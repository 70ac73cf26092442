"""What the application remembers of its user's ways, as data; the one door to Qt's settings."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from PyQt6.QtCore import QSettings, QThreadPool

from buccaphon.errors import ListError
from buccaphon.formats.listing import DEFAULT_LIST, ExportList, parse_list
from buccaphon.timing import TimeDisplay

Value = TypeVar("Value", str, float, list[str])


@dataclass(frozen=True, slots=True)
class Setting(Generic[Value]):
    """id: as it is kept. says: what it is, for people."""

    id: str
    type: type[Value]
    default: Value
    says: str

    def read(self) -> Value:
        """What is kept, or the default where there is nothing, or nothing that makes sense."""
        kept: Any = QSettings().value(self.id)
        if kept is None:
            return self.default
        try:
            entries: Any = [kept] if self.type is list and isinstance(kept, str) else kept
            return self.type(entries)
        except (TypeError, ValueError):
            return self.default

    def write(self, value: Value) -> None:
        QSettings().setValue(self.id, value)

    def write_soon(self, value: Value) -> None:
        """Off the window's thread: the disk may be slow."""
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(lambda: self.write(value))


THEME = Setting("theme", str, "paper", "paper by day, or night")
SCALE = Setting("scale", float, 1.0, "the size of the interface, from the next start on")
LOOK = Setting("look", str, "", "how the galley is set: lanes, heights, zoom, ink, notation")
READING = Setting("reading", str, "frames", "how the playhead's place is said")
MIRROR = Setting("mirror", str, "", "how the mirror shows the face")
KEYS = Setting("keys", str, "", "the commands whose keys were changed")
EXPORTS = Setting("exports", str, "", "the export list that new projects begin with")
LIVE = Setting("live", str, "", "where the line is sent while it plays, as host:port/prefix")
CHOSEN = Setting("chosen folders", list, [], "folders that exports were sent to by hand, the newest first")
WRITTEN = Setting("written files", list, [], "files that exports wrote lately, the newest first")
RECENT = Setting("recent", list, [], "the projects that were open lately, the newest first")


def reading_in_use() -> TimeDisplay:
    """How the playhead's place is said."""
    try:
        return TimeDisplay(READING.read())
    except ValueError:
        return TimeDisplay.FRAMES


def default_exports() -> ExportList:
    """The export list that new projects begin with."""
    try:
        return parse_list(EXPORTS.read(), "the default export list") if EXPORTS.read() else DEFAULT_LIST
    except ListError:  # of another version
        return DEFAULT_LIST


SETTINGS: tuple[Setting[str] | Setting[float] | Setting[list[str]], ...] = (
    THEME,
    SCALE,
    LOOK,
    READING,
    MIRROR,
    KEYS,
    EXPORTS,
    LIVE,
    CHOSEN,
    WRITTEN,
    RECENT,
)
