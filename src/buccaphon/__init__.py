"""Buccaphon turns recorded dialogue into timed mouth animation.

    import buccaphon

    line = buccaphon.bake("call.wav", fps=24, script="Warm plums, and ripe pears!")
    buccaphon.deliver(line, ["glb", "keys-json"], "out")

docs/api.md has all of it.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

__version__ = "0.1.0"

if TYPE_CHECKING:
    from buccaphon.api import *  # noqa: F403


def __getattr__(name: str) -> Any:
    """The library is loaded when it is first used: the command and the window have ways of their own."""
    if not name.startswith("_"):
        api = import_module("buccaphon.api")
        if name in api.__all__:
            return getattr(api, name)
    raise AttributeError(f"module 'buccaphon' has no attribute {name!r}")
