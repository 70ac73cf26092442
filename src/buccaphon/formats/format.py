"""What a format is: its names, what it needs and leaves out, its options, and how it is written. And what a reader is."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields
from enum import Enum
from pathlib import Path
from typing import Any

from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.in_.wording import Wording

Files = Mapping[str, bytes]
"""What a format writes: by the ending that the chosen name gets, the content."""


class Needs(Enum):
    """What of a delivery a format is made from."""

    WORDS = "words"
    FRAMES = "frames"


@dataclass(frozen=True, slots=True)
class NoOptions:
    """For formats that leave nothing to choose."""


@dataclass(frozen=True, slots=True)
class Format:
    """One way to write something.

    id: as lists and settings keep it. suffix: of its files. ending: what is put behind a project's name. loses: what a file
    of this kind cannot hold, for the user. options: a record whose fields are what can be chosen, each with its usual value
    and, in its metadata, what it `says`.
    """

    id: str
    name: str
    suffix: str
    ending: str
    about: str
    loses: str
    needs: Needs
    write: Callable[[Delivery, Any], bytes]
    options: type = NoOptions

    def files(self, delivery: Delivery, options: object | None = None) -> Files:
        """All that is to be written for a delivery. Raises TargetError when the delivery lacks what the format needs."""
        lacks = {
            Needs.WORDS: (delivery.score is None, "there are no words yet", "Align the script first"),
            Needs.FRAMES: (delivery.bake is None, "there is nothing on its frames yet", "Open a recording first"),
        }
        missing, reason, remedy = lacks[self.needs]
        if missing:
            raise TargetError(self.name, reason, remedy)
        return {self.ending: self.write(delivery, options or self.options())}


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
    """Something that can be chosen about a format."""

    name: str
    type: type
    default: Any
    says: str


def options_of(options: type) -> tuple[Option, ...]:
    """What can be chosen, from a record's fields."""
    usual = options()
    return tuple(
        Option(field.name, type(getattr(usual, field.name)), getattr(usual, field.name), field.metadata["says"])
        for field in fields(options)
    )


def chosen_options(options: type, chosen: Mapping[str, str]) -> Any:
    """A record of options with some of them as text. Raises TargetError for what is none or cannot be understood."""
    known = {option.name: option for option in options_of(options)}
    values = {}
    for name, text in chosen.items():
        if name not in known:
            having = ", ".join(known) or "none"
            raise TargetError(f"option “{name}”", "this format has no such option", f"It has: {having}")
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
        reason = f"“{text}” is no {'yes or no' if option.type is bool else 'value for it'}"
        raise TargetError(f"option “{option.name}”", reason, f"It is {option.default} unless chosen") from None
