"""Importing SciPy modules on first use, because they are slow to import; and one at a time, for two threads that
import parts that need each other find them half done."""

from __future__ import annotations

import importlib
import threading
from typing import Any

_LOCK = threading.RLock()


def scipy_part(name: str) -> Any:
    """A part of SciPy by its name: "signal", "spatial.transform"."""
    with _LOCK:
        return importlib.import_module(f"scipy.{name}")
