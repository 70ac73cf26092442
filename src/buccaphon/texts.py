"""Every text that people read passes here, so that it can be translated (GNU gettext, standard library).

A sentence is one text with named fields: `_("{name} of {folder}", name="call.wav", folder="takes")`. What is
made while modules are imported (titles of commands, labels of choices) is only marked, with `N_`, and translated by whoever
shows it. Ids of anything that is stored never pass here.
"""

from __future__ import annotations

import gettext as _gettext
import os
from importlib import resources

_now = _gettext.NullTranslations()


def speak(*languages: str) -> str:
    """Use the first of some languages (such as "de") that has a catalogue. Returns the one in use; "" is the English of the
    source. To be called before anything is shown. BUCCAPHON_LOCALE names another folder of catalogues."""
    global _now  # noqa: PLW0603  (one process speaks one language)
    folder = os.environ.get("BUCCAPHON_LOCALE") or str(resources.files("buccaphon").joinpath("locale"))
    _now = _gettext.translation("buccaphon", folder, list(languages), fallback=True)
    return _now.info().get("language", "")


def _(text: str, /, **fields: object) -> str:
    """A text in the language in use, with what its {fields} stand for."""
    said = _now.gettext(text) if text else text  # gettext answers "" with the head of its file
    return said.format(**fields) if fields else said


def N_(text: str) -> str:  # noqa: N802  (gettext's own name for it)
    """Marks a text for translation and returns it as it is."""
    return text


def ngettext(one: str, many: str, count: int, /, **fields: object) -> str:
    """The text for a count; {count} in it is filled in, and what its other {fields} stand for."""
    return _now.ngettext(one, many, count).format(count=count, **fields)
