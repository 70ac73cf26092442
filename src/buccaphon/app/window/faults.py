"""The one place where faults of our own are caught: an error in a slot, a paint event or a thread ends nothing.

Without a hook PyQt ends the whole application at the first of them. With this one the fault is told, with its details to be
copied, what is open is kept, and the window goes on.
"""

from __future__ import annotations

import logging
import sys
import threading
import time
import traceback
from types import TracebackType

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.about import versions
from buccaphon.log import last_lines, without_private_parts
from buccaphon.texts import _

_log = logging.getLogger("buccaphon.app")
_QUIET = 10.0  # seconds in which the same fault is told once: a paint event comes again and again


def report(details: str) -> str:
    """What is copied for whoever is to find a fault: the versions, what happened, the last lines of the log."""
    return "\n\n".join(("\n".join(versions()), without_private_parts(details), last_lines()))


class Faults(QObject):
    """happened: what went wrong in a sentence, and its details."""

    happened = pyqtSignal(str, str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._told: dict[str, float] = {}

    def install(self) -> None:
        """Catch what nobody else does, in this thread and all others."""
        sys.excepthook = self.catch
        threading.excepthook = self._catch_in_thread

    def catch(self, kind: type[BaseException], value: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, value, trace)
            return
        details = "".join(traceback.format_exception(kind, value, trace))
        sys.stderr.write(details)
        _log.error("fault", exc_info=value)
        now = time.monotonic()
        if now - self._told.get(details, -_QUIET) < _QUIET:
            return
        self._told[details] = now
        text = _("Internal error ({kind}). Your work has been backed up and you can continue.", kind=kind.__name__)
        self.happened.emit(text, report(details))

    def _catch_in_thread(self, args: threading.ExceptHookArgs) -> None:
        if args.exc_value is not None:
            self.catch(args.exc_type, args.exc_value, args.exc_traceback)
