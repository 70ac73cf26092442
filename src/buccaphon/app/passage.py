"""What is copied: mouths or words, as text that any program can take and this one can read back."""

from __future__ import annotations

import json
from dataclasses import dataclass

from buccaphon.mouths.choosing import Painted
from buccaphon.timing import Span

MIME_TYPE = "application/x-buccaphon-passage+json"


@dataclass(frozen=True, slots=True)
class Passage:
    """mouths: in seconds from the start of the passage. words: as typed. Either may be empty."""

    mouths: tuple[Painted, ...] = ()
    words: str = ""

    @property
    def plain(self) -> str:
        """For other programs: the words, or a line for each mouth."""
        return self.words or "\n".join(f"{p.span.start:.3f}\t{p.span.end:.3f}\t{p.mouth}" for p in self.mouths)


def written(passage: Passage) -> bytes:
    mouths = [[p.span.start, p.span.end, p.mouth] for p in passage.mouths]
    return json.dumps({"mouths": mouths, "words": passage.words}).encode()


def parsed(data: bytes) -> Passage | None:
    """What `written` wrote; None when it is something else."""
    try:
        read = json.loads(data)
        mouths = tuple(Painted(Span(float(start), float(end)), str(name)) for start, end, name in read["mouths"])
        return Passage(mouths, str(read["words"]))
    except (ValueError, KeyError, TypeError):
        return None
