"""What the application remembers of its user's choices, each declared once; the one door to Qt's settings.

Each is kept as one line of JSON, whatever its type: text, a number, on or off, a list, a choice, a record. Texts and numbers
that earlier versions kept plain are read, too.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

import msgspec
from PyQt6.QtCore import QSettings, QThreadPool

from buccaphon.errors import ChannelError, ListError
from buccaphon.formats.listing import DEFAULT_LIST, ExportList, parse_list
from buccaphon.project.motion_file import UseMotion, parse_motion
from buccaphon.project.state import State
from buccaphon.texts import N_, _
from buccaphon.timing import TimeDisplay

Value = TypeVar("Value")


@dataclass(frozen=True, slots=True)
class Remembered(Generic[Value]):
    """id: as it is kept. type: of its value, which msgspec can write as JSON. says: what it is, for people."""

    id: str
    type: Any
    default: Value
    says: str

    def read(self) -> Value:
        """What is kept, or the default where there is nothing, or nothing that makes sense."""
        kept: Any = QSettings().value(self.id)
        if kept is None:
            return self.default
        try:
            found: Value = msgspec.convert(json.loads(str(kept)), self.type)
        except (ValueError, RecursionError):  # also msgspec's ValidationError
            return self._plain(kept)
        return found

    def _plain(self, kept: Any) -> Value:
        """What an earlier version kept."""
        try:
            found: Value = msgspec.convert(
                [kept] if self.type == list[str] and isinstance(kept, str) else kept, self.type
            )
        except msgspec.ValidationError:
            return self.default
        return found

    def write(self, value: Value) -> None:
        # the standard library's JSON, since names of files need not be Unicode
        QSettings().setValue(self.id, json.dumps(msgspec.to_builtins(value)))

    def write_soon(self, value: Value) -> None:
        """Off the window's thread: the disk may be slow."""
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(lambda: self.write(value))


THEME = Remembered("theme", str, "paper", N_("Theme: paper (light) or night (dark)"))
SCALE = Remembered("scale", float, 1.0, N_("Size of the interface, from the next start on"))
READING = Remembered("reading", TimeDisplay, TimeDisplay.FRAMES, N_("How the playhead's time is shown"))
KEYS = Remembered("keys", str, "", N_("Shortcuts that were changed"))
EXPORTS = Remembered("exports", str, "", N_("Export list of new projects"))
MOTION = Remembered("motion", str, "", N_("Motion settings of new projects"))
LIVE = Remembered("live", str, "", N_("Where live sending goes: host:port/prefix"))
CHOSEN = Remembered("chosen folders", list[str], list[str](), N_("Export folders that were chosen, the newest first"))
WRITTEN = Remembered("written files", list[str], list[str](), N_("Files that were exported lately, the newest first"))
DELIVER_DONE = Remembered("deliver done scenes", bool, False, N_("Whether a scene that is done is exported, too"))
RECENT = Remembered("recent", list[str], list[str](), N_("Projects that were open lately, the newest first"))


def with_default_motion(state: State) -> State:
    """A state with the motion settings that new projects begin with."""
    try:
        found = parse_motion(MOTION.read(), _("the default motion settings")) if MOTION.read() else None
    except ChannelError:  # of another version
        found = None
    return state if found is None else UseMotion(found).apply(state)


def default_exports() -> ExportList:
    """The export list that new projects begin with."""
    try:
        return parse_list(EXPORTS.read(), _("the default export list")) if EXPORTS.read() else DEFAULT_LIST
    except ListError:  # of another version
        return DEFAULT_LIST
