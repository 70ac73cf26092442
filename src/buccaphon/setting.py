"""A setting, declared once where its record has the field: what people call it, what it may be, how it is shown.

From a declaration come the field of a form, the entry in the palette, the check of files, and the row of docs/settings.md.
A record is a dataclass whose fields are made by `setting(…)`, or a class that has them by name in SETTINGS.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from functools import cache
from typing import Any, TypeVar

from buccaphon.choice import Choice
from buccaphon.texts import _
from buccaphon.timing import FrameRate

KEY = "setting"  # of a field's metadata
Record = TypeVar("Record")


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting:
    """label, hint: for people. change: the name of its undo step, where that is not "Change" with the label.

    Numbers: least, most: as stored. unit: as shown. scale: shown for each 1 stored. in_frames: seconds that are shown in
    frames of the scene. step, decimals: as shown. none: the label where it is None, which is allowed then; of a text, where
    it is empty.
    Choices: a class of them, or pairs of a value and its label. ends: what the ends of a slider mean, which is used then.
    is_text: anything may be written; suggestions: what is written most often. What is none of these is on or off.
    words: others that it is found by, in everyday language. weight: how much it counts in a distance between two records.
    """

    label: str
    hint: str = ""
    least: float | None = None
    most: float | None = None
    unit: str = ""
    scale: float = 1.0
    in_frames: bool = False
    step: float = 1.0
    decimals: int = 0
    none: str = ""
    choices: type[Choice] | tuple[tuple[Any, str], ...] = ()
    ends: tuple[str, str] | None = None
    is_text: bool = False
    suggestions: tuple[str, ...] = ()
    change: str = ""
    words: str = ""
    weight: float = 1.0

    @property
    def name(self) -> str:
        """As it heads a row."""
        return _(self.label)

    @property
    def is_number(self) -> bool:
        return self.least is not None and self.most is not None

    @property
    def options(self) -> tuple[tuple[Any, str], ...]:
        """The values that it can be, each with its label, where it is one of several."""
        if isinstance(self.choices, tuple):
            return tuple((value, _(label)) for value, label in self.choices)
        return tuple((each, each.title) for each in self.choices)

    def shown(self, stored: float, rate: FrameRate | None = None) -> float:
        """A stored number as people read it. rate: the scene's, for those in frames."""
        return stored * self._per_one(rate)

    def stored(self, shown: float, rate: FrameRate | None = None) -> float:
        """The number that is read so, within its range."""
        return self.within(shown / self._per_one(rate))

    def within(self, value: float) -> float:
        """The nearest number that it can be."""
        assert self.least is not None
        assert self.most is not None
        return min(max(value, self.least), self.most)

    def text(self, value: Any) -> str:
        """A stored value in words."""
        if self.choices:
            return next((label for each, label in self.options if each == value), str(value))
        if value is None:
            return _(self.none)
        if isinstance(value, bool):
            return _("on") if value else _("off")
        if not self.is_number:
            return f"{getattr(value, 'label', value)} {self.unit}".rstrip()
        scale, unit = (1000.0, "ms") if self.in_frames else (self.scale, self.unit)
        return f"{round(value * scale, 1 if self.in_frames else 3):g} {unit}".rstrip()

    def require(self, name: str, value: Any) -> None:
        """Raises ValueError for a value that it cannot be. name: of the field."""
        if not self.is_number or (value is None and self.none):
            return
        if not self.least <= value <= self.most:  # what is not a number is not within either
            raise ValueError(f"{name} is {str(value)[:20]}, but goes from {self.least:g} to {self.most:g}")

    def _per_one(self, rate: FrameRate | None) -> float:
        if not self.in_frames:
            return self.scale
        assert rate is not None
        return float(rate.value)


def setting(default: Any, label: str, hint: str = "", **more: Any) -> Any:
    """A field of a dataclass, with its default and what there is to know of it."""
    return field(default=default, metadata={KEY: Setting(label=label, hint=hint, **more)})


@cache
def _of_dataclass(kind: type) -> dict[str, Setting]:
    return {each.name: each.metadata[KEY] for each in fields(kind) if KEY in each.metadata}


def settings_of(kind: Any) -> Mapping[str, Setting]:
    """The settings of a kind of record, by the names of its fields."""
    declared: Mapping[str, Setting] | None = getattr(kind, "SETTINGS", None)
    return declared if declared is not None else _of_dataclass(kind)


def values_of(record: Any) -> dict[str, Any]:
    """The values of all settings of a record."""
    return {name: getattr(record, name) for name in settings_of(type(record))}


def require_valid_settings(record: Any) -> None:
    """Raises ValueError, which names the field, for a value out of its range."""
    for name, each in settings_of(type(record)).items():
        each.require(name, getattr(record, name))


def with_setting(record: Record, name: str, value: Any) -> Record:
    """A dataclass record with one setting changed, held to its range."""
    each, before = settings_of(type(record))[name], getattr(record, name)
    if each.is_number and value is not None:
        value = each.within(value)
        value = round(value) if type(before) is int else value
    return replace(record, **{name: value})  # type: ignore[type-var]
