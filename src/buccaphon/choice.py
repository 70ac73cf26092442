"""Values of a setting that is one of several: an id, which files keep, and a label, which people read."""

from __future__ import annotations

from enum import Enum

from buccaphon.texts import _


class Choice(Enum):
    """Members are written `NAME = "id", N_("label")`; the value of a member is its id."""

    _text: str

    def __new__(cls, ident: str, text: str) -> Choice:
        made = object.__new__(cls)
        made._value_ = ident
        made._text = text
        return made

    @property
    def label(self) -> str:
        """In the language in use, in lower case unless the words are written otherwise."""
        return _(self._text)

    @property
    def title(self) -> str:
        """The label as it begins a line."""
        return self.label[:1].upper() + self.label[1:]
