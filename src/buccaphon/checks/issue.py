"""A mark: one thing that would be sent back, where it is, and what would mend it."""

from __future__ import annotations

from dataclasses import dataclass

from buccaphon.choice import Choice
from buccaphon.project.edits import Edit
from buccaphon.texts import N_
from buccaphon.timing import Span


class IssueKind(Choice):
    """What can be wrong; `title` heads it in a list."""

    UNSEEN = "contact_not_visible", N_("contact not visible")
    ONE_FRAME = "mouth_for_one_frame", N_("mouth for one frame")
    BACK_AND_FORTH = "flicker", N_("flicker")
    OPEN_IN_SILENCE = "open_in_silence", N_("open in silence")
    ASTRAY = "early_or_late", N_("early or late")
    BUSY = "too_many_changes", N_("too many changes")
    FROZEN = "frozen", N_("frozen")
    UNANSWERED = "sound_without_mouth", N_("sound without a mouth")
    UNUSED = "mouth_never_used", N_("mouth never used")
    DOUBT = "uncertain_word", N_("uncertain word")
    CONTRADICTION = "painted_against_sound", N_("painted mouth contradicts its sound")
    NOT_FOUND = "word_not_found", N_("word not found")

    @property
    def is_of_choosing(self) -> bool:
        """Whether it says that mouths do not follow the words, as those of a hand need not."""
        return self in (IssueKind.UNSEEN, IssueKind.ASTRAY, IssueKind.FROZEN, IssueKind.CONTRADICTION)


@dataclass(frozen=True, slots=True)
class Issue:
    """says: a sentence. span: seconds of the recording. fix: an edit that mends it; None where only a person can. mends: what
    that does, for its button."""

    kind: IssueKind
    span: Span
    says: str
    fix: Edit | None = None
    fix_label: str = ""
