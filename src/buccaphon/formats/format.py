"""What a format is: its names, what it needs and leaves out, its options, and how it is written. And what a reader is."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields
from enum import Enum, Flag, auto
from pathlib import Path
from typing import IO, Any

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.in_.wording import Wording
from buccaphon.progress import Progress

Stream = Callable[[IO[bytes], Progress], None]
"""Writes a large file piece by piece, telling how far it is."""

Files = Mapping[str, bytes | Stream]
"""What a format writes: by the files' names, the content."""


class Needs(Flag):
    """What of a delivery a format is made from."""

    WORDS = auto()
    FRAMES = auto()
    SOURCE = auto()
    PICTURES = auto()


_LACKS = {
    Needs.WORDS: ("score", "there are no words yet", "Align the script first"),
    Needs.FRAMES: ("bake", "it has no frames yet", "Open a recording first"),
    Needs.SOURCE: ("source", "it has no recording", "Open a recording first"),
    Needs.PICTURES: ("pictures", "pictures cannot be drawn here", "Write it from the window or by `buccaphon deliver`"),
}


@dataclass(frozen=True, slots=True)
class NoOptions:
    """For formats that leave nothing to choose."""


@dataclass(frozen=True, slots=True)
class Format:
    """One way to write something.

    id: as lists and settings keep it. suffix: of its file. ending: what is put behind a name. loses: what a file of this kind
    cannot hold, for the user. write: gives its content, or several files by name, where `suffix` is the first one's. options:
    a record whose fields are what can be chosen, each with its usual value and, in its metadata, what it `says`.
    """

    id: str
    name: str
    suffix: str
    ending: str
    about: str
    loses: str
    needs: Needs
    write: Callable[[Delivery, Any], bytes | Stream | Files]
    options: type = NoOptions

    def files(self, delivery: Delivery, options: object | None = None) -> Files:
        """All that is to be written for a delivery. Raises TargetError when the delivery lacks what the format needs."""
        for need in self.needs:
            part, reason, remedy = _LACKS[need]
            if getattr(delivery, part) is None:
                raise TargetError(self.name, reason, remedy)
        if Needs.FRAMES in self.needs and delivery.bake is not None and not delivery.bake.frames:
            raise TargetError(self.name, "the part in use is shorter than one frame", "Use a longer part of it")
        written = self.write(delivery, options or self.options())
        return written if isinstance(written, Mapping) else {f"{delivery.place.name}{self.ending}": written}


@dataclass(frozen=True, slots=True)
class Reader:
    """One way to read words, and times where the file has them."""

    id: str
    name: str
    suffixes: tuple[str, ...]
    about: str
    read: Callable[[Path], Wording]


@dataclass(frozen=True, slots=True)
class Option:
    """Something that can be chosen about a format. titled: what people call it, where that is not its name."""

    name: str
    type: type
    default: Any
    says: str
    titled: str = ""

    @property
    def title(self) -> str:
        """Its name for people."""
        return self.titled or self.name.replace("_", " ").capitalize()

    @property
    def choices(self) -> tuple[str, ...]:
        """The words that it can be, where it is one of several."""
        return tuple(each.value for each in self.type) if issubclass(self.type, Enum) else ()

    def text(self, value: Any) -> str:
        """A value as lists and the command line write it."""
        if isinstance(value, bool):
            return "yes" if value else "no"
        return str(value.value if isinstance(value, Enum) else value)


def options_of(options: type) -> tuple[Option, ...]:
    """What can be chosen, from a record's fields."""
    usual = options()
    found = []
    for field in fields(options):
        value, told = getattr(usual, field.name), field.metadata
        found.append(Option(field.name, type(value), value, told["says"], told.get("title", "")))
    return tuple(found)


def chosen_options(options: type, chosen: Mapping[str, str]) -> Any:
    """A record of options with some of them as text. Raises TargetError for what is none or cannot be understood."""
    known = {option.name: option for option in options_of(options)}
    values = {}
    for name, text in chosen.items():
        if name not in known:
            having = ", ".join(known) or "none"
            raise TargetError(f"option “{name}”", "this format has no such option", f"Its options: {having}")
        values[name] = _value(known[name], text)
    try:
        return options(**values)
    except ValueError as problem:
        raise TargetError("the options", str(problem), "Choose another value") from None


def _value(option: Option, text: str) -> Any:
    try:
        if option.type is bool:
            return {"yes": True, "no": False, "true": True, "false": False}[text.lower()]
        return option.type(text)
    except (ValueError, KeyError):
        kind = "no value for it" if not option.choices else f"none of {', '.join(option.choices)}"
        reason = f"“{text}” is {'neither yes nor no' if option.type is bool else kind}"
        raise TargetError(f"option “{option.name}”", reason, f"The default is {option.text(option.default)}") from None
