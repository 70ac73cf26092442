"""Which key does what: the commands' own keys, and the user's changes to them."""

from __future__ import annotations

import html
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Protocol

from PyQt6.QtGui import QKeySequence

from buccaphon.app.settings import KEYS
from buccaphon.errors import BuccaphonError, InputError
from buccaphon.texts import _

PAINTS = "paint-"  # how the ids of commands begin that paint a mouth of the chart, by its number


_RENAMED = {
    "next-mark": "next-issue", "previous-mark": "previous-issue", "mend-mark": "fix-issue", "mend-marks": "fix-issues",
    "leave-mark": "ignore-issue", "place-left-over": "place-unplaced",
}  # fmt: skip
"""Ids of commands in sets of keys that earlier versions wrote."""


class Keyed(Protocol):
    """What keys are for: a command."""

    @property
    def id(self) -> str: ...
    @property
    def group(self) -> str: ...
    @property
    def label(self) -> str: ...
    @property
    def keys(self) -> tuple[str, ...]: ...


class KeysError(InputError):
    """A set of keys cannot be used."""


@dataclass(frozen=True)
class KeySet:
    """commands: all there are. changed: those with other keys than their own, by id; none means that a command has no key."""

    commands: tuple[Keyed, ...]
    changed: dict[str, tuple[str, ...]] = field(default_factory=dict)

    def of(self, command: Keyed) -> tuple[str, ...]:
        return self.changed.get(command.id, command.keys)

    def taken_by(self, key: str, but: str = "") -> str:
        """The label of what a key does already, other than the command `but`; '' when it is free."""
        for command in self.commands:
            if command.id != but and key in self.of(command):
                return command.label
        return ""

    def with_key(self, ident: str, key: str) -> KeySet:
        """A command with another key, which whoever had it loses; '' for none."""
        changed = dict(self.changed)
        for command in self.commands:
            if key and key in self.of(command):
                changed[command.id] = tuple(other for other in self.of(command) if other != key)
        changed[ident] = (key,) if key else ()
        own = {command.id: command.keys for command in self.commands}
        return KeySet(self.commands, {i: keys for i, keys in changed.items() if keys != own[i]})

    def to_text(self) -> str:
        return json.dumps({"keys": {ident: list(keys) for ident, keys in self.changed.items()}}, indent=1) + "\n"


def read_keys(commands: tuple[Keyed, ...], text: str, subject: str) -> KeySet:
    """A set from text; commands that are not known here are left out. Raises KeysError when it cannot be understood."""
    known = {command.id for command in commands}
    try:
        entries = {_RENAMED.get(ident, ident): keys for ident, keys in json.loads(text)["keys"].items()}
        changed = {ident: tuple(map(str, keys)) for ident, keys in entries.items() if ident in known}
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        raise KeysError(
            subject, _("it is not a shortcut file"), _("Choose a file that “Save shortcuts” wrote")
        ) from None
    given = [key for keys in changed.values() for key in keys]
    for command in commands:  # sets of before may have keys that paint mouths now
        if command.id.startswith(PAINTS) and command.id not in changed and set(command.keys) & set(given):
            changed[command.id] = ()
    for command in commands:
        if command.id not in changed:
            given += command.keys
    twice = sorted({key for key in given if given.count(key) > 1})
    if twice:
        raise KeysError(
            subject,
            _("{names} is assigned to two commands", names=", ".join(twice)),
            _("Correct the file or choose another"),
        )
    return KeySet(commands, changed)


class Shortcuts:
    """The set in use, remembered from session to session. use_on: puts it on the window's actions."""

    def __init__(self, commands: tuple[Keyed, ...], use_on: Callable[[KeySet], None]) -> None:
        self.commands, self._use_on = commands, use_on
        self.keys = self._remembered()

    def use(self, keys: KeySet) -> None:
        """Take on a set of keys and remember it."""
        self.keys = keys
        KEYS.write(keys.to_text())
        self._use_on(keys)

    def written(self, ident: str) -> str:
        """The first key of a command as it is written on keyboards here; '' for none."""
        command = next(command for command in self.commands if command.id == ident)
        keys = self.keys.of(command)
        return QKeySequence(keys[0]).toString(QKeySequence.SequenceFormat.NativeText) if keys else ""

    def _remembered(self) -> KeySet:
        usual = KeySet(self.commands)
        try:
            return read_keys(self.commands, KEYS.read() or usual.to_text(), _("the settings"))
        except BuccaphonError:
            return usual


def painting_keys(keys: KeySet) -> tuple[str, ...]:
    """The key of each mouth of a chart, in their order; '' for none."""
    paint = (command for command in keys.commands if command.id.startswith(PAINTS))
    return tuple((keys.of(command) or ("",))[0] for command in paint)


def page_of_keys(keys: KeySet, mouths: Sequence[str]) -> str:
    """All keys on a page to print, as HTML, group by group."""
    groups = dict.fromkeys(command.group for command in keys.commands)
    rows = {
        group: [
            (command.label, ", ".join(keys.of(command)))
            for command in keys.commands
            if command.group == group and not command.id.startswith(PAINTS)
        ]
        for group in groups
    }
    rows[_("Mouths of the chart")] = [
        (_("Paint {mouth}", mouth=mouth), key) for mouth, key in zip(mouths, painting_keys(keys), strict=False) if key
    ]
    parts = [f"<h1>{_('Buccaphon: keyboard shortcuts')}</h1>"]
    for group, entries in rows.items():
        lines = "".join(
            f"<tr><td>{html.escape(label)}</td><td align='right'><b>{html.escape(key)}</b></td></tr>"
            for label, key in entries
            if key
        )
        parts.append(f"<h3>{html.escape(_(group))}</h3><table width='100%' cellpadding='2'>{lines}</table>")
    return "\n".join(parts)
