"""Scripts as plain text, and as Fountain, the open screenplay text (fountain.io/syntax)."""

from __future__ import annotations

import re
from pathlib import Path

from buccaphon.errors import ScriptError
from buccaphon.files import read_text
from buccaphon.formats.in_.wording import Wording
from buccaphon.texts import _

_HIDDEN = (("/*", "*/"), ("[[", "]]"))
_LONGEST_NAME = 120  # letters of a line that names who speaks
_HEADING = re.compile(r"^(\.[^.]|(INT|EXT|EST|INT\.?/EXT|I/E)[ .])", re.IGNORECASE)
_CHARACTER = re.compile(r"^(@.+|[^a-z]*[A-Z][^a-z]*)$")
_EXTENSION = re.compile(r"\s*\([^)]*\)\s*|\s*\^\s*$")
_EMPHASIS = re.compile(r"[*_]{1,3}(?=\S)|(?<=\S)[*_]{1,3}")


def read_plain_text(path: Path) -> Wording:
    return Wording(read_text(path, ScriptError).strip())


def _without_boneyard(text: str) -> str:
    """Without what is put aside or noted; what is opened and never shut stays."""
    for opens, shuts in _HIDDEN:
        kept, at = [], 0
        while (start := text.find(opens, at)) >= 0 and (end := text.find(shuts, start + 2)) >= 0:
            kept.append(text[at:start])
            at = end + 2
        text = "".join(kept) + text[at:]
    return text


def read_fountain(path: Path) -> Wording:
    """The dialogue of a screenplay, one line a speech, speakers in front."""
    lines = [line.rstrip() for line in _without_boneyard(read_text(path, ScriptError)).splitlines()]
    speeches: list[str] = []
    at = 0
    while at < len(lines):
        before = lines[at - 1] if at else ""
        after = lines[at + 1] if at + 1 < len(lines) else ""
        line = lines[at].strip()
        speaks = (
            len(line) <= _LONGEST_NAME
            and _CHARACTER.match(_EXTENSION.sub("", line))
            and not line.endswith("TO:")
            and not line.startswith((">", "!"))
        )
        if line and not before.strip() and after.strip() and speaks and not _HEADING.match(line):
            name = _EXTENSION.sub("", line).lstrip("@").upper()
            at += 1
            spoken = []
            while at < len(lines) and lines[at].strip():
                spoken.append(_EMPHASIS.sub("", lines[at].strip()).lstrip("~"))
                at += 1
            speeches.append(f"{name}: {' '.join(spoken)}")
        at += 1
    if not speeches:
        raise ScriptError(str(path), _("no character speaks in it"), _("Check that it is a Fountain screenplay"))
    return Wording("\n".join(speeches))
