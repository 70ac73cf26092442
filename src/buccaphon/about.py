"""What this copy is made of: the versions of all that it stands on, for `--version -v` and for reports of faults."""

from __future__ import annotations

import platform
import re
from importlib.metadata import PackageNotFoundError, requires, version

from buccaphon import __version__
from buccaphon.texts import _

_NAME = re.compile(r"[\w.-]+")


def versions() -> list[str]:
    """Lines: Buccaphon, Python, the system, each library that it requires."""
    lines = [f"Buccaphon {__version__}", f"Python {platform.python_version()} on {platform.platform()}"]
    return [*lines, *(f"{name} {_version(name)}" for name in _libraries())]


def devices() -> list[str]:
    """Lines: the renderer of models and the sound output, as they would be chosen now; slow, for both are opened."""
    return [_("Models: {renderer}", renderer=_renderer()), _("Sound: {device}", device=_sound())]


def _libraries() -> list[str]:
    try:
        named = requires("buccaphon") or []
    except PackageNotFoundError:  # run from a checkout
        return []
    plain = (line for line in named if "extra ==" not in line)
    return sorted({found[0] for line in plain if (found := _NAME.match(line))}, key=str.lower)


def _version(name: str) -> str:
    try:
        return version(name)
    except PackageNotFoundError:
        return "missing"


def _renderer() -> str:
    from buccaphon.painting.characters.light import opengl_name  # noqa: PLC0415  (loads Qt)

    return opengl_name()


def _sound() -> str:
    from buccaphon.app.sound.outputs import output_name  # noqa: PLC0415  (loads Qt)

    return output_name()
