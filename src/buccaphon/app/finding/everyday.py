"""The words of everyday by which commands, fields and formats are found, as data."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources


@cache
def everyday_words() -> dict[str, str]:
    """By what is found: 'command ID', 'field LABEL' or 'format ID'; the words, in small letters, with spaces between."""
    text = resources.files(__package__).joinpath("everyday.toml").read_text("utf-8")
    tables = tomllib.loads(text)
    return {f"{kind} {name}": words.lower() for kind, table in tables.items() for name, words in table.items()}
