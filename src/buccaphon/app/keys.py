"""Which key does what: the commands' own keys, and what a user has made of them. No widgets in here."""

from __future__ import annotations

import html
import json
from collections.abc import Sequence
from dataclasses import dataclass, field

from buccaphon.app.commands import COMMANDS, Command
from buccaphon.errors import InputError
from buccaphon.mouths.chart import KEYS

_KNOWN = {command.id: command for command in COMMANDS}


class KeysError(InputError):
    """A set of keys cannot be used."""


@dataclass(frozen=True)
class KeySet:
    """changed: commands with other keys than their own, by id; none means that a command has no key."""

    changed: dict[str, tuple[str, ...]] = field(default_factory=dict)

    def of(self, command: Command) -> tuple[str, ...]:
        return self.changed.get(command.id, command.keys)

    def taken_by(self, key: str, but: str = "") -> str:
        """The label of what a key does already, other than the command `but`; '' when it is free."""
        for command in COMMANDS:
            if command.id != but and key in self.of(command):
                return command.label
        return "Paint a mouth" if key.lower() in KEYS else ""

    def with_key(self, ident: str, key: str) -> KeySet:
        """A command with another key, which whoever had it loses; '' for none. Keys that paint mouths stay with them."""
        if key and key.lower() in KEYS:
            raise KeysError(f"the key {key}", "it paints a mouth", "Choose another, or one with Ctrl, Alt or Shift")
        changed = dict(self.changed)
        for command in COMMANDS:
            if key and key in self.of(command):
                changed[command.id] = tuple(other for other in self.of(command) if other != key)
        changed[ident] = (key,) if key else ()
        return KeySet({i: keys for i, keys in changed.items() if keys != _KNOWN[i].keys})

    def to_text(self) -> str:
        return json.dumps({"keys": {ident: list(keys) for ident, keys in self.changed.items()}}, indent=1) + "\n"


def read_keys(text: str, subject: str) -> KeySet:
    """A set from text; commands that are not known here are left out. Raises KeysError when it cannot be understood."""
    try:
        entries = json.loads(text)["keys"]
        changed = {ident: tuple(map(str, keys)) for ident, keys in entries.items() if ident in _KNOWN}
    except (ValueError, KeyError, TypeError, AttributeError):
        raise KeysError(subject, "it is not a set of keys", "Choose a file that was saved as one") from None
    given = [key for keys in changed.values() for key in keys]
    found = KeySet(changed)
    for command in COMMANDS:
        if command.id not in changed:
            given += command.keys
    twice = sorted({key for key in given if given.count(key) > 1})
    if twice:
        raise KeysError(subject, f"{', '.join(twice)} would do two things at once", "Mend the file or choose another")
    return found


def sheet(keys: KeySet, mouths: Sequence[str]) -> str:
    """All keys on a page to print, as HTML, group by group."""
    groups = dict.fromkeys(command.group for command in COMMANDS)
    rows = {
        group: [(command.label, ", ".join(keys.of(command))) for command in COMMANDS if command.group == group]
        for group in groups
    }
    rows["Mouths"] = [(f"Paint {mouth}", key.upper()) for mouth, key in zip(mouths, KEYS, strict=False)]
    parts = ["<h1>Buccaphon: the keys</h1>"]
    for group, entries in rows.items():
        lines = "".join(
            f"<tr><td>{html.escape(label)}</td><td align='right'><b>{html.escape(key)}</b></td></tr>"
            for label, key in entries
            if key
        )
        parts.append(f"<h3>{group}</h3><table width='100%' cellpadding='2'>{lines}</table>")
    return "\n".join(parts)
