"""A mark: one thing that would be sent back, where it is, and what would mend it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from buccaphon.project.edits import Edit
from buccaphon.timing import Span


class MarkKind(Enum):
    """What can be wrong. The value stands in project files; `title` heads them in a list."""

    UNSEEN = "contact not seen"
    ONE_FRAME = "mouth for one frame"
    BACK_AND_FORTH = "back and forth"
    OPEN_IN_SILENCE = "open in silence"
    ASTRAY = "early or late"
    BUSY = "too busy"
    FROZEN = "frozen"
    UNANSWERED = "sound without a mouth"
    UNUSED = "mouth never used"
    DOUBT = "word in doubt"
    CONTRADICTION = "painted against its sound"
    NOT_FOUND = "word not found"

    @property
    def is_of_choosing(self) -> bool:
        """Whether it says that mouths do not follow the words, as those of a hand need not."""
        return self in (MarkKind.UNSEEN, MarkKind.ASTRAY, MarkKind.FROZEN, MarkKind.CONTRADICTION)

    @property
    def title(self) -> str:
        return self.value[0].upper() + self.value[1:]


@dataclass(frozen=True, slots=True)
class Mark:
    """says: a sentence. span: seconds of the recording. fix: an edit that mends it; None where only a person can. mends: what
    that does, for its button."""

    kind: MarkKind
    span: Span
    says: str
    fix: Edit | None = None
    mends: str = ""
