"""All formats in one place: the command line, the export panel, the documentation and the contract test read from here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Generic, TypeVar

from buccaphon.errors import TargetError
from buccaphon.formats.keys import keys_csv, keys_json
from buccaphon.formats.timings import textgrid, timings_csv, timings_json
from buccaphon.motion.bake import Bake
from buccaphon.score.records import Score

Content = TypeVar("Content")


@dataclass(frozen=True, slots=True)
class Format(Generic[Content]):
    """One way to write something. loses: what a file of this kind cannot hold, for the user."""

    suffix: str
    name: str
    about: str
    loses: str
    write: Callable[[Content], bytes]


TIMING_FORMATS: tuple[Format[Score], ...] = (
    Format(".TextGrid", "TextGrid", "Word and phone tiers, ARPAbet", "stress and confidence", textgrid),
    Format(".json", "Timings, JSON", "Words and phones with confidence", "nothing", timings_json),
    Format(".csv", "Timings, CSV", "One row a phone", "stress", timings_csv),
)

KEY_FORMATS: tuple[Format[Bake], ...] = (
    Format(".csv", "Keys, CSV", "One row a frame: mouth, jaw, weights", "the exact rate as a fraction", keys_csv),
    Format(".json", "Keys, JSON", "Keys where something changes", "phones and words", keys_json),
)


def format_for(path: Path, formats: tuple[Format[Content], ...]) -> Format[Content]:
    """The format that a file name asks for; TargetError names the known suffixes when there is none."""
    for candidate in formats:
        if candidate.suffix.lower() == path.suffix.lower():
            return candidate
    known = ", ".join(candidate.suffix for candidate in formats)
    raise TargetError(str(path), f"“{path.suffix}” is not a suffix that can be written here", f"Use {known}")
