"""What is copied: mouths or words, as text that any program can take and this one can read back."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from buccaphon.mouths.laying import Painted
from buccaphon.timing import FURTHEST

MIME_TYPE = "application/x-buccaphon-clip+json"


@dataclass(frozen=True, slots=True)
class Clip:
    """mouths: in seconds from the start of the clip. words: as typed. Either may be empty."""

    mouths: tuple[Painted, ...] = ()
    words: str = ""

    @property
    def plain(self) -> str:
        """For other programs: the words, or a line for each mouth."""
        return self.words or "\n".join(f"{p.span.start:.3f}\t{p.span.end:.3f}\t{p.mouth}" for p in self.mouths)


def write_clip(clip: Clip) -> bytes:
    return msgspec.json.encode(clip)


def parse_clip(data: bytes) -> Clip | None:
    """What `write_clip` wrote; None when it is something else."""
    try:
        clip = msgspec.json.decode(data, type=Clip)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        return None
    within = all(painted.span.start >= 0 and painted.span.end <= FURTHEST for painted in clip.mouths)
    return clip if within else None
